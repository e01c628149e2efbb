/** Numbers as they leave in files and to reporting tools. */
import {
  MEASURES,
  type AnyMeasureCode,
  type Currency,
  type Display,
  type Scope,
} from '@dravex/core';
import { Figure } from '../platform/csv.ts';
import type { LoadedPlan } from './plans.ts';

/** The unit of a measure, as a column names it: `EUR`, `units`, `fraction`. */
export function unitName(measure: AnyMeasureCode, { code }: Currency): string {
  switch (MEASURES[measure].display) {
    case 'money':
      return code;
    case 'price':
      return `${code} per unit`;
    case 'percent':
      return 'fraction';
    default:
      return measure === 'lines' ? 'lines' : 'units';
  }
}

/** What a table that leaves as a workbook is about: whose it is, of what, when, and which numbers. */
export function aboutTable(
  { name, model }: LoadedPlan,
  {
    what,
    scope,
    from,
    to,
    origin,
  }: {
    readonly what: string;
    readonly scope: Scope;
    readonly from: string;
    readonly to: string;
    readonly origin?: 'all' | 'books' | 'hand' | undefined;
  },
): string[] {
  const { asOf, closedThrough } = model.plan.calendar;
  return [
    `${name}: ${what}`,
    scope.length > 0 ? model.tree.label(scope) : 'Everything',
    from === to ? from : `${from} to ${to}`,
    `Closed through ${closedThrough}, as of ${asOf}`,
    ...(origin === 'books' ? ['Only what is in the books'] : []),
    ...(origin === 'hand' ? ['Only what was entered by hand'] : []),
  ];
}

/** A measure and its unit, for the heading of a column. */
export function columnName(measure: AnyMeasureCode, currency: Currency): string {
  return `${MEASURES[measure].name}, ${unitName(measure, currency)}`;
}

/** A double holds so many digits of a decimal. */
const DIGITS = 15;

/**
 * A number as it is written: money with its currency's digits, everything else in full, but for what
 * sums of doubles leave in the last places.
 */
export function fieldOf(
  value: number | null,
  display: Display,
  { minorDigits }: Currency,
): number | Figure | null {
  if (value === null || !Number.isFinite(value)) return null;
  return display === 'money' ? moneyField(value, minorDigits) : Number(value.toPrecision(DIGITS));
}

/** Money with its currency's digits, `123456.00`. */
export function moneyField(value: number, minorDigits: number): Figure {
  return new Figure(roundedMoney(value, minorDigits).toFixed(minorDigits));
}

/** Money as a number that has no more than its currency's digits. */
export function roundedMoney(value: number, minorDigits: number): number {
  const parts = 10 ** minorDigits;
  // Half away from zero, as cells of a version are kept.
  return (Math.sign(value) * Math.round(Math.abs(value) * parts)) / parts || 0;
}
