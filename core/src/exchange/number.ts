/** Reading numbers as people and programs write them. */

/** The sign between whole and fraction; the other one groups thousands. */
export type DecimalSign = '.' | ',';

/** A cell as files hold it: text, or a number where the format has numbers. */
export type Cell = string | number;

/** Why a text is no number of so many decimals. */
export type NumberFault = 'not-a-number' | 'other-style' | 'too-fine' | 'formula-error';

const CURRENCY = /^(?:\p{Sc}|[A-Z]{3})\s*|\s*(?:\p{Sc}|[A-Z]{3})$/gu;
const SPACES = /[\s\u00a0\u2009\u202f'’]/g;
const ERROR = /^#(?:DIV\/0!|N\/A|NAME\?|NULL!|NUM!|REF!|VALUE!|SPILL!|CALC!|ERROR!|NO RESULT!)$/;
const POWERS = Array.from({ length: 10 }, (_, digits) => 10 ** digits);

/** Whether a cell holds the error that a formula of a workbook ended with. */
export function isFormulaError(cell: Cell): boolean {
  return typeof cell === 'string' && cell.startsWith('#') && ERROR.test(cell);
}

/**
 * A cell as a whole number of its smallest parts: `12,50` with two digits is 1250. Knows grouped
 * thousands, currency signs, a minus behind, and brackets for negative amounts. Fractions of more
 * than three digits are rounded, half away from zero; one digit too many could be a thousand.
 * @param digits 0 to 9
 * @returns NaN when it is none; `numberFault` says why
 * @example readNumber('1.234,56 €', ',', 2) // 123456
 */
export function readNumber(cell: Cell, decimal: DecimalSign, digits: number): number {
  if (typeof cell === 'number') return roundedParts(cell, digits);
  const plain = plainParts(cell, decimal === '.' ? 46 : 44, digits);
  return Number.isNaN(plain) ? writtenParts(cell, decimal, digits) : plain;
}

function roundedParts(value: number, digits: number): number {
  // Fifteen digits are what a double holds: 1.005 is meant, not 1.00499999999999989.
  const shifted = Number((Math.abs(value) * (POWERS[digits] ?? 1)).toPrecision(15));
  return Math.sign(value) * Math.round(shifted);
}

/** The common case, digits with at most one decimal sign, without making a single string. */
function plainParts(text: string, sign: number, digits: number): number {
  const { length } = text;
  let at = 0;
  const first = text.charCodeAt(0);
  if (first === 45 || first === 43) at = 1;
  if (at === length) return Number.NaN;
  let parts = 0;
  let fraction = -1;
  for (; at < length; at += 1) {
    const code = text.charCodeAt(at);
    if (code >= 48 && code <= 57) {
      if (fraction >= 0) {
        fraction += 1;
        if (fraction > digits) return Number.NaN;
      }
      parts = parts * 10 + (code - 48);
    } else if (code === sign && fraction < 0 && at > 0) fraction = 0;
    else return Number.NaN;
  }
  if (fraction === 0) return Number.NaN;
  const scaled = parts * (POWERS[digits - Math.max(fraction, 0)] ?? 1);
  return first === 45 && scaled !== 0 ? -scaled : scaled;
}

/** A number without its dress: sign, whole digits, fraction digits. */
function undressed(text: string, decimal: DecimalSign) {
  let bare = text.trim().replaceAll('\u2212', '-');
  const bracketed = /^\((.*)\)$/.exec(bare);
  if (bracketed) bare = bracketed[1] ?? '';
  bare = bare.trim();
  // The sign may stand before or behind the currency.
  let minus = bracketed !== null;
  for (let i = 0; i < 2; i += 1) {
    bare = bare.replace(CURRENCY, '').trim();
    const signed = /^([+-])\s*(.*)$|^(.*?)\s*([+-])$/.exec(bare);
    if (signed) {
      if ((signed[1] ?? signed[4]) === '-') minus = !minus;
      bare = (signed[2] ?? signed[3] ?? '').trim();
    }
  }
  bare = bare.replace(SPACES, '');
  const group = decimal === '.' ? ',' : '\\.';
  const point = decimal === '.' ? '\\.' : ',';
  const pattern = new RegExp(`^(\\d{1,3}(?:${group}\\d{3})+|\\d*)(?:${point}(\\d+))?$`);
  const match = bare === '' ? null : pattern.exec(bare);
  if (!match || (match[1] === '' && match[2] === undefined)) return undefined;
  return { minus, whole: (match[1] ?? '').replace(/\D/g, ''), fraction: match[2] ?? '' };
}

function writtenParts(text: string, decimal: DecimalSign, digits: number): number {
  const number = undressed(text, decimal);
  if (!number) return Number.NaN;
  const fraction = number.fraction.replace(/0+$/, '');
  if (fraction.length > digits && number.fraction.length <= 3) return Number.NaN;
  const kept = fraction.slice(0, digits).padEnd(digits, '0');
  const up = (fraction.charCodeAt(digits) || 0) >= 53 ? 1 : 0;
  const parts = Number(`${number.whole}${kept}`) + up;
  return number.minus && parts !== 0 ? -parts : parts;
}

/**
 * The mark of a currency beside a number: a sign or a code of three letters; undefined without one.
 * @example currencyMark('USD 12.50') // 'USD'
 */
export function currencyMark(cell: Cell): string | undefined {
  return typeof cell === 'number' ? undefined : /\p{Sc}|[A-Z]{3}/u.exec(cell)?.[0];
}

/** Why `readNumber` gave NaN. */
export function numberFault(cell: Cell, decimal: DecimalSign): NumberFault {
  if (isFormulaError(cell)) return 'formula-error';
  const text = String(cell);
  if (undressed(text, decimal)) return 'too-fine';
  return undressed(text, decimal === '.' ? ',' : '.') ? 'other-style' : 'not-a-number';
}

/**
 * The decimal sign that most of the texts are written with; undefined when they do not tell.
 * `1.234,56` tells, and `12,5`. `1,234` tells only where nothing else does: it is a thousand then.
 */
export function decimalSignOf(texts: Iterable<string>): DecimalSign | undefined {
  let points = 0;
  let commas = 0;
  let groupedByPoint = 0;
  let groupedByComma = 0;
  for (const text of texts) {
    const bare = text
      .trim()
      .replace(CURRENCY, '')
      .replace(/^[-+(]+|[-+)]+$/g, '');
    if (!/\d/.test(bare) || /[^\d.,\s\u00a0\u202f'’]/.test(bare)) continue;
    const point = bare.lastIndexOf('.');
    const comma = bare.lastIndexOf(',');
    if (point >= 0 && comma >= 0) {
      if (point > comma) points += 1;
      else commas += 1;
    } else if (point >= 0) {
      if (isFraction(bare, point, '.')) points += 1;
      else groupedByPoint += 1;
    } else if (comma >= 0) {
      if (isFraction(bare, comma, ',')) commas += 1;
      else groupedByComma += 1;
    }
  }
  if (points === 0 && commas === 0) {
    points = groupedByComma;
    commas = groupedByPoint;
  }
  if (points === commas) return undefined;
  return points > commas ? '.' : ',';
}

/** One sign alone, and it cannot stand before a group of three. */
function isFraction(text: string, at: number, sign: string): boolean {
  if (text.indexOf(sign) !== at) return false;
  return text.length - at - 1 !== 3 || at === 0 || at > 3 || text.startsWith('0');
}
