/** How assumptions of the sample are written: a driver, a scope by codes, a profile, and why. */
import { monthFrom, monthText, type Month } from '@dravex/core';
import { CALENDAR, type Line } from './company.ts';

export const FIRST_OPEN = monthFrom(CALENDAR.closedThrough) + 1;

export const LAST = monthFrom(CALENDAR.last);

export const round = (value: number, digits: number): number =>
  Math.round(value * 10 ** digits) / 10 ** digits;

export function scopeOf({ channel, product, group, region }: Line): Record<string, string> {
  return { channel, product: product.code, group, region };
}

export function months(value: (month: Month) => number): Record<string, number> {
  const values: Record<string, number> = {};
  for (let month = FIRST_OPEN; month <= LAST; month += 1) values[monthText(month)] = value(month);
  return values;
}

export const assume = (driver: string, scope: object, profile: object, note: string): object => ({
  driver,
  scope,
  profile,
  note,
});

export const value = (one: number): object => ({ kind: 'value', value: one });
