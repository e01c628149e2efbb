/** How many units a combination sells in a month, and at which list price: the truth behind the files. */
import { monthFrom, monthInYear, type Month } from '@dravex/core';
import { CALENDAR, CHANNELS, type Family, type Line, type Product } from './company.ts';

const START = monthFrom(CALENDAR.first);

/** January to December. Summer is high season for hardware; cartridges follow it. */
const SEASONS: Readonly<Record<'hardware' | 'cartridges' | 'plans', readonly number[]>> = {
  hardware: [0.8, 0.82, 0.9, 0.98, 1.12, 1.29, 1.34, 1.2, 0.98, 0.86, 0.84, 0.95],
  cartridges: [0.93, 0.92, 0.95, 0.96, 0.97, 1.0, 1.04, 1.08, 1.1, 1.05, 1.0, 0.98],
  plans: [1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1],
};

function seasonOf(family: Family): readonly number[] {
  if (family === 'cartridges') return SEASONS.cartridges;
  return family === 'plans' ? SEASONS.plans : SEASONS.hardware;
}

/** How high a family's season stands in a month; 1 is an average month. */
export function seasonIn(family: Family, month: Month): number {
  return seasonOf(family)[monthInYear(month) - 1] ?? 1;
}

/** The promotion on carafes in the web shop: every November since 2025. */
export function isPromotion(line: Line, month: Month): boolean {
  return (
    line.channel === 'web' &&
    line.product.family === 'carafes' &&
    monthInYear(month) === 11 &&
    month >= monthFrom('2025-11')
  );
}

const AD_BUDGET_CUT = monthFrom('2026-06');
const OFFICE_PARKS_SIGNED = monthFrom('2026-04');

/** What happened to one channel from a month on, as a factor on its units. */
function events(line: Line, month: Month): number {
  let factor = 1;
  if (line.channel === 'web' && line.product.family !== 'plans' && month >= AD_BUDGET_CUT) {
    const recovering = Math.max(0, month - monthFrom('2026-12'));
    factor *= Math.min(1, 0.84 + recovering * 0.012);
  }
  if (line.channel === 'office' && month >= OFFICE_PARKS_SIGNED) factor *= 1.09;
  if (isPromotion(line, month)) factor *= 1.6;
  return factor;
}

/** A product's first months ramp up; a discontinued one fades out over its last three. */
function lifeOf(product: Product, month: Month): number {
  if (product.from !== undefined) {
    if (month < product.from) return 0;
    return Math.min(1, 0.45 + 0.14 * (month - product.from));
  }
  if (product.to !== undefined) {
    if (month > product.to) return 0;
    return Math.min(1, 0.25 * (product.to - month + 1));
  }
  return 1;
}

/** Expected gross units of a month, without chance; plans by the month are counted in `subscribers.ts`. */
export function expectedUnits(line: Line, month: Month): number {
  const years = (month - START) / 12;
  const growth = (1 + CHANNELS[line.channel].growth) ** years;
  const season = seasonIn(line.product.family, month);
  return line.base * growth * season * lifeOf(line.product, month) * events(line, month);
}

function cents(value: number): number {
  return Math.round(value * 100) / 100;
}

/** When list prices went up, and by how much. */
const PRICE_STEPS: readonly { from: Month; families: readonly Family[]; rate: number }[] = [
  {
    from: monthFrom('2025-05'),
    families: ['carafes', 'tap-units', 'under-sink', 'dispensers'],
    rate: 0.04,
  },
  { from: monthFrom('2026-04'), families: ['cartridges'], rate: 0.05 },
];

/** List price in euros in a month of the history. */
export function listPrice(product: Product, month: Month): number {
  let price = product.price;
  for (const { from, families, rate } of PRICE_STEPS) {
    if (month >= from && families.includes(product.family)) price = cents(price * (1 + rate));
  }
  return price;
}

/** Discount as a fraction; cafés get less than landlords, the promotion more. */
export function discount(line: Line, month: Month): number {
  if (isPromotion(line, month)) return 0.2;
  if (line.channel === 'trade' && line.group === 'cafes') return 0.18;
  if (line.product.family === 'plans') return 0;
  return CHANNELS[line.channel].discount;
}

/** Return rate as a fraction of gross units. */
export function returnRate(line: Line): number {
  if (line.product.family === 'plans') return 0;
  if (line.channel === 'web' && line.product.family === 'tap-units') return 0.06;
  return CHANNELS[line.channel].returns;
}
