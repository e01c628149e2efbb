/** What a subscriber is worth, and what keeps them. Source: calculations, *Subscriptions*. */
import { ratio } from '../measures/nature.ts';

/** Figures of one plan; null where there is nothing to divide by. */
export interface Worth {
  /** Months that a subscriber stays on average; null where nobody leaves. */
  readonly lifetime: number | null;
  /** price x margin x lifetime, in currency units. */
  readonly lifetimeValue: number | null;
  /** acquisition cost / (price x margin). */
  readonly monthsToPayBack: number | null;
}

/**
 * @param price a month, in currency units
 * @param margin the part of it that is left, as a fraction
 * @param lifetime in months, as `expectedMonths` has it; null where nobody leaves
 * @param acquisitionCost of one new subscriber; null where nothing is known to be spent
 */
export function worthOf(
  price: number,
  margin: number,
  lifetime: number | null,
  acquisitionCost: number | null,
): Worth {
  const kept = price * margin;
  return {
    lifetime,
    lifetimeValue: lifetime === null ? null : kept * lifetime,
    monthsToPayBack: acquisitionCost === null ? null : ratio(acquisitionCost, kept),
  };
}

/** What is left of the recurring revenue that was there, with what those who stay pay more and less. */
export const revenueKept = (
  opening: number,
  lost: number,
  expansion: number,
  contraction: number,
): number => opening - lost + expansion - contraction;

/** (opening - lost + expansion - contraction) / opening, of recurring revenue. */
export function netRevenueRetention(
  opening: number,
  lost: number,
  expansion: number,
  contraction: number,
): number | null {
  return ratio(revenueKept(opening, lost, expansion, contraction), opening);
}

/** Whole people or machines for so many customers: the next whole number of customers / per head. */
export const headsFor = (customers: number, perHead: number): number =>
  Math.ceil(customers / perHead - 1e-9);
