import type { Display, Sense } from '../measures/catalogue.ts';
import { ratio } from '../measures/nature.ts';

/** A difference between what happened and what was planned. */
export interface Variance {
  /** actual - plan, in the measure's unit. */
  readonly amount: number;
  /** variance / |plan| as a fraction; null when nothing was planned. */
  readonly percent: number | null;
  readonly judgement: 'good' | 'bad' | 'even';
}

/**
 * A difference as it is shown beside its two sides: that of the rounded ones.
 * @param step to what they are rounded: 1,000 where thousands are shown
 */
export function shownDifference(actual: number, plan: number, step: number): number {
  return (Math.round(actual / step) - Math.round(plan / step)) * step;
}

/** variance = actual - plan; percent = variance / |plan|; good or bad by the measure's nature. */
export function varianceOf(actual: number, plan: number, sense: Sense): Variance {
  const amount = actual - plan;
  const sign = Math.sign(amount) * (sense === 'moreIsGood' ? 1 : -1);
  return {
    amount,
    percent: ratio(amount, Math.abs(plan)),
    judgement: sign > 0 ? 'good' : sign < 0 ? 'bad' : 'even',
  };
}

/** From which size on a difference matters; 0 for any. */
export interface Materiality {
  /** In the measure's unit; of money alone. */
  readonly amount: number;
  /** Of what it is held against, as a fraction. */
  readonly share: number;
}

/**
 * Whether a difference matters: it reaches both the amount and the share. What has no share, because
 * nothing was planned, goes by its amount; what is no money by its share.
 */
export function isMaterial(
  { amount, percent }: Pick<Variance, 'amount' | 'percent'>,
  display: Display,
  least: Materiality,
): boolean {
  if (amount === 0) return false;
  const large = display !== 'money' || Math.abs(amount) >= least.amount;
  return large && (percent === null || Math.abs(percent) >= least.share);
}
