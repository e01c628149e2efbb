/** Dividing targets anew: proposals, and taking them as one act. */
import type { TargetDivision, TargetProposal } from '@dravex/contract';
import {
  divideTarget,
  fiscalYearSpan,
  handOver,
  meaningOf,
  monthFrom,
  monthInWords,
  passDown,
  wholesIn,
  type TargetLine,
} from '@dravex/core';
import type { Plans } from '../plan/plans.ts';
import type { Actor } from '../people/actor.ts';
import { toFirst, type Connections } from '../platform/database.ts';
import { badRequest, notFound } from '../platform/errors.ts';
import { changing, dividing } from './changing.ts';
import { mustSee, ownPart } from './own-part.ts';
import { layOut } from './reading.ts';
import { elsewhere, toColumns } from './service.ts';
import * as store from './store.ts';
import { objectiveAbove, rowsBelow, type LaidOut } from './tree.ts';

/** Which node is divided anew, and how. */
export interface AskedDivision {
  readonly fiscalYear: number;
  readonly node: number;
  readonly division: TargetDivision;
}

/** What a division makes of a tree: new amounts by node. */
interface Made {
  readonly laid: LaidOut;
  readonly line: TargetLine;
  readonly amounts: ReadonlyMap<number, number>;
}

/** @throws HttpProblem 404 for a node that is not of the year; 400 for what cannot be divided */
async function divided(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  { fiscalYear, node, division }: AskedDivision,
): Promise<Made> {
  const { workspaceId } = actor;
  const all = await store.nodesOf(connections.db, workspaceId, fiscalYear);
  mustSee(await ownPart(connections.db, actor, all), node);
  const objective = objectiveAbove(all, node);
  if (!objective) throw notFound('such team or person in this year');
  const meaning = meaningOf(objective.measure);
  if (!meaning.adds) {
    throw badRequest(`A ${meaning.name.toLowerCase()} does not add up, so it cannot be divided`);
  }
  const laid = await layOut(connections, plans, actor, { fiscalYear, objective: objective.id });
  const line = laid.lines.find(({ entry }) => entry.id === node);
  if (!line) throw notFound('such team or person in this year');
  const { plan } = await plans.current(workspaceId);
  const { fiscalStart } = plan.calendar;
  const wholes = wholesIn(objective.measure, laid.minorDigits);
  const amounts = await dividing(() => amountsOf(laid, line, division, fiscalStart), wholes);
  return { laid, line, amounts };
}

function amountsOf(
  { lines, fiscalYear }: LaidOut,
  { entry, amount }: TargetLine,
  division: TargetDivision,
  fiscalStart: number,
): Map<number, number> {
  switch (division.kind) {
    case 'divide':
      if (!lines.some((line) => line.entry.parent === entry.id)) {
        throw badRequest(`Nothing lies below ${entry.name} to divide its target among`);
      }
      return divideTarget(lines, entry.id, division);
    case 'passDown':
      return new Map([
        ...(division.amount === amount ? [] : ([[entry.id, division.amount]] as const)),
        ...passDown(lines, entry.id, { was: division.was ?? amount, becomes: division.amount }),
      ]);
    case 'handOver': {
      const until = monthFrom(division.until);
      const { from: start, to } = fiscalYearSpan(fiscalYear, fiscalStart);
      if (entry.kind !== 'person' || until < start - 1 || until > to) {
        const message =
          entry.kind === 'person'
            ? `${monthInWords(until)} is not in the fiscal year`
            : 'Only a person leaves';
        throw badRequest(message, [{ path: 'until', message }]);
      }
      const { stays, amounts } = handOver(lines, entry.id, { ...division, until, start });
      return new Map([[entry.id, stays], ...amounts]);
    }
  }
}

/** What parts would become; nothing is changed. */
export async function propose(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  asked: AskedDivision,
): Promise<TargetProposal> {
  const { laid, line, amounts } = await divided(connections, plans, actor, asked);
  // Whoever leaves hands over to others, who may be in another part.
  const rows = await store.nodesOf(connections.db, actor.workspaceId, asked.fiscalYear);
  const part = await ownPart(connections.db, actor, rows);
  for (const id of amounts.keys()) mustSee(part, id);
  // What is locked beside the parts is shown, too: it is a part of the whole.
  const beside = asked.division.kind === 'divide';
  const shown = laid.lines.filter(
    ({ entry }) => amounts.has(entry.id) || (beside && entry.parent === line.entry.id),
  );
  return {
    parts: shown.map(({ entry, amount }) => ({
      node: entry.id,
      name: entry.name,
      now: amount,
      then: amounts.get(entry.id) ?? amount,
      locked: entry.locked,
    })),
  };
}

/** Divides a target anew, as one act. */
export async function divide(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  asked: AskedDivision,
  reason: string | undefined,
): Promise<void> {
  const { fiscalYear, node, division } = asked;
  const { workspaceId } = actor;
  await changing(connections, actor, { fiscalYear, of: [node], reason }, async (tx, rows) => {
    const { laid, line, amounts } = await divided({ ...connections, db: tx }, plans, actor, asked);
    // What comes to the same keeps the part that was typed.
    const now = new Map(laid.lines.map((one) => [one.entry.id, one.amount]));
    const changed = [...amounts].filter(([id, amount]) => now.get(id) !== amount);
    await store.updateParts(
      tx,
      workspaceId,
      changed.map(([id, amount]) => ({ id, ...toColumns({ kind: 'amount', amount }) })),
    );
    const leaver = division.kind === 'handOver' ? rows.find(({ id }) => id === node) : undefined;
    const twins = leaver ? elsewhere(actor, leaver, rows) : [];
    if (division.kind === 'handOver') {
      const untilMonth = toFirst(division.until);
      for (const id of [node, ...twins.map((twin) => twin.id)]) {
        await store.updateNode(tx, workspaceId, id, { untilMonth });
      }
    }
    const { name } = line.entry;
    const what = {
      divide: `Divided the target of ${name} anew`,
      passDown: `Changed the target of ${name} and what lies below it`,
      handOver: `${name} leaves; what is left of the target is divided among those who stay`,
    }[division.kind];
    const ids = [node, ...changed.map(([id]) => id), ...twins.map(({ id }) => id)];
    return { ids: [...new Set(ids)], what };
  });
}

/** Hands a target out, with all drafts below it. */
export async function handOut(
  connections: Connections,
  actor: Actor,
  fiscalYear: number,
  node: number,
): Promise<void> {
  await changing(connections, actor, { fiscalYear, of: [node] }, async (tx, rows) => {
    const own = rowsBelow(rows, node);
    const [top] = own;
    if (!top) throw notFound('such team or person in this year');
    const drafts = own.filter(({ state }) => state === 'draft');
    for (const { id } of drafts) {
      await store.updateNode(tx, actor.workspaceId, id, { state: 'handedOut' });
    }
    return {
      ids: drafts.map(({ id }) => id),
      what: `Handed out the target of ${top.name}${drafts.length > 1 ? ' and what lies below it' : ''}`,
    };
  });
}
