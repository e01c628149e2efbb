import { againstInWords } from '../forecast/headline.ts';
import type { Formats } from '../format/numbers.ts';
import type { Standing } from './use-standing.ts';

/** Where the company stands, as a sentence made from the lines below it. */
export function standingHeadline(
  { lines, fiscalYear }: Pick<Standing, 'lines' | 'fiscalYear'>,
  { subject, many }: { readonly subject: string; readonly many: boolean },
  formats: Formats,
): string {
  const outlook = lines.find(({ forecast }) => forecast);
  const date = lines.find(({ forecast }) => !forecast);
  if (!outlook && !date) return `FY ${fiscalYear} has no budget and no target yet`;
  const told = (line: NonNullable<typeof date>, name: string): string =>
    line.should === null ? '' : againstInWords(line.now, { name, value: line.should }, formats);
  const nameOf = (line: NonNullable<typeof date>): string =>
    line.key.endsWith('budget') ? 'budget' : line.key.endsWith('target') ? 'target' : 'last year';
  const parts: string[] = [];
  if (date) {
    parts.push(`${subject} sold ${formats.inWords(date.now)} to date, ${told(date, nameOf(date))}`);
  }
  if (outlook) {
    const start = date ? 'the year is heading' : `${subject} ${many ? 'are' : 'is'} heading`;
    parts.push(`${start} for ${formats.inWords(outlook.now)}, ${told(outlook, nameOf(outlook))}`);
  }
  return parts.join('; ');
}
