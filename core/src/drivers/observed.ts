/** What actuals say of a driver: its values in the closed months of a stream. */
import { ratio } from '../tables/measure.ts';
import type { Observed } from './inputs.ts';

const YEAR = 12;

interface Results {
  readonly count: number;
  readonly open: number;
  readonly units: Float64Array;
  readonly revenue: Float64Array;
}

/**
 * What sales say of a driver in a month, from units and revenue of that month and of those before.
 * Null where they say nothing. Net units stand for gross ones: what came back is not told apart.
 */
export function observedValue(
  driver: string,
  units: (t: number) => number,
  revenue: (t: number) => number,
  t: number,
): number | null {
  const grown = (back: number): number | null =>
    t - back < 0 ? null : ratio(revenue(t) - revenue(t - back), revenue(t - back));
  switch (driver) {
    case 'grossUnits':
      return units(t);
    case 'amount':
      return revenue(t);
    case 'listPrice':
      return ratio(revenue(t), units(t));
    case 'growth':
      return grown(YEAR);
    case 'periodGrowth':
      return grown(1);
    default:
      return null;
  }
}

/** Drivers of which sales say something. */
export const OBSERVABLE: ReadonlySet<string> = new Set([
  'grossUnits',
  'amount',
  'listPrice',
  'growth',
  'periodGrowth',
]);

/** What the closed months of streams say of drivers; each series is made once. */
export function observedIn({ count, open, units, revenue }: Results): Observed {
  const made = new Map<string, Float64Array>();
  return (driver, stream) => {
    if (!OBSERVABLE.has(driver)) return undefined;
    const key = `${driver} ${stream}`;
    const known = made.get(key);
    if (known) return known;
    const start = stream * count;
    const values = Float64Array.from(
      { length: open },
      (_, t) =>
        observedValue(
          driver,
          (month) => units[start + month] ?? 0,
          (month) => revenue[start + month] ?? 0,
          t,
        ) ?? Number.NaN,
    );
    made.set(key, values);
    return values;
  };
}
