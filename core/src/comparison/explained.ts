/** A comparison with its causes. */
import type { Span } from '../calendar/period.ts';
import type { Model } from '../forecast/run.ts';
import type { Source } from '../sources/source.ts';
import type { TargetScopes } from '../targets/target-of-scope.ts';
import { bridgeOf, type ComparedBridge } from './bridge.ts';
import { driverBridgeOf, type DriverBridge } from './by-driver.ts';
import {
  compare,
  type BesideSide,
  type ComparedSide,
  type Comparison,
  type ComparisonQuery,
} from './compare.ts';

/** A comparison with why revenue differs, by items and by drivers; null of other measures. */
export interface ExplainedComparison extends Comparison {
  readonly bridge: ComparedBridge | null;
  /** Null also where the first side is not sales. */
  readonly drivers: DriverBridge | null;
}

/** A source with its numbers, as it is compared. */
export interface NamedSide {
  readonly source: Source;
  readonly figures: ComparedSide;
}
/** Of a target only what it gives to scopes is known: why it differs is not. */
export interface TargetSide {
  readonly figures: TargetScopes;
}

/**
 * Compares sources, and says of revenue why the first two differ: by the items of the lowest rows,
 * and by drivers.
 * @param model without its streams where the sides are laid out otherwise than it is: no drivers then
 * @param covered the months that all have; undefined for none
 * @param beside what else it is held against
 */
export function compareAndExplain(
  model: Model | Pick<Model, 'tree'>,
  of: NamedSide | TargetSide,
  against: NamedSide | TargetSide,
  query: ComparisonQuery,
  covered: Span | undefined,
  beside: readonly BesideSide[] = [],
): ExplainedComparison {
  const { tree } = model;
  const compared = compare(of.figures, against.figures, tree, query, covered, beside);
  const { rows: by, scope, measure } = query;
  const { span } = compared;
  const sources = 'source' in of && 'source' in against;
  if (measure !== 'revenue' || span === null || !sources) {
    return { ...compared, bridge: null, drivers: null };
  }
  return {
    ...compared,
    bridge: bridgeOf(of.figures, against.figures, tree, { by, scope, span }),
    drivers: 'closed' in model ? driverBridgeOf(model, of, against, { scope, span }) : null,
  };
}
