import type { Funnel } from '@dravex/core';

/** A funnel to begin with: one source and one step. */
export const blankFunnel = (): Funnel => ({
  sources: [{ name: 'Visits', kind: 'typed', drivers: ['grossUnits'], enters: 0 }],
  steps: [{ name: 'Buys', rate: 'marketShare', lag: 0, opening: [], cost: null }],
});
