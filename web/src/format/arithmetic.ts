import type { Arithmetic } from '@dravex/core';
import type { Formats } from './numbers.ts';

const SIZES: Readonly<Record<string, number>> = { k: 1e3, m: 1e6 };

/** A factor or a product as a person would work it out: 1.2 million is 1200000, not a double beside it. */
function decimal(value: number): number {
  return Number(value.toPrecision(15));
}

/**
 * Reads what was typed over a number: `1.2m`, `15k`, `12,5` by locale and `-2k` are values; `+=2k`
 * and `-=2k` change what is there, `+8%`, `-8%` and `x1.1` multiply it, `+2pt` adds points to a
 * percent. `undefined` for anything else.
 * @param percent whether the number is a rate: 25 or 25% is typed for 0.25
 * @param unit in which a plain number is typed, as it is shown; `k` and `m` say their size themselves
 */
export function readArithmetic(
  text: string,
  formats: Formats,
  percent: boolean,
  unit = 1,
): Arithmetic | undefined {
  const plain = text.trim().replaceAll('\u2212', '-').replaceAll('\u00d7', 'x').toLowerCase();
  const number = (part: string, asPercent: boolean, plainUnit = unit): number | undefined => {
    const [, digits = '', size = ''] = /^(.*?)\s*([km]?)$/.exec(part) ?? [];
    const value = formats.read(digits, asPercent);
    return value === undefined ? undefined : decimal(value * (SIZES[size] ?? plainUnit));
  };
  const change = /^([+-])=(.+)$/.exec(plain);
  if (change) {
    const value = number(change[2] ?? '', percent);
    return value === undefined
      ? undefined
      : { kind: 'add', value: change[1] === '-' ? -value : value };
  }
  const points = /^([+-])([^+-].*?)\s*pt$/.exec(plain);
  if (points) {
    const value = percent ? formats.read(points[2] ?? '', true) : undefined;
    return value === undefined
      ? undefined
      : { kind: 'add', value: points[1] === '-' ? -value : value };
  }
  const share = /^([+-])([^+-].*?)\s*%$/.exec(plain);
  // A negative percent is no change: only a rate can be typed as one, and rates have no minus here.
  if (share) {
    const value = formats.read(share[2] ?? '', true);
    return value === undefined
      ? undefined
      : { kind: 'times', factor: decimal(1 + (share[1] === '-' ? -value : value)) };
  }
  const factor = /^x\s*(.+)$/.exec(plain);
  if (factor) {
    const value = number(factor[1] ?? '', false, 1);
    return value === undefined ? undefined : { kind: 'times', factor: value };
  }
  const value = number(plain, percent);
  return value === undefined ? undefined : { kind: 'set', value };
}
