import type { Funnel } from '@dravex/core';
import { TEXTS } from './texts.ts';

/** A funnel to begin with: one source and one step. */
export const blankFunnel = (): Funnel => ({
  sources: [{ name: TEXTS.visits, kind: 'typed', drivers: ['grossUnits'], enters: 0 }],
  steps: [{ name: TEXTS.buys, rate: 'marketShare', lag: 0, opening: [], cost: null }],
});
