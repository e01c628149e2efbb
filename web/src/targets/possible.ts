import type { TargetNode } from '@dravex/contract';
import { ratio } from '@dravex/core';
import { TEXTS } from './texts.ts';

/** Target against what speaks for or against it; fractions, null where nothing is known. */
export interface Possible {
  readonly node: TargetNode;
  readonly ofCapacity: number | null;
  readonly ofForecast: number | null;
  readonly ofBest: number | null;
  readonly verdict: string;
  /** Whether it stands out: far above or far below. */
  readonly outlier: boolean;
}

/** A target this far above or below is out of line. */
const HIGH = 1.2;
const LOW = 0.8;

/** A ratio of nothing says nothing. */
const over = (amount: number, base: number | null): number | null =>
  base === null || base <= 0 ? null : ratio(amount, base);

/** Whether the targets of people and teams can be reached, the most daring first. */
export function isPossible(nodes: readonly TargetNode[]): Possible[] {
  return nodes
    .filter(({ known, kind, parent }) => known && kind !== 'company' && parent !== null)
    .map((node): Possible => {
      const { kind, amount, capacity, outlook, best } = node;
      // What a team sells beside its people has no capacity.
      const ofCapacity = kind === 'person' ? over(amount, capacity) : null;
      const ofForecast = over(amount, outlook);
      const ofBest = over(amount, best);
      const [verdict, outlier] = verdictOf(node, { ofCapacity, ofForecast, ofBest });
      return { node, ofCapacity, ofForecast, ofBest, verdict, outlier };
    })
    .sort((a, b) => (b.ofForecast ?? 0) - (a.ofForecast ?? 0));
}

function verdictOf(
  { until, amount }: TargetNode,
  { ofCapacity, ofForecast, ofBest }: Pick<Possible, 'ofCapacity' | 'ofForecast' | 'ofBest'>,
): [verdict: string, outlier: boolean] {
  if (amount === 0) return [TEXTS.noTarget, false];
  if (until !== null && (ofForecast ?? 0) > 1) return [TEXTS.leavesHandOverWhatIs, true];
  if (ofCapacity !== null && ofCapacity > 1) return [TEXTS.beyondCapacity, true];
  if (ofBest !== null && ofBest > HIGH) return [TEXTS.farAboveBestTwelveMonths, true];
  if (ofForecast !== null && ofForecast > HIGH) return [TEXTS.farAboveForecast, true];
  if (ofForecast !== null && ofForecast < LOW) return [TEXTS.farBelowForecast, true];
  if (ofForecast === null && ofBest === null) return [TEXTS.nothingSoldSoFar, true];
  return [TEXTS.withinReach, false];
}
