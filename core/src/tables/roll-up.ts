import {
  isWithinMonth,
  periodsOf,
  type Grain,
  type Period,
  type Span,
} from '../calendar/period.ts';
import type { Scope } from '../dimensions/dimension.ts';
import type { MemberTree } from '../dimensions/member-tree.ts';
import { seriesOf, type Figures } from './figures.ts';
import { addingPartsOf, MEASURES, type MeasureCode } from '../measures/catalogue.ts';
import { ratio } from '../measures/nature.ts';
import { slicesOfMonth } from '../calendar/week.ts';
import { monthBySlice } from './week-parts.ts';
import { inScope, rowTree } from '../dimensions/row-tree.ts';

/** What a table shows: measure, rows, columns, and the window and scope it is cut to. */
export interface TableQuery {
  readonly measure: MeasureCode;
  /** One or more dimensions by code, the outermost first. */
  readonly rows: readonly string[];
  /** `time`, or a dimension by code. */
  readonly columns: string;
  readonly scope: Scope;
  readonly span: Span;
  readonly grain: Grain;
}

export interface TableColumn {
  readonly key: string;
  readonly label: string;
  /** For a column of time, its months. */
  readonly period: Period | null;
}

/** A number of a table: null is "no value"; incomplete when something below it is missing. */
export interface TableCell {
  readonly value: number | null;
  readonly incomplete: boolean;
}

export interface TableRow {
  readonly key: string;
  readonly label: string;
  readonly level: number;
  readonly scope: Scope;
  readonly parent: boolean;
  /** One cell a column. */
  readonly cells: readonly TableCell[];
  /** The row over all columns. */
  readonly total: TableCell;
}

export interface Table {
  readonly columns: readonly TableColumn[];
  readonly rows: readonly TableRow[];
  /** Everything in scope, re-summed from its parts. */
  readonly total: TableRow;
}

/** Sums of one base measure; a missing part leaves the rest and a mark. */
class Sums {
  readonly values: Float64Array;
  readonly missing: Uint8Array;

  constructor(columns: number) {
    this.values = new Float64Array(columns);
    this.missing = new Uint8Array(columns);
  }

  add(column: number, value: number): void {
    if (Number.isNaN(value)) this.missing[column] = 1;
    else this.values[column] = (this.values[column] ?? 0) + value;
  }

  cell(column: number): { value: number; incomplete: boolean } {
    return { value: this.values[column] ?? 0, incomplete: this.missing[column] === 1 };
  }
}

function makeColumns(tree: MemberTree, query: TableQuery, fiscalStart: number): TableColumn[] {
  if (query.columns === 'time') {
    return periodsOf(query.span, query.grain, fiscalStart).map((period) => ({
      key: period.key,
      label: period.key,
      period,
    }));
  }
  const dimension = tree.dimensions.find(({ code }) => code === query.columns);
  if (!dimension) throw new RangeError(`There is no dimension "${query.columns}"`);
  return dimension.members
    .filter(({ parent }) => parent === null)
    .map(({ id, name }) => ({ key: String(id), label: name, period: null }));
}

/**
 * Makes a table: rows at every level of the chosen dimensions, columns of time or of a dimension's
 * topmost members, totals of both. Flows add; ratios are made from the sums at every level, never
 * averaged.
 * @param fiscalStart 1 to 12, for quarters and years
 * @param included which combinations have rows, by index; those with numbers when it is left out
 * @throws RangeError for a dimension that is not there
 */
export function rollUp(
  figures: Figures,
  tree: MemberTree,
  query: TableQuery,
  fiscalStart: number,
  included?: (index: number) => boolean,
): Table {
  const columns = makeColumns(tree, query, fiscalStart);
  const measure = MEASURES[query.measure];
  const wide = columns.length + 1;
  const columnOf = columnFinder(figures, tree, query, columns);
  const codes = addingPartsOf(query.measure);
  const bases = codes.map((code) => seriesOf(figures, code));
  const { grain } = query;
  const fine = query.columns === 'time' && isWithinMonth(grain) ? grain : undefined;
  const fineColumns = new Map(columns.map(({ key }, column) => [key, column]));

  const from = Math.max(0, query.span.from - figures.first);
  const to = Math.min(figures.count - 1, query.span.to - figures.first);
  const partSums = new Map<number, Sums[]>();
  const held = inScope(tree, figures.combinations, query.scope);
  for (const index of held) {
    const sums = bases.map(() => new Sums(wide));
    let any = false;
    for (let t = from; t <= to; t += 1) {
      const column = columnOf(index, t);
      const at = index * figures.count + t;
      if (fine) {
        const slices = slicesOfMonth(figures.first + t, fine);
        codes.forEach((code, place) => {
          const parts = monthBySlice(figures, code, index, t, fine);
          if (parts.every((value) => value === 0)) return;
          any = true;
          parts.forEach((value, slice) =>
            sums[place]?.add(fineColumns.get(slices[slice]?.key ?? '') ?? 0, value),
          );
          sums[place]?.add(columns.length, bases[place]?.[at] ?? 0);
        });
        continue;
      }
      bases.forEach((base, place) => {
        const value = base[at] ?? 0;
        if (value === 0) return;
        any = true;
        sums[place]?.add(column, value);
        sums[place]?.add(columns.length, value);
      });
    }
    if (any) partSums.set(index, sums);
  }

  const cellsOf = (parts: Iterable<number>): { cells: TableCell[]; total: TableCell } => {
    const sums = bases.map(() => new Sums(wide));
    for (const part of parts) {
      partSums.get(part)?.forEach((sumsOfPart, place) => {
        for (let column = 0; column < wide; column += 1) {
          const { value, incomplete } = sumsOfPart.cell(column);
          sums[place]?.add(column, value);
          if (incomplete) sums[place]?.add(column, Number.NaN);
        }
      });
    }
    const cells = Array.from({ length: wide }, (_, column) => toCell(sums, column));
    const total = cells.pop() ?? { value: null, incomplete: false };
    return { cells, total };
  };

  const shown = included ?? ((index: number) => partSums.has(index));
  const rows = rowTree(tree, figures.combinations, query.rows, shown).map(
    ({ key, label, level, scope, parent, parts }) => ({
      key,
      label,
      level,
      scope,
      parent,
      ...cellsOf(parts),
    }),
  );
  const total = {
    key: 'total',
    label: measure.name,
    level: 0,
    scope: query.scope,
    parent: false,
    ...cellsOf(partSums.keys()),
  };
  return { columns, rows, total };
}

/** One sum is the value itself; of two, the first over the second. */
function toCell(sums: readonly Sums[], column: number): TableCell {
  const [first, second] = sums.map((sum) => sum.cell(column));
  if (!first) return { value: null, incomplete: false };
  const unknown = first.incomplete && first.value === 0;
  if (!second) return unknown ? { value: null, incomplete: true } : first;
  return {
    value: unknown ? null : ratio(first.value, second.value),
    incomplete: first.incomplete || second.incomplete,
  };
}

/** Which column a combination's month falls into. */
function columnFinder(
  figures: Figures,
  tree: MemberTree,
  query: TableQuery,
  columns: readonly TableColumn[],
): (index: number, t: number) => number {
  if (query.columns === 'time') {
    const byMonth = new Int32Array(figures.count);
    columns.forEach(({ period }, column) => {
      if (period)
        byMonth.fill(
          column,
          Math.max(0, period.from - figures.first),
          period.to - figures.first + 1,
        );
    });
    return (_, t) => byMonth[t] ?? 0;
  }
  const position = tree.dimensions.findIndex(({ code }) => code === query.columns);
  const byTop = new Map(columns.map(({ key }, column) => [Number(key), column]));
  const byIndex = figures.combinations.map(({ members }) => {
    const top = tree.path(members[position] ?? -1)[0];
    return byTop.get(top ?? -1) ?? 0;
  });
  return (index) => byIndex[index] ?? 0;
}
