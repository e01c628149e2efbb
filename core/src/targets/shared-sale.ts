/** Sales that two sellers share by percent. Source: calculations, *Targets* (shared lines, exact). */
import { divide } from '../spread/divide.ts';

const SHARED = /^(\S+?)[\s:]+([\d.,]+)\s*%?\s*\+\s*(\S+?)[\s:]+([\d.,]+)\s*%?$/;
const HUNDRED = 100;

/**
 * Reads the seller of a sales line: a code, or two with their percents as `S01 60 + S02 40` (also
 * `S01:60% + S02:40%`).
 * @returns what is kept, or why it cannot be
 */
export function readSellers(text: string): { readonly kept: string } | { readonly wrong: string } {
  const plain = text.trim();
  if (!plain.includes('+')) return { kept: plain };
  const [, first = '', one = '', second = '', other = ''] = SHARED.exec(plain) ?? [];
  const [percent, rest] = [one, other].map((share) => Number(share.replace(',', '.')));
  if (first === '' || percent === undefined || rest === undefined) {
    return { wrong: `“${plain.slice(0, 40)}” is no seller; two share a sale as S01 60 + S02 40` };
  }
  if (first === second) return { wrong: `${first} shares the sale with nobody else` };
  if (!(percent > 0 && rest > 0) || Math.abs(percent + rest - HUNDRED) > 1e-9) {
    return { wrong: `The shares of ${first} and ${second} do not add up to 100 %` };
  }
  return { kept: `${first} ${percent} + ${second} ${rest}` };
}

/** What each of the two gets of whole cents or thousandths, adding up exactly. */
export function sharedBetween(amount: number, percent: number): [first: number, second: number] {
  const [first = 0, second = 0] = divide(amount, [percent, HUNDRED - percent]);
  return [first, second];
}
