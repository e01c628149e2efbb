import type { MethodCode } from '../plan.ts';
import { amount } from './amount.ts';
import { baseline } from './baseline.ts';
import { formula } from './formula.ts';
import { funnel } from './funnel.ts';
import { growthLastYear, growthPeriod } from './growth.ts';
import { marketShare } from './market-share.ts';
import type { Method } from './method.ts';
import { subscription } from './subscription.ts';
import { volumePrice } from './volume-price.ts';

/** Every method there is. To add one is to add its file and its line here. */
export const METHODS: Readonly<Record<MethodCode, Method>> = {
  volumePrice,
  amount,
  growthLastYear,
  growthPeriod,
  marketShare,
  funnel,
  baseline,
  subscription,
  formula,
};
