import { toWholeRatios } from './fraction.ts';

/** Why a division cannot be made. `excess` is in the unit of the total (cents, units). */
export class DivisionError extends Error {
  readonly code: 'over-committed' | 'no-weights' | 'negative-weight' | 'not-whole';
  readonly excess: number;

  constructor(code: DivisionError['code'], message: string, excess = 0) {
    super(message);
    this.name = 'DivisionError';
    this.code = code;
    this.excess = excess;
  }
}

function requireWhole(total: number): void {
  if (!Number.isSafeInteger(total)) {
    throw new DivisionError('not-whole', `${total} is not a whole number of cents or units`);
  }
}

/**
 * Divides a whole total by weights, exactly: shares by the largest remainder, remainders compared
 * as integers, ties to the earlier child; a negative total by its absolute value.
 *
 * Source of the method: largest remainder (Hamilton). `divide(100, [1, 1, 1])` is `[34, 33, 33]`.
 * @param total whole cents or units
 * @param weights not negative; the decimal that was typed counts, not the double beside it
 * @returns whole shares in the order of the weights, adding up to the total
 * @throws DivisionError for a total that is not whole, a negative weight, or only zero weights under a total
 */
export function divide(total: number, weights: readonly number[]): number[] {
  requireWhole(total);
  if (weights.some((weight) => weight < 0)) {
    throw new DivisionError('negative-weight', 'A weight is negative; weights are zero or more');
  }
  const ratios = toWholeRatios(weights);
  const sum = ratios.reduce((a, b) => a + b, 0n);
  if (sum === 0n) {
    if (total !== 0) {
      throw new DivisionError(
        'no-weights',
        'All weights are zero, so there is nothing to divide by',
      );
    }
    return weights.map(() => 0);
  }
  const amount = BigInt(Math.abs(total));
  const shares = ratios.map((ratio) => (amount * ratio) / sum);
  const remainders = ratios.map((ratio) => (amount * ratio) % sum);
  let left = Number(amount - shares.reduce((a, b) => a + b, 0n));
  const byRemainder = remainders
    .map((remainder, index) => ({ remainder, index }))
    .sort((a, b) =>
      a.remainder === b.remainder ? a.index - b.index : a.remainder > b.remainder ? -1 : 1,
    );
  for (const { index } of byRemainder) {
    if (left <= 0) break;
    shares[index] = (shares[index] ?? 0n) + 1n;
    left -= 1;
  }
  return shares.map((share) => (total < 0 && share !== 0n ? -Number(share) : Number(share)));
}

/** A child of an allocation: it takes part by its weight, or keeps what is locked. */
export interface Child {
  readonly weight: number;
  readonly locked?: number | undefined;
}

/** What each child gets, and what nobody got because every child was locked. */
export interface Allocation {
  readonly amounts: number[];
  readonly unassigned: number;
}

/**
 * Divides a total among children of which some are locked and keep theirs.
 * @throws DivisionError `over-committed` with the excess when the locks go beyond the total
 */
export function allocate(total: number, children: readonly Child[]): Allocation {
  requireWhole(total);
  const locked = children.reduce((sum, child) => sum + (child.locked ?? 0), 0);
  const rest = total - locked;
  // Locks of credits go beyond a total of credits downwards; any others go beyond it upwards.
  const beyond = total < 0 && locked <= 0 ? rest > 0 : rest < 0;
  if (beyond) {
    throw new DivisionError(
      'over-committed',
      'What is locked goes beyond the total',
      Math.abs(rest),
    );
  }
  const free = children.filter((child) => child.locked === undefined);
  if (free.length === 0) {
    return { amounts: children.map((child) => child.locked ?? 0), unassigned: rest };
  }
  const shares = divide(
    rest,
    free.map((child) => child.weight),
  );
  let next = 0;
  const amounts = children.map((child) => child.locked ?? shares[next++] ?? 0);
  return { amounts, unassigned: 0 };
}

/**
 * Types a new total over cells: the *change* is divided by the absolute values of the cells as
 * they stand, equally when all are zero.
 * @param cells whole cents or units
 * @returns the new cells, adding up to the total
 */
export function spreadAsTheyStand(total: number, cells: readonly number[]): number[] {
  const standing = cells.reduce((sum, cell) => sum + cell, 0);
  const sizes = cells.map((cell) => Math.abs(cell));
  const weights = sizes.some((size) => size > 0) ? sizes : cells.map(() => 1);
  const changes = divide(total - standing, weights);
  return cells.map((cell, index) => cell + (changes[index] ?? 0));
}
