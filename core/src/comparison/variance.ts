import type { Sense } from '../measures/catalogue.ts';
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
