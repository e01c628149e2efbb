import type {
  Conflict,
  NewTargetNode,
  TargetNodeChange,
  TargetParts,
  TargetTree,
} from '@dravex/contract';
import {
  fiscalYearSpan,
  monthFrom,
  monthInWords,
  monthText,
  ONLY_PEOPLE_LEAVE,
  targetProblems,
  YearStandings,
  type TargetPart,
} from '@dravex/core';
import type { Plans } from '../plan/plans.ts';
import { mustPlan, type Actor } from '../people/actor.ts';
import { journaled } from '../journal/service.ts';
import { changedSince, lastChanges } from '../journal/store.ts';
import { toFirst, type Connections, type Database } from '../platform/database.ts';
import { badRequest, changedMeanwhile, conflict, notFound } from '../platform/errors.ts';
import * as store from './store.ts';
import type { Cells } from '../journal/cells.ts';
import { targetCells, targetNames } from './thing.ts';
import { entryOf, layOut, partOf } from './tree.ts';

function toColumns(part: TargetPart): { percent: string | null; amount: number | null } {
  return part.kind === 'percent'
    ? { percent: String(part.percent), amount: null }
    : { percent: null, amount: part.amount };
}

/** A fiscal year's targets with where everybody stands. Empty when no objective is set. */
export async function treeOf(
  { db }: Connections,
  plans: Plans,
  { workspaceId }: Actor,
  fiscalYear: number,
  origin: 'all' | 'books' = 'all',
): Promise<TargetTree> {
  const { plan, model } = await plans.current(workspaceId);
  const { fiscalStart, closedThrough } = plan.calendar;
  const lastYear = monthText(fiscalYearSpan(fiscalYear - 1, fiscalStart).from);
  const [rows, typed, sales] = await Promise.all([
    store.nodesOf(db, workspaceId, fiscalYear),
    lastChanges(db, workspaceId, 'target'),
    store.sellerSales(db, workspaceId, lastYear < closedThrough ? lastYear : closedThrough, origin),
  ]);
  const standings = new YearStandings(model, sales, fiscalYear, origin === 'books');
  return layOut(fiscalYear, rows, standings, model.tree, plan.currency.minorDigits, typed);
}

/** Runs a change of the tree, and writes down what became of the nodes it changes. */
function changing(
  connections: Connections,
  actor: Actor,
  fiscalYear: number,
  work: (
    tx: Database,
    rows: store.TargetRow[],
  ) => Promise<{ ids: readonly number[]; what: string }>,
): Promise<readonly number[]> {
  return journaled(connections, actor, 'targets', async (tx, record) => {
    const { workspaceId } = actor;
    const before = await store.nodesOf(tx, workspaceId, fiscalYear);
    const { ids, what } = await work(tx, before);
    const after = new Map(
      (await store.nodesById(tx, workspaceId, ids)).map((row) => [row.id, row]),
    );
    for (const id of ids) {
      const old = before.find((row) => row.id === id);
      const now = after.get(id);
      const named = now ?? old;
      if (!named) continue;
      const cells = [old, now].map((row) => (row ? targetCells(row) : null)) as [
        Cells | null,
        Cells | null,
      ];
      record.changed('target', id, ...cells, targetNames(named));
    }
    record.say(what);
    return ids;
  });
}

/** A part as the one number that it is: percent points or minor units. */
function numberOf(part: TargetPart): number {
  return part.kind === 'percent' ? part.percent : part.amount;
}

/** What clashes where a node's part is not what was seen, and not what is wanted either. */
async function staleness(
  tx: Database,
  row: store.TargetRow,
  saw: TargetPart | undefined,
  wanted: TargetPart,
  path: string,
): Promise<Conflict[]> {
  const now = partOf(row);
  const same = (part: TargetPart): boolean =>
    part.kind === now.kind && numberOf(part) === numberOf(now);
  if (!saw || same(saw) || same(wanted)) return [];
  const { workspaceId } = row;
  const cell = { workspaceId, thing: 'target', thingId: String(row.id), cell: '' };
  const last = await changedSince(tx, cell, 0);
  return [
    {
      path,
      saw: numberOf(saw),
      now: numberOf(now),
      by: last?.by ?? '',
      at: last?.at.toISOString() ?? '',
    },
  ];
}

/** Sets the year's objective in minor units; the first time it makes the top of the tree. */
export async function setObjective(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  fiscalYear: number,
  { objective, saw }: { objective: number; saw?: number | undefined },
): Promise<void> {
  const { name } = await plans.current(actor.workspaceId);
  await changing(connections, actor, fiscalYear, async (tx, rows) => {
    const { workspaceId } = actor;
    const what = `Set the objective of FY ${fiscalYear}`;
    const top = rows.find(({ parentId }) => parentId === null);
    if (top) {
      const seen = saw === undefined ? undefined : ({ kind: 'amount', amount: saw } as const);
      const part = { kind: 'amount', amount: objective } as const;
      refuse(await changePart(tx, top, part, seen, 'objective'));
      return { ids: [top.id], what };
    }
    const id = await store.insertNode(tx, {
      workspaceId,
      fiscalYear,
      parentId: null,
      kind: 'company',
      name,
      scope: [],
      seller: null,
      percent: null,
      amount: objective,
    });
    return { ids: [id], what };
  });
}

/** Puts an area or a person below a node. */
export async function addNode(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  fiscalYear: number,
  input: NewTargetNode,
): Promise<number> {
  mustPlan(actor);
  const { model } = await plans.current(actor.workspaceId);
  const sellers = await store.sellerCodes(connections.db, actor.workspaceId);
  const unknown = input.scope.find((member) => !model.tree.has(member));
  if (unknown !== undefined) {
    throw badRequest(`There is no member ${unknown}`, [
      { path: 'scope', message: `There is no member ${unknown}` },
    ]);
  }
  const [id = 0] = await changing(connections, actor, fiscalYear, async (tx, rows) => {
    const above = rows.find(({ id }) => id === input.parent);
    if (!above) throw notFound('such node in this year');
    const { parent, part, until, ...rest } = input;
    const entry = { id: 0, parent, part, ...rest, until: until === null ? null : monthFrom(until) };
    const problems = targetProblems(entry, rows.map(entryOf), model.tree, sellers);
    if (problems.length > 0) {
      throw badRequest(
        problems[0]?.message ?? '',
        problems.map(({ field, message }) => ({ path: field, message })),
      );
    }
    const id = await store.insertNode(tx, {
      workspaceId: actor.workspaceId,
      fiscalYear,
      parentId: parent,
      untilMonth: until === null ? null : toFirst(until),
      ...rest,
      ...toColumns(part),
    });
    return { ids: [id], what: `Added ${input.name} below ${above.name}` };
  });
  return id;
}

/** Renames a node or gives it another part. */
export async function changeNode(
  connections: Connections,
  actor: Actor,
  fiscalYear: number,
  id: number,
  change: TargetNodeChange,
): Promise<void> {
  await changing(connections, actor, fiscalYear, async (tx, rows) => {
    const row = rows.find((candidate) => candidate.id === id);
    if (!row) throw notFound('such node in this year');
    const { name, part, saw, until } = change;
    if (part) refuse(await changePart(tx, row, part, saw, 'part'));
    if (name !== undefined) await store.updateNode(tx, actor.workspaceId, id, { name });
    if (until !== undefined) {
      if (row.kind !== 'person') {
        throw badRequest(ONLY_PEOPLE_LEAVE, [{ path: 'until', message: ONLY_PEOPLE_LEAVE }]);
      }
      const untilMonth = until === null ? null : toFirst(until);
      await store.updateNode(tx, actor.workspaceId, id, { untilMonth });
    }
    const what = part
      ? `Changed the target of ${row.name}`
      : until === undefined
        ? `Renamed ${row.name}`
        : until === null
          ? `${row.name} stays`
          : `${row.name} leaves in ${monthInWords(monthFrom(until))}`;
    return { ids: [id], what };
  });
}

/** Gives several nodes other parts, as one act: all of them or none. */
export async function setParts(
  connections: Connections,
  actor: Actor,
  fiscalYear: number,
  { parts }: TargetParts,
): Promise<void> {
  await changing(connections, actor, fiscalYear, async (tx, rows) => {
    const byId = new Map(rows.map((row) => [row.id, row]));
    const stale: Conflict[] = [];
    for (const [place, { node, part, saw }] of parts.entries()) {
      const row = byId.get(node);
      if (!row) throw notFound('such node in this year');
      const path = `parts.${place}.part`;
      stale.push(...(await changePart(tx, row, part, saw, path)));
    }
    refuse(stale);
    const [first] = parts;
    const name = byId.get(first?.node ?? 0)?.name ?? '';
    return {
      ids: parts.map(({ node }) => node),
      what:
        parts.length === 1 ? `Changed the target of ${name}` : `Changed ${parts.length} targets`,
    };
  });
}

/**
 * Gives a node another part.
 * @param path where the part stands in what was sent
 * @returns what clashes, where the part is not what was seen; then nothing is changed
 * @throws HttpProblem 400 for a percent at the top
 */
async function changePart(
  tx: Database,
  row: store.TargetRow,
  part: TargetPart,
  saw: TargetPart | undefined,
  path: string,
): Promise<Conflict[]> {
  if (row.parentId === null && part.kind === 'percent') {
    const message = 'The target of the whole company is an amount';
    throw badRequest(message, [{ path, message }]);
  }
  const stale = await staleness(tx, row, saw, part, path);
  if (stale.length === 0) await store.updateNode(tx, row.workspaceId, row.id, toColumns(part));
  return stale;
}

/** @throws HttpProblem 409 with what clashes */
function refuse(stale: readonly Conflict[]): void {
  if (stale.length > 0) throw changedMeanwhile(stale);
}

/** Takes a node out that has nothing below it. */
export async function removeNode(
  connections: Connections,
  actor: Actor,
  fiscalYear: number,
  id: number,
): Promise<void> {
  await changing(connections, actor, fiscalYear, async (tx, rows) => {
    const row = rows.find((candidate) => candidate.id === id);
    if (!row) throw notFound('such node in this year');
    const below = rows.filter(({ parentId }) => parentId === id).length;
    if (below > 0) {
      throw conflict(`${below} parts lie below it; take them out or move them first`);
    }
    await store.deleteNode(tx, actor.workspaceId, id);
    return { ids: [id], what: `Removed ${row.name}` };
  });
}
