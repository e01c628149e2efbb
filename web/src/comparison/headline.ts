import { MEASURES, type Comparison, type VersionMeasure } from '@dravex/core';
import type { Formats } from '../format/numbers.ts';
import { monthsInWords } from '../format/periods.ts';

/** A difference with what it is of, where the number alone does not say it. */
function sizeInWords(amount: number, measure: VersionMeasure, formats: Formats): string {
  const { name, display } = MEASURES[measure];
  switch (display) {
    case 'price':
      return `${formats.show(amount, 'price')} ${formats.currency} a unit`;
    case 'percent':
      return measure === 'marginRate'
        ? `${formats.show(amount, 'percent')} of revenue`
        : `${formats.show(amount, 'percent').replace(/\s*%/, ' points')} of ${name.toLowerCase()}`;
    case 'units':
      return `${formats.inWords(amount)} ${name.toLowerCase()}`;
    default:
      return `${formats.inWords(amount)}${name === 'Revenue' ? '' : ` of ${name.toLowerCase()}`}`;
  }
}

/** What the sides of a comparison are called within a sentence; actual sales are spoken of by their months. */
export interface SidesInWords {
  /** Nothing for actual sales. */
  readonly of?: string | undefined;
  readonly against: string;
}

/** What a comparison found, as a sentence: how far off, and where most of it is. */
export function comparisonHeadline(
  { total, rows, span }: Comparison,
  measure: VersionMeasure,
  formats: Formats,
  { of, against }: SidesInWords,
): string {
  if (!total?.variance || !span) {
    const some = total && rows.some(({ variance }) => variance);
    return some
      ? `${MEASURES[measure].name}: not every line has numbers on both sides`
      : 'There is nothing to compare in this period';
  }
  const { amount, percent } = total.variance;
  const months = monthsInWords(span.to - span.from + 1);
  const after = of === undefined ? `${months} in,` : `${of} is`;
  const lead = `${after.charAt(0).toUpperCase()}${after.slice(1)}`;
  const { nature } = MEASURES[measure];
  const size = sizeInWords(Math.abs(amount), measure, formats);
  if (percent !== null && Math.abs(percent) < 0.0005) return `${lead} as ${against}`;
  const side = amount > 0 ? 'over' : 'under';
  const outer = rows.filter(({ level, variance }) => level === 0 && variance);
  const share = (row: (typeof outer)[number]): number =>
    (row.variance?.amount ?? 0) * Math.sign(amount);
  const most = outer.reduce<(typeof outer)[number] | undefined>(
    (best, row) => (best === undefined || share(row) > share(best) ? row : best),
    undefined,
  );
  const where =
    most && outer.length > 1 && nature !== 'ratio' && share(most) > 0
      ? `, most of it in ${most.label}`
      : '';
  return `${lead} ${size} ${side} ${against}${where}`;
}
