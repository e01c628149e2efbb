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
  const { id, name, kind, scope, seller, account, ramp, cushion, locked, months } = row;
  const month = (first: string | null) => (first === null ? null : monthFrom(fromFirst(first)));
  return {
    ...{ id, parent: row.parentId, name, kind, scope, seller, account, ramp },
    ...{ cushion, locked, months, full: row.fullCapacity },
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

/** The objective in whose tree a node lies. */
export function objectiveAbove(rows: readonly TargetRow[], node: number): ObjectiveOf | undefined {
  const byId = new Map(rows.map((row) => [row.id, row]));
  let row = byId.get(node);
  while (row && row.parentId !== null) row = byId.get(row.parentId);
  return row && objectiveOf(row);
}

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
  const nodes = lines.map(({ entry, holder, months, ...line }) => {
    const by = typed.get(String(entry.id));
    const row = byId.get(entry.id);
    return {
      ...entry,
      ...line,
      scope: [...entry.scope],
      ramp: [...entry.ramp],
      manager: row?.manager ?? null,
      state: row?.state ?? 'draft',
      comment: row?.comment ?? null,
      deals: row?.deals ?? null,
      from: entry.from === null ? null : monthText(entry.from),
      until: entry.until === null ? null : monthText(entry.until),
      counts: holder && {
        scope: [...holder.scope],
        seller: holder.seller,
        account: holder.account,
      },
      months: months && [...months],
      monthsTyped: entry.months !== null,
      typed: by ? { by: by.by, at: by.at.toISOString() } : null,
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
