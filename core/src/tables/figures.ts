import { monthFrom, type Month } from '../calendar/month.ts';
import type { Combination } from '../dimensions/dimension.ts';
import type { Model } from '../forecast/run.ts';
import type { StablePlan } from '../forecast/plan.ts';
import { actualRows, addRows, emptyResults, type CellRow } from '../forecast/actual-rows.ts';
import { RESULTS, type AddingCode, type ResultCode } from '../measures/catalogue.ts';

/** The sums of one month's weeks, by result. */
export type WeekSums = Readonly<Record<ResultCode, Float64Array>>;

/** What is known of weeks: of a combination and a month, or undefined where nothing is. */
export interface WeekParts {
  of(combination: number, month: Month): WeekSums | undefined;
  /** The same of the days a year before, where it is known too. */
  readonly before?: WeekParts | undefined;
}

/**
 * Numbers by combination and month, one array a measure, months innermost; what every table is
 * made from. NaN is "missing": totals show the rest and are marked incomplete.
 */
export interface Figures {
  readonly combinations: readonly Combination[];
  readonly first: Month;
  readonly count: number;
  readonly measures: Readonly<Record<ResultCode, Float64Array>>;
  /** What is known of weeks; without it months are divided by calendar days. */
  readonly weeks?: WeekParts | undefined;
  /** Closed months that have the forecast that was kept of them. */
  readonly kept?: ReadonlySet<Month> | undefined;
}

const margins = new WeakMap<Figures, Float64Array>();

/**
 * The numbers of what adds up, by combination and month: a result, or gross margin = revenue - cost
 * of sales, made once. Missing where either is.
 */
export function seriesOf(figures: Figures, code: AddingCode): Float64Array {
  if (code !== 'margin') return figures.measures[code];
  const marginBefore = margins.get(figures);
  if (marginBefore) return marginBefore;
  const { revenue, cost } = figures.measures;
  const made = revenue.map((value, at) => value - (cost[at] ?? Number.NaN));
  margins.set(figures, made);
  return made;
}

/** The months of a plan as a first month and a count. */
function monthsOf(plan: StablePlan): { first: Month; count: number } {
  const first = monthFrom(plan.calendar.first);
  return { first, count: monthFrom(plan.calendar.last) - first + 1 };
}

/**
 * Lays kept rows out as figures over the months of a plan; rows outside them are left out.
 * Months without a row are 0.
 */
export function figuresFromRows(plan: StablePlan, rows: Iterable<CellRow>): Figures {
  const { first, count } = monthsOf(plan);
  const { flat, results } = emptyResults(plan.combinations.length, count);
  const position = new Map(plan.combinations.map((c, index) => [c.id, index]));
  addRows(rows, results, (id) => position.get(id), {
    first,
    months: count,
    minor: 10 ** plan.currency.minorDigits,
  });
  return { combinations: plan.combinations, first, count, measures: flat };
}

/**
 * Actual sales over the months of a plan, with what open months have so far.
 * @param books whether only what is in the books counts, and nothing that was entered by hand
 */
export function actualFigures(plan: StablePlan, books = false): Figures {
  return figuresFromRows(plan, actualRows(plan, books));
}

/**
 * One line of actuals and forecast: closed months are the actuals, open months the forecast, and
 * sales lines of an open month never enter it. Combinations without a stream have actuals only.
 * @param model evaluated
 * @param actual the plan's `actualFigures`, where they are at hand already
 */
export function forecastFigures(model: Model, actual = actualFigures(model.plan)): Figures {
  const figures: Figures = {
    ...actual,
    measures: {
      units: actual.measures.units.slice(),
      revenue: actual.measures.revenue.slice(),
      cost: actual.measures.cost.slice(),
    },
  };
  const position = new Map(figures.combinations.map((c, index) => [c.id, index]));
  for (const code of RESULTS) {
    const block = figures.measures[code];
    for (let index = 0; index < figures.combinations.length; index += 1) {
      block.fill(0, index * figures.count + model.open, (index + 1) * figures.count);
    }
    model.streams.forEach(({ combination }, stream) => {
      const to = (position.get(combination.id) ?? 0) * figures.count + model.open;
      const resultOfStream = model.results[code][stream];
      if (resultOfStream) block.set(resultOfStream.subarray(model.open), to);
    });
  }
  return figures;
}

/**
 * A series by combination and month of which every month has the number of the month a year before.
 * @param count months of a combination
 * @param empty what the first twelve have
 */
export function seriesYearLater(values: Float64Array, count: number, empty = 0): Float64Array {
  const made = new Float64Array(values.length).fill(empty);
  for (let start = 0; start < values.length; start += count) {
    const kept = Math.max(0, count - 12);
    made.set(values.subarray(start, start + kept), start + count - kept);
  }
  return made;
}

/** Figures of which every month has the numbers of the month a year before; the first twelve are empty. */
export function yearLater(figures: Figures): Figures {
  const measures = { ...figures.measures };
  for (const code of RESULTS)
    measures[code] = seriesYearLater(figures.measures[code], figures.count);
  return { ...figures, measures, weeks: figures.weeks?.before, kept: undefined };
}
