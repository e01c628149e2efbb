import { spreadAsTheyStand } from './divide.ts';

/** Parts of a unit that are kept where a total or its cells are not whole. */
const FINEST = 1000;

/**
 * Spreads a total over cells as they stand: in whole units where it and all cells are whole, else in
 * thousandths, or in the parts that are named.
 * @param parts to the unit: 100 for money in cents
 */
export function spreadInParts(total: number, cells: readonly number[], parts?: number): number[] {
  const whole = [total, ...cells].every(Number.isInteger);
  const fine = parts ?? (whole ? 1 : FINEST);
  return spreadAsTheyStand(
    Math.round(total * fine),
    cells.map((cell) => Math.round(cell * fine)),
  ).map((value) => value / fine);
}
