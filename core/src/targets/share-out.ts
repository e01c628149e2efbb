import { divide } from '../spread/divide.ts';
import { toWholeRatios } from '../spread/fraction.ts';

/** A part of a target: a percent (25 is a quarter) of what is divided, or an amount in minor units. */
export type TargetPart =
  | { readonly kind: 'percent'; readonly percent: number }
  | { readonly kind: 'amount'; readonly amount: number };

/** What each part comes to, and what is left or too much, in minor units. */
export interface SharedOut {
  readonly amounts: number[];
  /** target - parts, when positive. */
  readonly unassigned: number;
  /** parts - target, when positive. */
  readonly overAssigned: number;
  /** The typed percents together, as typed: 101 when they add up to 101. */
  readonly percents: number;
}

/** Divides a target into its parts, to the cent: percents of the whole by the largest remainder. */
export function shareOut(target: number, parts: readonly TargetPart[]): SharedOut {
  const percents = parts.map((part) => (part.kind === 'percent' ? part.percent : 0));
  if (parts.every((part) => part.kind === 'amount')) {
    const amounts = parts.map(({ amount }) => amount);
    return { amounts, ...leftOf(target, amounts), percents: 0 };
  }
  const [hundred = 100n, ...exact] = toWholeRatios([100, ...percents]);
  const together = exact.reduce((sum, percent) => sum + percent, 0n);
  const pool = together > hundred ? roundedShare(target, together, hundred) : target;
  const rest = together > hundred ? 0n : hundred - together;
  const scale = Number(hundred) / 100;
  const shares = divide(pool, [...percents, Number(rest) / scale]);
  const amounts = parts.map((part, index) =>
    part.kind === 'amount' ? part.amount : (shares[index] ?? 0),
  );
  return { amounts, ...leftOf(target, amounts), percents: Number(together) / scale };
}

function leftOf(
  target: number,
  amounts: readonly number[],
): Pick<SharedOut, 'unassigned' | 'overAssigned'> {
  const left = target - amounts.reduce((sum, amount) => sum + amount, 0);
  return { unassigned: Math.max(0, left), overAssigned: Math.max(0, -left) };
}

/** total x part / whole, rounded half up, on integers. */
function roundedShare(total: number, part: bigint, whole: bigint): number {
  return Number((BigInt(total) * part * 2n + whole) / (whole * 2n));
}
