import { ratio } from '@dravex/core';
import { againstInWords } from '../forecast/headline.ts';
import type { Formats } from '../format/numbers.ts';
import type { Standing, StandingLine } from './use-standing.ts';

/** Of what was planned the one that is further away; where nothing was planned, the year before. */
function furthest(lines: readonly StandingLine[]): StandingLine | undefined {
  const off = ({ now, should }: StandingLine): number =>
    Math.abs(ratio(now - (should ?? 0), Math.abs(should ?? 0)) ?? 0);
  const planned = lines.filter(({ key }) => !key.endsWith('before'));
  const [first, ...others] = planned.length > 0 ? planned : lines;
  return others.reduce((most, line) => (most && off(most) >= off(line) ? most : line), first);
}

/** Where the company stands, as a sentence made from the lines below it. */
export function standingHeadline(
  { lines, fiscalYear, closed }: Pick<Standing, 'lines' | 'fiscalYear' | 'closed'>,
  { subject, many }: { readonly subject: string; readonly many: boolean },
  formats: Formats,
): string {
  const outlook = furthest(lines.filter(({ forecast }) => forecast));
  const date = furthest(lines.filter(({ forecast }) => !forecast));
  if (!outlook && !date) return `FY ${fiscalYear} has no budget and no target yet`;
  const told = (line: NonNullable<typeof date>, name: string): string =>
    line.should === null ? '' : againstInWords(line.now, { name, value: line.should }, formats);
  const nameOf = ({ key, shouldName }: StandingLine): string => {
    if (key.endsWith('budget')) return shouldName;
    if (!key.endsWith('target')) return 'last year';
    return key.startsWith('date') && !closed ? 'target to date' : 'target';
  };
  const parts: string[] = [];
  if (date) {
    const when = closed ? `in FY ${fiscalYear}` : 'to date';
    parts.push(`${subject} sold ${formats.inWords(date.now)} ${when}, ${told(date, nameOf(date))}`);
  }
  if (outlook) {
    const start = date ? 'the year is heading' : `${subject} ${many ? 'are' : 'is'} heading`;
    parts.push(`${start} for ${formats.inWords(outlook.now)}, ${told(outlook, nameOf(outlook))}`);
  }
  return parts.join('; ');
}
