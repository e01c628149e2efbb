import type { AccuracyTable } from '@dravex/core';
import type { Formats } from '../format/numbers.ts';
import { monthsInWords } from '../format/periods.ts';

/** How good forecasts were, in a sentence: the shortest lead, and the longest that has months. */
export function accuracyHeadline(
  { total, rows }: AccuracyTable,
  subject: string,
  formats: Formats,
): string {
  const known = total.leads.filter(({ months, wape }) => months > 0 && wape !== null);
  const [first] = known;
  const last = known.at(-1);
  if (!first || !last) return 'No month has a kept forecast and actuals yet';
  const size = (share: number | null): string => formats.show(share, 'percent');
  const ahead = `Forecasts of ${subject} were ${size(first.wape)} off ${monthsInWords(first.lead)} ahead`;
  const far = last === first ? '' : `, ${size(last.wape)} off ${monthsInWords(last.lead)} ahead`;
  const outer = rows.filter(({ always }) => always !== null);
  const [one] = outer.filter(({ level }) => level === Math.max(...outer.map((row) => row.level)));
  const side = one?.always === 'tooHigh' ? 'too high' : 'too low';
  return `${ahead}${far}${one ? `; ${one.label} always ${side}` : ''}`;
}
