import { monthFrom, monthText, type Month } from '../calendar/month.ts';
import type { Assumption } from '../drivers/assumption.ts';
import { actualFigures } from '../tables/figures.ts';
import type { Plan } from './plan.ts';

/** A stream for a combination that is not forecast yet, with the assumptions it starts from. */
export interface ProposedStream {
  readonly combination: number;
  readonly assumptions: readonly Omit<Assumption, 'id'>[];
}

/** How long a combination may have been silent and still be forecast. */
const RECENT_MONTHS = 12;

/**
 * Proposes streams for the combinations that were sold in the last twelve closed months and are
 * not forecast: units as in the same month a year before, repeated for later years (where there
 * is no such month, the mean of the closed months there are), at the average price of the last
 * twelve closed months. A start to argue about, not a method.
 */
export function proposeStreams(plan: Plan): ProposedStream[] {
  const figures = actualFigures(plan);
  const forecast = new Set(plan.streams.map(({ combination }) => combination));
  const closed = monthFrom(plan.calendar.closedThrough);
  const last = monthFrom(plan.calendar.last);
  const proposals: ProposedStream[] = [];
  plan.combinations.forEach(({ id, members }, index) => {
    if (forecast.has(id)) return;
    const at = (measure: 'units' | 'revenue', month: Month): number =>
      figures.measures[measure][index * figures.count + month - figures.first] ?? 0;
    const recent = Array.from({ length: RECENT_MONTHS }, (_, i) => closed - i).filter(
      (month) => month >= figures.first,
    );
    const units = recent.reduce((sum, month) => sum + at('units', month), 0);
    const revenue = recent.reduce((sum, month) => sum + at('revenue', month), 0);
    if (units <= 0 || revenue <= 0) return;
    const mean = Math.round(units / recent.length);
    const values: Record<string, number> = {};
    for (let month = closed + 1; month <= last; month += 1) {
      const before = month - 12 * Math.ceil((month - closed) / 12);
      const hasYearBefore = before >= figures.first;
      values[monthText(month)] = Math.max(0, hasYearBefore ? at('units', before) : mean);
    }
    const minor = 10 ** plan.currency.minorDigits;
    const price = Math.round((revenue / units) * minor) / minor;
    const start = { scope: members, from: null, to: null };
    proposals.push({
      combination: id,
      assumptions: [
        {
          ...start,
          driver: 'grossUnits',
          profile: { kind: 'months', values },
          note: 'As sold a year before',
        },
        {
          ...start,
          driver: 'listPrice',
          profile: { kind: 'value', value: price },
          note: 'Average price of the last twelve closed months',
        },
      ],
    });
  });
  return proposals;
}
