import { monthFrom, monthText, type Month } from '../calendar/month.ts';
import type { Assumption } from '../drivers/assumption.ts';
import { scopeKey } from '../drivers/scope-key.ts';
import { actualFigures, type Figures } from '../tables/figures.ts';
import type { Plan } from './plan.ts';

/** A stream for a combination that is not forecast yet, with the assumptions it starts from. */
export interface ProposedStream {
  readonly combination: number;
  readonly method: 'volumePrice' | 'amount';
  /** Whether it seems to be sold no longer. */
  readonly discontinued: boolean;
  readonly assumptions: readonly Omit<Assumption, 'id'>[];
}

/** Nothing sold for so many months may be an end. */
const SILENT_MONTHS = 3;

/** How long a combination may have been silent and still be forecast. */
const RECENT_MONTHS = 12;

/**
 * Whether a combination seems to be sold no longer: silent for three closed months or more, and for
 * longer than ever between two sales. What has its season, or sells now and then, was silent before;
 * what was never sold has not ended.
 * @param index its place among the combinations
 * @param closed the last closed month
 */
export function seemsEnded(actual: Figures, index: number, closed: Month): boolean {
  const sold = Array.from({ length: closed - actual.first + 1 }, (_, t) => {
    const at = index * actual.count + t;
    return actual.measures.units[at] !== 0 || actual.measures.revenue[at] !== 0;
  });
  if (!sold.includes(true)) return false;
  const silent = sold.length - 1 - sold.lastIndexOf(true);
  let longest = 0;
  let last = sold.indexOf(true);
  sold.forEach((here, month) => {
    if (!here) return;
    longest = Math.max(longest, month - last - 1);
    last = month;
  });
  return silent >= SILENT_MONTHS && silent > longest;
}

/**
 * Proposes streams for the combinations that were sold in the last twelve closed months and are
 * not forecast: units as in the same month a year before, repeated for later years (where there
 * is no such month, the mean of the closed months there are), at the average price of the last
 * twelve closed months; what has amounts and no units by amount. A start to argue about, not a method.
 */
export function proposeStreams(plan: Plan): ProposedStream[] {
  const figures = actualFigures(plan);
  const forecast = new Set(plan.streams.map(({ combination }) => combination));
  const closed = monthFrom(plan.calendar.closedThrough);
  const last = monthFrom(plan.calendar.last);
  const proposals: ProposedStream[] = [];
  const set = new Set(
    plan.assumptions
      .filter(({ from, to }) => from === null && to === null)
      .map(({ driver, scope }) => `${driver} ${scopeKey(scope)}`),
  );
  plan.combinations.forEach(({ id, members }, index) => {
    if (forecast.has(id)) return;
    const at = (measure: 'units' | 'revenue', month: Month): number =>
      figures.measures[measure][index * figures.count + month - figures.first] ?? 0;
    const recent = Array.from({ length: RECENT_MONTHS }, (_, i) => closed - i).filter(
      (month) => month >= figures.first,
    );
    const sum = (measure: 'units' | 'revenue'): number =>
      recent.reduce((all, month) => all + at(measure, month), 0);
    const [units, revenue] = [sum('units'), sum('revenue')];
    // What is sold by amount alone, as a ledger has it, is forecast by amount.
    const method = units > 0 ? 'volumePrice' : 'amount';
    const measure = units > 0 ? 'units' : 'revenue';
    if (units <= 0 && revenue <= 0) return;
    const discontinued = seemsEnded(figures, index, closed);
    const minor = 10 ** plan.currency.minorDigits;
    const rounded = (value: number): number =>
      measure === 'units' ? Math.round(value) : Math.round(value * minor) / minor;
    const mean = rounded(sum(measure) / recent.length);
    const values: Record<string, number> = {};
    for (let month = closed + 1; month <= last; month += 1) {
      const before = month - 12 * Math.ceil((month - closed) / 12);
      const hasYearBefore = before >= figures.first;
      values[monthText(month)] = Math.max(0, hasYearBefore ? at(measure, before) : mean);
    }
    const start = { scope: members, from: null, to: null };
    const asBefore = {
      ...start,
      driver: measure === 'units' ? 'grossUnits' : 'amount',
      profile: { kind: 'months', values },
      note: 'As sold a year before',
    } as const;
    const price = {
      ...start,
      driver: 'listPrice',
      profile: { kind: 'value', value: Math.round((revenue / units) * minor) / minor },
      note: 'Average price of the last twelve closed months',
    } as const;
    // Without amounts nobody knows the price: it is missing until somebody sets it.
    const priced = units > 0 && revenue > 0;
    const assumptions = (priced ? [asBefore, price] : [asBefore]).filter(
      // A line that was deleted left its inputs: they are taken up, and not set twice.
      ({ driver, scope }) => !set.has(`${driver} ${scopeKey(scope)}`),
    );
    proposals.push({ combination: id, method, discontinued, assumptions });
  });
  return proposals;
}
