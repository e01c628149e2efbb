import type { ObjectiveOf, TargetTree } from '@dravex/contract';
import {
  monthFrom,
  monthText,
  targetTree,
  wholesIn,
  type MemberTree,
  type TargetEntry,
  type TargetLine,
  type TargetMeasure,
  type TargetPart,
  type YearStandings,
} from '@dravex/core';
import { fromFirst } from '../platform/database.ts';
import type { TargetRow } from './store.ts';

/** A row's part as the core has it; the objective at the top is an amount. */
export function partOf(row: Pick<TargetRow, 'percent' | 'amount'>): TargetPart {
  return row.percent !== null
    ? { kind: 'percent', percent: Number(row.percent) }
    : { kind: 'amount', amount: row.amount ?? 0 };
}

/** A row as the core has it. */
export function entryOf(row: TargetRow): TargetEntry {
  const month = (first: string | null) => (first === null ? null : monthFrom(fromFirst(first)));
  // One object for each of thousands of rows: written out, it is made in a tenth of the time.
  return {
    id: row.id,
    parent: row.parentId,
    name: row.name,
    kind: row.kind,
    scope: row.scope,
    seller: row.seller,
    account: row.account,
    ramp: row.ramp,
    cushion: row.cushion,
    locked: row.locked,
    months: row.months,
    full: row.fullCapacity,
    from: month(row.fromMonth),
    until: month(row.untilMonth),
    part: partOf(row),
  };
}

/** A top row as an objective. */
function objectiveOf(row: TargetRow): ObjectiveOf {
  const { id, objective, measure, amount } = row;
  return { id, name: objective ?? '', measure: measure ?? 'revenue', amount: amount ?? 0 };
}

/** A year's objectives, in their order. */
export const objectivesOf = (rows: readonly TargetRow[]): ObjectiveOf[] =>
  rows.filter(({ parentId }) => parentId === null).map(objectiveOf);

/** The objective that is meant where none is named: the first one of revenue, or the first. */
export const mainOf = (objectives: readonly ObjectiveOf[]): ObjectiveOf | undefined =>
  objectives.find(({ measure }) => measure === 'revenue') ?? objectives[0];

/** The rows of one tree: a node with everything below it, those above before those below. */
export function rowsBelow(rows: readonly TargetRow[], top: number): TargetRow[] {
  const below = new Map<number | null, TargetRow[]>();
  for (const row of rows) {
    const siblings = below.get(row.parentId);
    if (siblings) siblings.push(row);
    else below.set(row.parentId, [row]);
  }
  const found = rows.filter(({ id }) => id === top);
  for (const row of found) found.push(...(below.get(row.id) ?? []));
  return found;
}

/** Finds the objective in whose tree a node lies, for many nodes of the same rows. */
export function objectivesAbove(
  rows: readonly TargetRow[],
): (node: number) => ObjectiveOf | undefined {
  const byId = new Map(rows.map((row) => [row.id, row]));
  return (node) => {
    let row = byId.get(node);
    while (row && row.parentId !== null) row = byId.get(row.parentId);
    return row && objectiveOf(row);
  };
}

/** The objective in whose tree a node lies. */
export const objectiveAbove = (rows: readonly TargetRow[], node: number): ObjectiveOf | undefined =>
  objectivesAbove(rows)(node);

/** Lays the rows of one tree out, each with what it comes to. */
export const linesOf = (
  rows: readonly TargetRow[],
  standings: YearStandings,
  tree: MemberTree,
  minorDigits: number,
): TargetLine[] =>
  targetTree(rows.map(entryOf), standings, tree, wholesIn(standings.measure, minorDigits));

/** A year's objectives, and the tree of one of them in the order of display. */
export interface LaidOut {
  readonly fiscalYear: number;
  readonly objectives: readonly ObjectiveOf[];
  readonly objective: ObjectiveOf | undefined;
  readonly rows: readonly TargetRow[];
  readonly lines: readonly TargetLine[];
  /** Where they stand; undefined where the year has no objective. */
  readonly standings: YearStandings | undefined;
  readonly minorDigits: number;
}

/** The tree as it is told. */
export function told(
  { fiscalYear, objectives, objective, rows, lines, minorDigits }: LaidOut,
  typed: ReadonlyMap<string, { by: string; at: Date }>,
): TargetTree {
  const byId = new Map(rows.map((row) => [row.id, row]));
  const monthOf = (month: number | null): string | null =>
    month === null ? null : monthText(month);
  // Written out: one object of forty properties for each of thousands of rows.
  const nodes = lines.map((line) => {
    const { entry, holder } = line;
    const by = typed.get(String(entry.id));
    const row = byId.get(entry.id);
    return {
      id: entry.id,
      parent: entry.parent,
      level: line.level,
      name: entry.name,
      kind: entry.kind,
      scope: [...entry.scope],
      seller: entry.seller,
      account: entry.account,
      manager: row?.manager ?? null,
      from: monthOf(entry.from),
      until: monthOf(entry.until),
      ramp: [...entry.ramp],
      full: entry.full,
      cushion: entry.cushion,
      locked: entry.locked,
      state: row?.state ?? 'draft',
      comment: row?.comment ?? null,
      deals: row?.deals ?? null,
      counts: holder && {
        scope: [...holder.scope],
        seller: holder.seller,
        account: holder.account,
      },
      known: line.known,
      part: entry.part,
      typed: by ? { by: by.by, at: by.at.toISOString() } : null,
      amount: line.amount,
      share: line.share,
      unassigned: line.unassigned,
      overAssigned: line.overAssigned,
      assignable: line.assignable,
      cushionUsed: line.cushionUsed,
      percentsBelow: line.percentsBelow,
      lastYear: line.lastYear,
      actual: line.actual,
      outlook: line.outlook,
      others: line.others,
      ahead: line.ahead,
      aheadShare: line.aheadShare,
      capacity: line.capacity,
      best: line.best,
      months: line.months && [...line.months],
      monthsTyped: entry.months !== null,
      due: line.due,
      attained: line.attained,
      toDate: line.toDate,
      pace: line.pace,
    };
  });
  const measure: TargetMeasure = objective?.measure ?? 'revenue';
  return {
    fiscalYear,
    objectives: [...objectives],
    objective: objective ?? null,
    wholes: wholesIn(measure, minorDigits),
    due: nodes[0]?.due ?? null,
    nodes,
  };
}
