import type { SubscriberCohorts } from '@dravex/contract';
import type { Churn } from '@dravex/core';
import type { Formats } from '../format/numbers.ts';
import { longMonth } from '../format/periods.ts';
import { keptOf, type CohortRow } from './cohort-row.ts';

type Show = Pick<Formats, 'show'>;
const percent = (formats: Show, part: number | null): string => formats.show(part, 'percent');
/** Ages by which people speak of staying, the longest first. */
const SPOKEN = [12, 6, 3, 1] as const;

/** How churn is set, in words: `4.0% a month`. */
export function rateInWords(churn: Churn, formats: Show): string {
  switch (churn.kind) {
    case 'constant':
      return `${percent(formats, churn.rate)} a month`;
    case 'atRenewal':
      return `${percent(formats, churn.rate)} every ${churn.term} months`;
    case 'byAge': {
      const last = churn.rates.at(-1) ?? null;
      return `${percent(formats, churn.rates[0] ?? null)} in the first month, falling to ${percent(formats, last)}`;
    }
  }
}

/** What churn by age says, as a heading. */
export function churnInWords({ fitted, ages }: SubscriberCohorts, formats: Show): string {
  if (!fitted) {
    return ages.some(({ lost }) => lost > 0)
      ? 'Too few have left to say how long subscribers stay'
      : 'Nobody has left yet';
  }
  const age = SPOKEN.find((months) => fitted.left.length > months);
  const kept = age === undefined ? undefined : fitted.left[age];
  const after =
    kept && age !== undefined
      ? `; ${percent(formats, kept.s)} are still there after ${age === 1 ? 'a month' : `${age} months`}`
      : '';
  return `Subscribers leave at ${rateInWords(fitted.churn, formats)}${after}`;
}

/** What the cohorts say, as a heading: the one that did worst beyond its elders, or that none did. */
export function cohortsInWords(rows: readonly CohortRow[], formats: Show): string {
  const [worst] = rows
    .flatMap((row) =>
      row.worse ? [{ row, ...row.worse, more: row.worse.lost - row.worse.expected }] : [],
    )
    .sort((a, b) => b.more - a.more);
  if (!worst)
    return `${rows.length} ${rows.length === 1 ? 'cohort' : 'cohorts'}, and none leaves faster than those before it`;
  const { row, lost, expected } = worst;
  const gone = (part: number): string => percent(formats, keptOf(row, part));
  return `Those who started in ${longMonth(row.start)} leave faster: ${gone(lost)} have left, of those before ${gone(expected)} had`;
}
