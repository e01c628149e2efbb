import { scaleExactly } from './scale.ts';

/** What a person typed over numbers: a new value, a change, or a factor. */
export type Arithmetic =
  | { readonly kind: 'set'; readonly value: number }
  | { readonly kind: 'add'; readonly value: number }
  | { readonly kind: 'times'; readonly factor: number };

/** Sums and products of decimals as a person would work them out: 0.1 + 0.2 is 0.3. */
function decimal(value: number): number {
  return Number(value.toPrecision(15));
}

/**
 * Does what was typed to a cell or to all cells of a selection. Whole counts stay whole, and a
 * selection of them multiplied adds up to its multiplied total, rounded once.
 * @param whole whether the cells are whole counts
 */
export function applyArithmetic(
  typed: Arithmetic,
  values: readonly number[],
  whole: boolean,
): number[] {
  switch (typed.kind) {
    case 'set':
      return values.map(() => typed.value);
    case 'add':
      return values.map((value) => decimal(value + typed.value));
    case 'times':
      return whole && values.every(Number.isSafeInteger)
        ? scaleExactly(values, typed.factor)
        : values.map((value) => decimal(value * typed.factor));
  }
}
