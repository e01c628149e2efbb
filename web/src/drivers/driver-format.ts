import type { Driver } from '@dravex/core';
import type { Display, Formats } from '../format/numbers.ts';
import { TEXTS } from './texts.ts';

/** How the values of a driver are shown. */
export function displayOf({ kind }: Pick<Driver, 'kind'>): Display {
  if (kind === 'percent') return 'percent';
  return kind === 'moneyPerUnit' || kind === 'ratio' ? 'price' : 'units';
}

/** A value of a driver as a person reads it; of a choice its label. */
export function showValue(driver: Driver, value: number | null, formats: Formats): string {
  if (value !== null && driver.kind === 'yesNo') return value === 1 ? TEXTS.yes : TEXTS.no;
  const label = driver.choices.find((choice) => choice.value === value)?.label;
  return label ?? formats.show(value, displayOf(driver));
}

/** The unit of a driver in words: `€ per unit`, `%`, `visits`. */
export function unitOf(driver: Driver, currency: string): string {
  switch (driver.kind) {
    case 'money':
      return `${currency} ${driver.unit}`.trim();
    case 'moneyPerUnit':
      return `${currency} ${driver.unit || TEXTS.perUnit}`;
    case 'percent':
      return '%';
    case 'yesNo':
      return TEXTS.yesOrNo;
    case 'choice':
      return TEXTS.oneOfList;
    default:
      return driver.unit;
  }
}

/** The bounds of a driver in words; empty where it has none. */
export function boundsOf(driver: Driver, formats: Formats): string {
  const { minimum } = driver;
  // A bound that only keeps numbers exact is nobody's bound.
  const maximum = driver.maximum !== null && driver.maximum >= 1e9 ? null : driver.maximum;
  const show = (value: number): string => showValue(driver, value, formats);
  if (minimum !== null && maximum !== null) return TEXTS.toOf(show(minimum), show(maximum));
  if (minimum !== null) return minimum === 0 ? TEXTS.notNegative : TEXTS.orMore(show(minimum));
  return maximum === null ? '' : TEXTS.orLess(show(maximum));
}
