import { monthFrom, type Month } from '../calendar/month.ts';
import { RESULTS, type ResultCode } from '../measures/catalogue.ts';
import type { StablePlan } from './plan.ts';

/** Numbers of a combination in a month: units, and money in minor units. */
export interface CellRow {
  readonly combination: number;
  readonly month: Month;
  readonly units: number;
  readonly revenue: number;
  /** Null where it is not known. */
  readonly cost: number | null;
}

/** One series a place for every result. */
export type Results = Readonly<Record<ResultCode, Float64Array[]>>;
/** The same, one place after the other in one array a result, months innermost. */
export type FlatResults = Readonly<Record<ResultCode, Float64Array>>;

/** Results of some places, filled with zeros: as a whole, and place by place as views of it. */
export function emptyResults(
  places: number,
  count: number,
): { readonly flat: FlatResults; readonly results: Results } {
  const flat = {} as Record<ResultCode, Float64Array>;
  const results = {} as Record<ResultCode, Float64Array[]>;
  for (const code of RESULTS) {
    const all = new Float64Array(places * count);
    flat[code] = all;
    results[code] = Array.from({ length: places }, (_, place) =>
      all.subarray(place * count, (place + 1) * count),
    );
  }
  return { flat, results };
}

/**
 * Adds rows up into results, money in currency units. It is added up in whole minor units first, so
 * that the order of rows does not matter. A cost that is not known makes the sum unknown.
 * @param months how many months count, from `first` on; others are left out
 * @param minor minor units to a currency unit
 */
export function addRows(
  rows: Iterable<CellRow>,
  results: Results,
  placeOf: (combination: number) => number | undefined,
  {
    first,
    months,
    minor,
  }: { readonly first: Month; readonly months: number; readonly minor: number },
): void {
  for (const row of rows) {
    const place = placeOf(row.combination);
    const t = row.month - first;
    if (place === undefined || t < 0 || t >= months) continue;
    for (const code of RESULTS) {
      const block = results[code][place];
      if (block) block[t] = (block[t] ?? 0) + (row[code] ?? Number.NaN);
    }
  }
  for (const code of ['revenue', 'cost'] as const) {
    for (const block of results[code]) {
      for (let t = 0; t < months; t += 1) block[t] = (block[t] ?? 0) / minor;
    }
  }
}

/**
 * The rows of a plan's actuals, one after the other.
 * @param books whether what was entered by hand is left out
 */
export function* actualRows(plan: StablePlan, books = false): Generator<CellRow> {
  yield* rowsOf(plan);
  const { byHand, combination, month } = plan.actuals;
  if (!books || !byHand) return;
  for (const [i, row] of byHand.row.entries()) {
    yield {
      combination: combination[row] ?? -1,
      month: monthFrom(month[row] ?? ''),
      units: -(byHand.units[i] ?? 0),
      revenue: -(byHand.revenue[i] ?? 0),
      cost: -(byHand.cost[i] ?? 0),
    };
  }
}

/** A combination in a month. */
interface CellPlace {
  readonly combination: number;
  readonly month: Month;
}

/**
 * The cells of a plan's actuals by where their sales lines come from: those in which everything was
 * entered by hand, and those with anything in the books.
 */
export function cellsByOrigin(plan: StablePlan): { byHand: CellPlace[]; books: CellPlace[] } {
  const { combination, month, byHand: hand } = plan.actuals;
  const alone = new Set(hand?.row.filter((_, place) => hand.only[place]));
  const byHand: CellPlace[] = [];
  const books: CellPlace[] = [];
  combination.forEach((id, row) => {
    const cell = { combination: id, month: monthFrom(month[row] ?? '') };
    (alone.has(row) ? byHand : books).push(cell);
  });
  return { byHand, books };
}

function* rowsOf(plan: StablePlan): Generator<CellRow> {
  const { combination, month, units, revenue, cost } = plan.actuals;
  // The same few months stand in thousands of rows; each is read once.
  const months = new Map([...new Set(month)].map((text) => [text, monthFrom(text)]));
  for (let i = 0; i < combination.length; i += 1) {
    yield {
      combination: combination[i] ?? -1,
      month: months.get(month[i] ?? '') ?? -1,
      units: units[i] ?? 0,
      revenue: revenue[i] ?? 0,
      cost: cost[i] ?? 0,
    };
  }
}
