/** Reading days and months as people and programs write them. */
import type { Cell } from './number.ts';

/** The order of a date's parts: 2026-10-12, 12.10.2026, 10/12/2026. */
export type DateStyle = 'ymd' | 'dmy' | 'mdy';

const EARLIEST = 1990;
const LATEST = 2100;
const MONTH_NAMES: readonly (readonly string[])[] = [
  ['jan', 'januar', 'january', 'janvier', 'enero'],
  ['feb', 'februar', 'february', 'fevrier', 'febrero'],
  ['mar', 'mrz', 'marz', 'maerz', 'march', 'mars', 'marzo'],
  ['apr', 'april', 'avril', 'abril'],
  ['may', 'mai', 'mayo'],
  ['jun', 'juni', 'june', 'juin', 'junio'],
  ['jul', 'juli', 'july', 'juillet', 'julio'],
  ['aug', 'august', 'aout', 'agosto'],
  ['sep', 'sept', 'september', 'septembre', 'septiembre'],
  ['oct', 'okt', 'october', 'oktober', 'octobre', 'octubre'],
  ['nov', 'november', 'novembre', 'noviembre'],
  ['dec', 'dez', 'december', 'dezember', 'decembre', 'diciembre'],
];
const NAMED = new Map(
  MONTH_NAMES.flatMap((names, index) => names.map((name) => [name, index + 1])),
);

/** The month, 1 to 12, that a word names in one of the languages that are known; else undefined. */
export function monthNamed(word: string): number | undefined {
  return NAMED.get(word.normalize('NFD').replace(/\p{M}/gu, '').toLowerCase().replace(/\.$/, ''));
}

function fullYear(text: string): number {
  return text.length === 2 ? 2000 + Number(text) : Number(text);
}

/** ISO text of a day that exists, between 1990 and 2100. */
function dayText(year: number, month: number, day: number): string | undefined {
  if (year < EARLIEST || year > LATEST || month < 1 || month > 12 || day < 1) return undefined;
  if (day > new Date(Date.UTC(year, month, 0)).getUTCDate()) return undefined;
  return `${year}-${String(month).padStart(2, '0')}-${String(day).padStart(2, '0')}`;
}

const ISO = /^(\d{4})-(\d{2})-(\d{2})(?:[T ]\d{2}:\d{2}.*)?$/;
const PARTS = /^(\d{1,4})[./\s-]+(\d{1,2})[./\s-]+(\d{1,4})(?:[ T]\d{1,2}:\d{2}.*)?$/;
const DIGITS = /^(\d{4})(\d{2})(\d{2})$/;
const DAY_WORD = /^(\d{1,2})\.?[\s-]+(\p{L}+\.?)[\s,-]+(\d{4}|\d{2})$/u;
const WORD_DAY = /^(\p{L}+\.?)\s+(\d{1,2}),?\s+(\d{4})$/u;

/**
 * A day as ISO text, `2026-10-12`; undefined when it is none or lies outside 1990 to 2100. ISO is
 * read in any style, a month alone is its first day, and a bare number counts days as workbooks do.
 * @example readDay('29.02.2025', 'dmy') // undefined: there is no such day
 */
export function readDay(cell: Cell, style: DateStyle): string | undefined {
  if (typeof cell === 'number') return serialDay(cell);
  const text = cell.trim();
  let match = ISO.exec(text) ?? DIGITS.exec(text);
  if (match) return dayText(Number(match[1]), Number(match[2]), Number(match[3]));
  match = PARTS.exec(text);
  if (match) {
    const [, a = '', b = '', c = ''] = match;
    if (a.length > 2) return dayText(fullYear(a), Number(b), Number(c));
    const year = fullYear(c);
    return style === 'mdy'
      ? dayText(year, Number(a), Number(b))
      : dayText(year, Number(b), Number(a));
  }
  match = DAY_WORD.exec(text);
  if (match) {
    const month = monthNamed(match[2] ?? '');
    return month === undefined
      ? undefined
      : dayText(fullYear(match[3] ?? ''), month, Number(match[1]));
  }
  match = WORD_DAY.exec(text);
  if (match) {
    const month = monthNamed(match[1] ?? '');
    return month === undefined ? undefined : dayText(Number(match[3]), month, Number(match[2]));
  }
  const month = readMonth(text);
  return month === undefined ? undefined : `${month}-01`;
}

/** A day by its number as workbooks count them: 1 is the first of January 1900, and 60 never was. */
function serialDay(serial: number): string | undefined {
  if (!Number.isFinite(serial) || serial < 61) return undefined;
  const date = new Date(Date.UTC(1899, 11, 30 + Math.floor(serial)));
  return dayText(date.getUTCFullYear(), date.getUTCMonth() + 1, date.getUTCDate());
}

const YEAR_MONTH = /^(\d{4})\s*[-/.M]\s*(\d{1,2})$/;
const MONTH_YEAR = /^(\d{1,2})\s*[-/.]\s*(\d{4})$/;
const WORD_YEAR = /^(\p{L}+\.?)[\s/'’-]*(\d{4}|\d{2})$/u;
const YEAR_WORD = /^(\d{4})[\s-]*(\p{L}+\.?)$/u;
const FIRST_OF = /^(\d{4})-(\d{2})-01(?:[T ].*)?$/;

/**
 * A month as `2026-10`, from `10/2026`, `Oct 2026`, `2026M10`, or its first day; undefined when it is none.
 */
export function readMonth(text: string): string | undefined {
  const bare = text.trim();
  let match = FIRST_OF.exec(bare) ?? YEAR_MONTH.exec(bare);
  if (match) return monthOf(Number(match[1]), Number(match[2]));
  match = MONTH_YEAR.exec(bare);
  if (match) return monthOf(Number(match[2]), Number(match[1]));
  match = WORD_YEAR.exec(bare);
  if (match) return monthOf(fullYear(match[2] ?? ''), monthNamed(match[1] ?? ''));
  match = YEAR_WORD.exec(bare);
  if (match) return monthOf(Number(match[1]), monthNamed(match[2] ?? ''));
  match = /^(\d{4})(\d{2})$/.exec(bare);
  return match ? monthOf(Number(match[1]), Number(match[2])) : undefined;
}

function monthOf(year: number, month: number | undefined): string | undefined {
  return month === undefined ? undefined : dayText(year, month, 1)?.slice(0, 7);
}

/**
 * The order in which most of the dates are written; undefined when they do not tell: `03/04/2026`
 * does not, `13/04/2026` does, and so do dots.
 */
export function dateStyleOf(texts: Iterable<string>): DateStyle | undefined {
  const votes: Record<DateStyle, number> = { ymd: 0, dmy: 0, mdy: 0 };
  for (const text of texts) {
    const match = PARTS.exec(text.trim());
    if (!match) continue;
    const [, a = '', b = ''] = match;
    if (a.length > 2) votes.ymd += 1;
    else if (Number(a) > 12) votes.dmy += 1;
    else if (Number(b) > 12) votes.mdy += 1;
    else if (/^\d+\.\d+\./.test(text.trim())) votes.dmy += 1;
  }
  const best = (Object.keys(votes) as DateStyle[]).toSorted((a, b) => votes[b] - votes[a])[0];
  return best !== undefined && votes[best] > 0 ? best : undefined;
}
