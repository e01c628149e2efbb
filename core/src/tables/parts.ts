/** What a total falls apart into, for charts: a few parts over time, and which overtakes which. */
import { crossover } from '../comparison/crossover.ts';
import { isWithinMonth, type Span } from '../calendar/period.ts';
import type { MemberTree } from '../dimensions/member-tree.ts';
import { yearLater, type Figures } from './figures.ts';
import { MEASURES, type MeasureCode } from '../measures/catalogue.ts';
import { rollUp, type TableColumn, type TableQuery, type TableRow } from './roll-up.ts';

/** A part of a total over the columns of a table. */
export interface PartSeries {
  readonly name: string;
  readonly values: readonly (number | null)[];
}

/** Two parts, and where the one gets above the other: columns from the first, with fractions. */
export interface Overtaking {
  readonly over: string;
  readonly under: string;
  readonly at: number;
}

/** Where a part stands between volume and price over a window, and a year before. */
export interface PricedPart {
  readonly name: string;
  readonly units: number;
  readonly price: number;
  readonly before: { readonly units: number; readonly price: number } | null;
}

export interface Parts {
  readonly columns: readonly TableColumn[];
  readonly parts: readonly PartSeries[];
  /** The same parts a year before; empty where the history does not reach. */
  readonly lastYear: readonly PartSeries[];
  readonly overtakings: readonly Overtaking[];
  readonly priced: readonly PricedPart[];
}

export interface PartsQuery extends Omit<TableQuery, 'rows' | 'columns'> {
  /** The dimension whose members are the parts. */
  readonly by: string;
  /** How many parts there are at most; the rest stands together. */
  readonly most: number;
}

const YEAR = 12;

/** The rows of the highest level at which there are several. */
function levelRows(rows: readonly TableRow[]): readonly TableRow[] {
  const deepest = rows.reduce((most, { level }) => Math.max(most, level), 0);
  for (let level = 0; level <= deepest; level += 1) {
    const rowsOfLevel = rows.filter((row) => row.level === level);
    if (rowsOfLevel.length > 1 || level === deepest) return rowsOfLevel;
  }
  return rows;
}

/**
 * Every pair of series of which the one gets above the other for good: it is below at first, and
 * above at the end. Where they meet more than once, the last time counts.
 */
export function overtakings(parts: readonly PartSeries[]): Overtaking[] {
  const numbers = parts.map(({ values }) => values.map((value) => value ?? Number.NaN));
  return parts.flatMap(({ name }, index) =>
    parts.flatMap((other, place): Overtaking[] => {
      const [mine = [], theirs = []] = [numbers[index], numbers[place]];
      const [last, there] = [mine.at(-1) ?? Number.NaN, theirs.at(-1) ?? Number.NaN];
      const below = (mine[0] ?? Number.NaN) <= (theirs[0] ?? Number.NaN);
      if (place === index || !below || !(last > there)) return [];
      // The last month in which it is not above: from there on it crosses once.
      const start = mine.findLastIndex((value, t) => value <= (theirs[t] ?? Number.NaN));
      const at = crossover(mine.slice(start), theirs.slice(start));
      return at === null ? [] : [{ over: name, under: other.name, at: start + at }];
    }),
  );
}

/**
 * The parts of a total by the members of a dimension, the largest first. Of measures that add up
 * the smallest stand together as `Others`; of prices they are left out.
 * @throws RangeError for a dimension that is not there
 */
export function partsOf(
  figures: Figures,
  tree: MemberTree,
  { by, most, ...query }: PartsQuery,
  fiscalStart: number,
): Parts {
  const table = (measure: MeasureCode, span: Span, of = figures) =>
    rollUp(of, tree, { ...query, measure, span, rows: [by], columns: 'time' }, fiscalStart);
  const { columns, rows } = table(query.measure, query.span);
  const adds = MEASURES[query.measure].nature !== 'ratio';
  const sorted = [...levelRows(rows)].sort((a, b) => (b.total.value ?? 0) - (a.total.value ?? 0));
  const shown = sorted.length > most ? sorted.slice(0, adds ? most - 1 : most) : sorted;
  const rest = sorted.slice(shown.length);
  const row = new Set(shown.map(({ key }) => key));
  const series = (row: TableRow): PartSeries => ({
    name: row.label,
    values: row.cells.map(({ value }) => value),
  });
  const together = (others: readonly TableRow[]): PartSeries[] =>
    others.length === 0 || !adds
      ? []
      : [
          {
            name: `Others (${rest.length})`,
            values: columns.map((_, column) =>
              others.reduce((sum, { cells }) => sum + (cells[column]?.value ?? 0), 0),
            ),
          },
        ];
  const parts = [...shown.map(series), ...together(rest)];

  const before = { from: query.span.from - YEAR, to: query.span.to - YEAR };
  const hasYearBefore = before.from >= figures.first;
  // Weeks of other months are cut elsewhere: the same days a year before stand beside them.
  const beside = isWithinMonth(query.grain)
    ? table(query.measure, query.span, yearLater(figures))
    : table(query.measure, before);
  const then = hasYearBefore ? beside.rows : [];
  const byKey = new Map(then.map((row) => [row.key, row]));
  const restKeys = new Set(rest.map(({ key }) => key));
  const lastYear = hasYearBefore
    ? [
        ...shown.flatMap(({ key }) => {
          const row = byKey.get(key);
          return row ? [series(row)] : [];
        }),
        ...together(then.filter(({ key }) => restKeys.has(key))),
      ]
    : [];

  const at = (span: Span) => {
    const [units, prices] = [table('units', span).rows, table('averagePrice', span).rows];
    const price = new Map(prices.map(({ key, total }) => [key, total.value]));
    return new Map(units.map(({ key, total }) => [key, { total, price: price.get(key) ?? null }]));
  };
  const now = at(query.span);
  const past = hasYearBefore ? at(before) : new Map<string, never>();
  const place = (row: ReturnType<typeof now.get>) => {
    const units = row?.total.value ?? 0;
    // On a scale of proportions only what is above zero has a place.
    return row?.price && units > 0 && row.price > 0 ? { units, price: row.price } : null;
  };
  const priced = sorted
    .filter(({ key }) => row.has(key))
    .flatMap(({ key, label }): PricedPart[] => {
      const here = place(now.get(key));
      return here ? [{ name: label, ...here, before: place(past.get(key)) }] : [];
    });
  return { columns, parts, lastYear, overtakings: overtakings(parts), priced };
}
