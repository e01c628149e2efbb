/** Growth on the year or on the period before. */
import { fiscalQuarterOf } from '../../calendar/fiscal.ts';
import { written } from '../../formula/explain.ts';
import type { ForecastResult } from '../../measures/catalogue.ts';
import type { Stream } from '../plan.ts';
import {
  at,
  explainValued,
  onePlus,
  PRICED,
  valueUnits,
  type Explaining,
  type Explanation,
  type Method,
  type Stretch,
} from './method.ts';

const YEAR = 12;
const grows = ({ settings }: Stream): ForecastResult => settings?.of ?? 'revenue';

/** The months whose mean a month grows on. */
type BaseOf = (stretch: Stretch, t: number) => readonly number[];

const lastYear: BaseOf = (_, t) => [t - YEAR];

/** The month before, or the three months of the fiscal quarter before the month's own. */
const periodBefore: BaseOf = ({ stream, first, fiscalStart }, t) => {
  if (stream.settings?.base !== 'quarter') return [t - 1];
  // Months since the quarter began: its start is where the quarter's number changes.
  let start = t;
  const quarter = fiscalQuarterOf(first + t, fiscalStart);
  while (fiscalQuarterOf(first + start - 1, fiscalStart) === quarter) start -= 1;
  return [start - 3, start - 2, start - 1];
};

/** What a result grows on: the mean of the months of its base. */
function baseIn(series: Float64Array, months: readonly number[]): number {
  let sum = 0;
  for (const month of months) sum += at(series, month);
  return sum / months.length;
}

/** Base x (1 + growth), month by month. */
function grow(stretch: Stretch, base: BaseOf): void {
  const { stream, inputs, results, from, to } = stretch;
  const both = grows(stream) === 'revenue';
  for (let t = from; t < to; t += 1) {
    const months = base(stretch, t);
    const factor = 1 + at(inputs[0], t);
    results.units[t] = baseIn(results.units, months) * factor;
    if (both) results.revenue[t] = baseIn(results.revenue, months) * factor;
  }
  if (!both) valueUnits(stretch, 1);
}

/** What a growth is on in a month, in what grows. */
const grownOn =
  (driver: string, base: BaseOf): NonNullable<Method['actsOn']> =>
  (code, stretch, t) =>
    code === driver ? baseIn(stretch.results[grows(stretch.stream)], base(stretch, t)) : undefined;

function explainGrowth(
  result: ForecastResult,
  explaining: Explaining,
  driver: string,
  base: BaseOf,
): Explanation {
  const { stretch, t, cell } = explaining;
  if (result === 'revenue' && grows(stretch.stream) === 'units') return explainValued(explaining);
  const months = base(stretch, t).map((month) => cell(result, month));
  const [only] = months;
  const everyMonthKnown = months.every(({ value }) => value !== null);
  const mean = months.reduce((sum, { value }) => sum + (value ?? 0), 0) / months.length;
  const display = only?.display ?? 'units';
  const before =
    months.length === 1 && only
      ? only
      : {
          label: 'Mean of the quarter before',
          display,
          value: everyMonthKnown ? mean : null,
          incomplete: !everyMonthKnown,
          shape: 'ratio' as const,
          parts: [
            {
              label: 'The quarter before',
              display,
              value: everyMonthKnown ? mean * months.length : null,
              incomplete: !everyMonthKnown,
              shape: 'plus' as const,
              parts: months,
            },
            written(months.length),
          ],
        };
  return { shape: 'product', parts: [before, onePlus(explaining.driver(driver))] };
}

/** Whether anything was sold in the closed months that a stream grows on. */
function nothingBefore({ results, open }: Stretch, months: number): boolean {
  for (let t = Math.max(0, open - months); t < open; t += 1) {
    if (results.units[t] !== 0 || results.revenue[t] !== 0) return false;
  }
  return true;
}

/** Growth on last year: the same month a year before, actual or forecast, x (1 + growth). */
export const growthLastYear: Method = {
  code: 'growthLastYear',
  name: 'Growth on last year',
  when: 'The season repeats, and one growth rate is planned.',
  needs: 'Twelve closed months of sales and a growth.',
  writes: ['units', 'revenue'],
  inputs: (stream) => ['growth', ...(grows(stream) === 'units' ? PRICED : [])],
  problems(stretch) {
    if (stretch.open < YEAR) {
      return [`There are ${stretch.open} closed months; it grows on the same month a year before`];
    }
    return [];
  },
  notes: (stretch) =>
    nothingBefore(stretch, YEAR)
      ? ['Nothing was sold in the last twelve closed months, so it stays at 0']
      : [],
  compute: (stretch) => grow(stretch, lastYear),
  actsOn: grownOn('growth', lastYear),
  explain: (result, explaining) => explainGrowth(result, explaining, 'growth', lastYear),
};

/** Growth on the month before, or on the mean of the quarter before. */
export const growthPeriod: Method = {
  code: 'growthPeriod',
  name: 'Growth on the period before',
  when: 'Sales build up month by month or quarter by quarter, without a season.',
  needs: 'A closed month (or quarter) of sales and a growth.',
  writes: ['units', 'revenue'],
  inputs: (stream) => ['periodGrowth', ...(grows(stream) === 'units' ? PRICED : [])],
  notes(stretch) {
    const months = stretch.stream.settings?.base === 'quarter' ? 3 : 1;
    return nothingBefore(stretch, months)
      ? [
          `Nothing was sold in the last ${months === 1 ? 'closed month' : 'three closed months'}, so it stays at 0`,
        ]
      : [];
  },
  compute: (stretch) => grow(stretch, periodBefore),
  actsOn: grownOn('periodGrowth', periodBefore),
  explain: (result, explaining) => explainGrowth(result, explaining, 'periodGrowth', periodBefore),
};
