import { fractionOf } from './fraction.ts';

/** The floor of a quotient, also for negative numbers; bigint division cuts towards zero. */
function floored(numerator: bigint, denominator: bigint): bigint {
  const quotient = numerator / denominator;
  return numerator % denominator !== 0n && numerator < 0n ? quotient - 1n : quotient;
}

/**
 * Multiplies whole cells by a factor so that they add up to the rounded product of their total:
 * each cell's exact product is cut down, what is left goes to the largest remainders, ties to the
 * earlier cell. A total halfway between is rounded away from zero.
 *
 * `scaleExactly([1, 1, 1], 1.5)` is `[2, 2, 1]`: 4.5 is rounded to 5.
 * @param cells whole cents or units
 * @param factor the decimal that was typed counts, not the double beside it
 */
export function scaleExactly(cells: readonly number[], factor: number): number[] {
  const { numerator, denominator } = fractionOf(factor);
  const exact = cells.map((cell) => BigInt(cell) * numerator);
  const sum = exact.reduce((a, b) => a + b, 0n);
  const size = sum < 0n ? -sum : sum;
  const rounded = (size * 2n + denominator) / (denominator * 2n);
  const floors = exact.map((product) => floored(product, denominator));
  let left = (sum < 0n ? -rounded : rounded) - floors.reduce((a, b) => a + b, 0n);
  const order = exact
    .map((product, index) => ({ index, rest: product - (floors[index] ?? 0n) * denominator }))
    .sort((a, b) => (a.rest === b.rest ? a.index - b.index : a.rest > b.rest ? -1 : 1));
  for (const { index } of order) {
    if (left <= 0n) break;
    floors[index] = (floors[index] ?? 0n) + 1n;
    left -= 1n;
  }
  return floors.map(Number);
}
