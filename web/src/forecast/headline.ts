import {
  MEASURES,
  ratio,
  type MeasureCode,
  type Month,
  type Span,
  type VersionMeasure,
} from '@dravex/core';
import type { Formats } from '../format/numbers.ts';
import { spanInWords } from '../format/periods.ts';

interface Found {
  readonly subject: string;
  /** Whether the subject names several. */
  readonly many: boolean;
  readonly measure: MeasureCode;
  readonly value: number | null;
  readonly span: Span;
  readonly closedThrough: Month;
  /** What it is held against, over the same months; null where there is nothing. */
  readonly against: { readonly name: string; readonly value: number } | null;
}

/** An amount of a measure in a sentence: `1.2 million`, `€32.10 a unit`, `12.1 million of gross margin`. */
export function amountInWords(value: number, measure: VersionMeasure, formats: Formats): string {
  const { name, display } = MEASURES[measure];
  switch (display) {
    case 'price':
      return `${formats.currency}${formats.show(value, 'price')} a unit`;
    case 'percent':
      return `${formats.show(value, 'percent')} ${name.toLowerCase()}`;
    case 'units':
      return `${formats.inWords(value)} ${measure === 'units' ? 'units' : name.toLowerCase()}`;
    default:
      return `${formats.inWords(value)}${measure === 'revenue' ? '' : ` of ${name.toLowerCase()}`}`;
  }
}

/** `1.2 % over budget`, or `as in budget` where nothing can be seen. */
export function againstInWords(
  value: number,
  against: { name: string; value: number },
  formats: Formats,
): string {
  const difference = ratio(value - against.value, Math.abs(against.value));
  if (difference === null) return '';
  const percent = formats.show(Math.abs(difference), 'percent');
  if (Math.abs(difference) < 0.0005) return `as in ${against.name}`;
  return `${percent} ${difference > 0 ? 'over' : 'under'} ${against.name}`;
}

/** What a table of the forecast found, as a sentence: always made from its numbers. */
export function forecastHeadline(found: Found, formats: Formats): string {
  const { subject, many, measure, value, span, closedThrough, against } = found;
  if (value === null || value === 0) return `Nothing is forecast here from ${spanInWords(span)}`;
  const size = amountInWords(value, measure, formats);
  let verb: string;
  if (measure !== 'revenue' && measure !== 'units') verb = many ? 'come to' : 'comes to';
  else if (span.to <= closedThrough) verb = 'sold';
  else if (span.from > closedThrough) verb = many ? 'are forecast to sell' : 'is forecast to sell';
  else verb = many ? 'are heading for' : 'is heading for';
  const held = against ? againstInWords(value, against, formats) : '';
  return `${subject} ${verb} ${size}${held ? `, ${held}` : ''}`;
}
