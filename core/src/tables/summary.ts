/** Summaries of sales lines: sums by rows and columns, several measures made from them. */
import type { Scope } from '../dimensions/dimension.ts';
import type { MemberTree } from '../dimensions/member-tree.ts';
import { MEASURES, type AddingCode, type SummaryMeasure } from '../measures/catalogue.ts';
import { ratio } from '../measures/nature.ts';
import { rowTree } from '../dimensions/row-tree.ts';

/** What sales lines add up to. Money in the currency's whole units. */
export interface SalesSums {
  readonly units: number;
  readonly revenue: number;
  readonly cost: number;
  readonly lines: number;
  /** How many of the lines were entered by hand. */
  readonly byHand: number;
}

/**
 * A measure from sums, made at every level and never averaged. Null where there is nothing to
 * divide by.
 */
export function summaryValue(sums: SalesSums, measure: SummaryMeasure): number | null {
  const { making } = MEASURES[measure];
  const adding = (code: AddingCode): number =>
    code === 'margin' ? sums.revenue - sums.cost : sums[code];
  switch (making.kind) {
    case 'ratio':
      return ratio(adding(making.above), adding(making.below));
    case 'lines':
      return sums.lines;
    default:
      return adding(measure as AddingCode);
  }
}

export const NO_SALES: SalesSums = { units: 0, revenue: 0, cost: 0, lines: 0, byHand: 0 };

/** Sums of sales lines, added up from their parts. */
export function addSums(a: SalesSums, b: SalesSums): SalesSums {
  return {
    units: a.units + b.units,
    revenue: a.revenue + b.revenue,
    cost: a.cost + b.cost,
    lines: a.lines + b.lines,
    byHand: a.byHand + b.byHand,
  };
}

/** What was sold of one leaf a row dimension in one column, and in the same column of another span. */
export interface SummaryGroup {
  /** Ids of leaves by the dimensions' positions; only those of the rows are read. */
  readonly members: readonly number[];
  readonly column: number;
  readonly sums: SalesSums;
  /** Whether it belongs to the span that is compared with. */
  readonly before: boolean;
}

export interface SummaryRow {
  readonly key: string;
  readonly label: string;
  readonly level: number;
  readonly scope: Scope;
  readonly parent: boolean;
  /** One a column, and all of them together. */
  readonly cells: readonly SalesSums[];
  readonly total: SalesSums;
  /** The same of the span that is compared with. */
  readonly cellsBefore: readonly SalesSums[];
  readonly totalBefore: SalesSums;
}

/**
 * Makes rows at every level of the row dimensions from groups of leaves, and the total of all.
 * Totals are re-summed from the groups.
 * @param rows dimensions by code, the outermost first; with none there is only the total
 * @throws RangeError for a dimension that is not there
 */
export function summarise(
  tree: MemberTree,
  rows: readonly string[],
  columns: number,
  groups: readonly SummaryGroup[],
): { rows: SummaryRow[]; total: SummaryRow } {
  // Groups of the same leaves are one part of the rows.
  const parts = new Map<string, { members: readonly number[]; groups: SummaryGroup[] }>();
  for (const group of groups) {
    const key = group.members.join();
    const part = parts.get(key);
    if (part) part.groups.push(group);
    else parts.set(key, { members: group.members, groups: [group] });
  }
  const list = [...parts.values()];
  const sumOf = (indexes: Iterable<number>) => {
    const empty = (): SalesSums[] => Array.from({ length: columns }, () => NO_SALES);
    const cells = empty();
    const cellsBefore = empty();
    for (const index of indexes) {
      for (const { column, sums, before } of list[index]?.groups ?? []) {
        const into = before ? cellsBefore : cells;
        into[column] = addSums(into[column] ?? NO_SALES, sums);
      }
    }
    return {
      cells,
      total: cells.reduce(addSums, NO_SALES),
      cellsBefore,
      totalBefore: cellsBefore.reduce(addSums, NO_SALES),
    };
  };
  const combinations = list.map(({ members }, id) => ({ id, members }));
  const made =
    rows.length === 0
      ? []
      : rowTree(tree, combinations, rows, () => true).map(({ parts: indexes, ...row }) => ({
          ...row,
          ...sumOf(indexes),
        }));
  const total: SummaryRow = {
    key: 'total',
    label: 'Total',
    level: 0,
    scope: [],
    parent: false,
    ...sumOf(list.keys()),
  };
  return { rows: made, total };
}
