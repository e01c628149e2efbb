/** Changing a fiscal year's targets, node by node. */
import {
  holdsPart,
  type Conflict,
  type NewTargetNode,
  type TargetNodeChange,
  type TargetParts,
} from '@dravex/contract';
import {
  monthFrom,
  monthInWords,
  objectiveProblem,
  partProblem,
  targetProblems,
  type TargetEntry,
  type TargetMeasure,
  type TargetPart,
  type TargetProblem,
} from '@dravex/core';
import type { Plans } from '../plan/plans.ts';
import type { Actor } from '../people/actor.ts';
import { changedSince } from '../journal/store.ts';
import { toFirst, type Connections, type Database } from '../platform/database.ts';
import { badRequest, changedMeanwhile, conflict, notFound } from '../platform/errors.ts';
import { changing } from './changing.ts';
import * as store from './store.ts';
import { entryOf, objectiveAbove, objectivesAbove, partOf, rowsBelow } from './tree.ts';

/** A part in the columns in which it is kept. */
export function toColumns(part: TargetPart): { percent: string | null; amount: number | null } {
  return part.kind === 'percent'
    ? { percent: String(part.percent), amount: null }
    : { percent: null, amount: part.amount };
}

/** A part as the one number that it is: percent points or whole numbers of the measure. */
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

/** @throws HttpProblem 400 with what is wrong, at its fields */
function refuseProblems(problems: readonly TargetProblem[]): void {
  const [first] = problems;
  if (!first) return;
  throw badRequest(
    first.message,
    problems.map(({ field, message }) => ({ path: field, message })),
  );
}

/**
 * Checks a node as it would stand among those that are there.
 * @param beside a node in whose tree it is
 * @throws HttpProblem 400
 */
async function check(
  tx: Database,
  plans: Plans,
  rows: readonly store.TargetRow[],
  entry: TargetEntry,
  beside: number,
): Promise<void> {
  const [top] = rows;
  const workspaceId = top?.workspaceId ?? 0;
  const objective = objectiveAbove(rows, beside);
  const { model } = await plans.current(workspaceId);
  const unknown = entry.scope.find((member) => !model.tree.has(member));
  if (unknown !== undefined) {
    const message = `There is no member ${unknown}`;
    throw badRequest(message, [{ path: 'scope', message }]);
  }
  const entries = (objective ? rowsBelow(rows, objective.id) : []).map(entryOf);
  const known = {
    measure: objective?.measure ?? 'revenue',
    tree: model.tree,
    sellers: await store.sellerCodes(tx, workspaceId),
    accounts:
      entry.account === null ? new Set<string>() : await store.accountCodes(tx, workspaceId),
  };
  refuseProblems(targetProblems(entry, entries, known));
}

const monthOf = (text: string | null): number | null => (text === null ? null : monthFrom(text));
const firstOf = (text: string | null): string | null => (text === null ? null : toFirst(text));

/** Puts an area, a person or a part below a node. */
export async function addNode(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  fiscalYear: number,
  input: NewTargetNode,
): Promise<number> {
  const of = [input.parent];
  const [id = 0] = await changing(connections, actor, { fiscalYear, of }, async (tx, rows) => {
    const above = rows.find(({ id }) => id === input.parent);
    if (!above) throw notFound('such team or person in this year');
    const { parent, part, from, until, full, ...rest } = input;
    const entry = {
      ...rest,
      ...{ id: 0, parent, part, full, locked: false, months: null },
      ...{ from: monthOf(from), until: monthOf(until) },
    };
    await check(tx, plans, rows, entry, parent);
    const id = await store.insertNode(tx, {
      workspaceId: actor.workspaceId,
      fiscalYear,
      parentId: parent,
      fromMonth: firstOf(from),
      untilMonth: firstOf(until),
      fullCapacity: full,
      ...rest,
      ...toColumns(part),
    });
    return { ids: [id], what: `Added ${input.name} below ${above.name}` };
  });
  return id;
}

/** What a change is called. */
function whatOf(row: store.TargetRow, change: TargetNodeChange, rows: readonly store.TargetRow[]) {
  const { name } = row;
  const said: [unknown, string][] = [
    [change.part, `Changed the target of ${name}`],
    [
      change.parent,
      `Moved ${name} below ${rows.find(({ id }) => id === change.parent)?.name ?? ''}`,
    ],
    [change.name, `Renamed ${name}`],
    [change.state === 'agreed' || undefined, `Agreed the target of ${name}`],
    [change.state === 'questioned' || undefined, `Questioned the target of ${name}`],
    [change.state === 'handedOut' || undefined, `Handed out the target of ${name}`],
    [change.state === 'draft' || undefined, `Returned the target of ${name} to draft`],
    [change.locked, `${change.locked ? 'Locked' : 'Unlocked'} the target of ${name}`],
    [change.months, `Changed the months of ${name}`],
    [change.deals, `Changed the deal plan of ${name}`],
    [
      change.until,
      typeof change.until === 'string'
        ? `${name} leaves in ${monthInWords(monthFrom(change.until))}`
        : `${name} stays`,
    ],
  ];
  const several = said.filter(([is]) => is !== undefined);
  return several.length === 1 ? (several[0]?.[1] ?? '') : `Changed ${name}`;
}

/**
 * A person's rows in the other objectives of the year that say the same of when the person joins and
 * leaves: who leaves does so in all of them. Whoever holds a part only changes that.
 */
export function elsewhere(
  { role }: Pick<Actor, 'role'>,
  row: store.TargetRow,
  rows: readonly store.TargetRow[],
): store.TargetRow[] {
  const { id, kind, seller, fromMonth, untilMonth } = row;
  if (kind !== 'person' || seller === null || holdsPart(role)) return [];
  return rows.filter(
    (one) =>
      one.id !== id &&
      one.kind === 'person' &&
      one.seller === seller &&
      one.fromMonth === fromMonth &&
      one.untilMonth === untilMonth,
  );
}

/** Changes what a node is and counts, its part, months, state or deals; or moves it below another. */
export async function changeNode(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  fiscalYear: number,
  id: number,
  change: TargetNodeChange,
): Promise<void> {
  const { reason } = change;
  const of = change.parent === undefined ? [id] : [id, change.parent];
  await changing(connections, actor, { fiscalYear, of, reason }, async (tx, rows) => {
    const row = rows.find((candidate) => candidate.id === id);
    if (!row) throw notFound('such team or person in this year');
    const { parent, part, saw, from, until, full, reason: _, comment, state, ...rest } = change;
    if (parent !== undefined && row.parentId === null) {
      throw badRequest('An objective has nothing above it', [
        { path: 'parent', message: 'An objective has nothing above it' },
      ]);
    }
    if (parent !== undefined && !rows.some((one) => one.id === parent)) {
      throw notFound('such team or person in this year');
    }
    if (parent !== undefined && objectiveAbove(rows, parent)?.id !== objectiveAbove(rows, id)?.id) {
      const message = 'A team or person stays within its objective';
      throw badRequest(message, [{ path: 'parent', message }]);
    }
    if (state === 'questioned' && (comment ?? '') === '') {
      throw badRequest('Say what the question is', [
        { path: 'comment', message: 'Say what the question is' },
      ]);
    }
    if (part) {
      refuse(await staleness(tx, row, saw, part, 'part'));
      refusePart(row, part, objectiveAbove(rows, id)?.measure, 'part');
    }
    const next: store.TargetRow = {
      ...row,
      ...rest,
      parentId: parent ?? row.parentId,
      fromMonth: from === undefined ? row.fromMonth : firstOf(from),
      untilMonth: until === undefined ? row.untilMonth : firstOf(until),
      fullCapacity: full === undefined ? row.fullCapacity : full,
      state: state ?? row.state,
      comment: comment === undefined ? row.comment : comment === '' ? null : comment,
      ...(part ? toColumns(part) : {}),
    };
    const { workspaceId: __, id: ___, position: ____, ...columns } = next;
    const structural = [parent, change.scope, change.seller, change.account, from, until];
    if (structural.some((value) => value !== undefined)) {
      await check(tx, plans, rows, entryOf(next), id);
    }
    await store.updateNode(tx, actor.workspaceId, id, columns);
    const { fromMonth, untilMonth } = next;
    const moved = fromMonth !== row.fromMonth || untilMonth !== row.untilMonth;
    const twins = moved ? elsewhere(actor, row, rows) : [];
    for (const twin of twins) {
      await check(tx, plans, rows, entryOf({ ...twin, fromMonth, untilMonth }), twin.id);
      await store.updateNode(tx, actor.workspaceId, twin.id, { fromMonth, untilMonth });
    }
    return { ids: [id, ...twins.map((twin) => twin.id)], what: whatOf(row, change, rows) };
  });
}

/** Gives several nodes other parts, as one act: all of them or none. */
export async function setParts(
  connections: Connections,
  actor: Actor,
  fiscalYear: number,
  { parts, reason }: TargetParts,
): Promise<void> {
  const of = parts.map(({ node }) => node);
  await changing(connections, actor, { fiscalYear, of, reason }, async (tx, rows) => {
    const byId = new Map(rows.map((row) => [row.id, row]));
    const objectiveOf = objectivesAbove(rows);
    const stale: Conflict[] = [];
    for (const [place, { node, part, saw }] of parts.entries()) {
      const row = byId.get(node);
      if (!row) throw notFound('such team or person in this year');
      const path = `parts.${place}.part`;
      refusePart(row, part, objectiveOf(node)?.measure, path);
      stale.push(...(await staleness(tx, row, saw, part, path)));
    }
    refuse(stale);
    await store.updateParts(
      tx,
      actor.workspaceId,
      parts.map(({ node, part }) => ({ id: node, ...toColumns(part) })),
    );
    const [first] = parts;
    const name = byId.get(first?.node ?? 0)?.name ?? '';
    return {
      ids: parts.map(({ node }) => node),
      what:
        parts.length === 1 ? `Changed the target of ${name}` : `Changed ${parts.length} targets`,
    };
  });
}

/** @throws HttpProblem 400 for a percent or nothing at the top, or a percent of what does not add up */
function refusePart(
  row: store.TargetRow,
  part: TargetPart,
  measure: TargetMeasure | undefined,
  path: string,
): void {
  const message = partProblem({ parent: row.parentId, part }, measure ?? 'revenue');
  if (message !== undefined) throw badRequest(message, [{ path, message }]);
}

/** @throws HttpProblem 409 with what clashes */
function refuse(stale: readonly Conflict[]): void {
  if (stale.length > 0) throw changedMeanwhile(stale);
}

/** @throws HttpProblem 400 at its field for an objective of 0 */
export function refuseObjective(amount: number, path: string): void {
  const message = objectiveProblem(amount);
  if (message !== undefined) throw badRequest(message, [{ path, message }]);
}

/** Sets the amount of an objective that is there. @throws HttpProblem 409 where it is not what was seen */
export async function setAmount(
  tx: Database,
  row: store.TargetRow,
  amount: number,
  saw: number | undefined,
): Promise<void> {
  const part = { kind: 'amount', amount } as const;
  const seen = saw === undefined ? undefined : ({ kind: 'amount', amount: saw } as const);
  refuse(await staleness(tx, row, seen, part, 'objective'));
  await store.updateNode(tx, row.workspaceId, row.id, toColumns(part));
}

/** Takes a node out that has nothing below it. */
export async function removeNode(
  connections: Connections,
  actor: Actor,
  fiscalYear: number,
  id: number,
): Promise<void> {
  await changing(connections, actor, { fiscalYear, of: [id] }, async (tx, rows) => {
    const row = rows.find((candidate) => candidate.id === id);
    if (!row) throw notFound('such team or person in this year');
    const below = rows.filter(({ parentId }) => parentId === id).length;
    if (below > 0) {
      throw conflict(`${below} parts lie below it; remove or move them first`);
    }
    await store.deleteNodes(tx, actor.workspaceId, [id]);
    return { ids: [id], what: `Removed ${row.name}` };
  });
}
