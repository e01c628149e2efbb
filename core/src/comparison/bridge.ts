/** From planned to actual revenue by volume, mix and price. Source: calculations, *Comparison* (bridge). */

/** An item with what was planned of it and what was sold; revenue in one unit of money. */
export interface BridgeItem {
  readonly plannedUnits: number;
  readonly plannedRevenue: number;
  readonly units: number;
  readonly revenue: number;
}

/** Steps that add up exactly: plan + all of them = actual. */
export interface Bridge {
  readonly plan: number;
  readonly volume: number;
  readonly mix: number;
  readonly price: number;
  /** Revenue of items of which nothing was planned. */
  readonly new: number;
  /** Minus the plan of items of which nothing was sold. */
  readonly discontinued: number;
  /** The change of items that have no units on either side. */
  readonly withoutUnits: number;
  readonly actual: number;
}

const sum = <T>(items: readonly T[], of: (item: T) => number): number =>
  items.reduce((all, item) => all + of(item), 0);

/**
 * Over items with units on both sides: price = sum (p1 - p0) q1, volume = (Q1 - Q0) R0 / Q0, and mix
 * is what the new quantities at planned prices are beside that.
 */
export function bridge(items: readonly BridgeItem[]): Bridge {
  const both = items.filter(({ plannedUnits, units }) => plannedUnits > 0 && units > 0);
  const begun = items.filter(({ plannedUnits, units }) => !(plannedUnits > 0) && units > 0);
  const ended = items.filter(({ plannedUnits, units }) => plannedUnits > 0 && !(units > 0));
  const rest = items.filter(({ plannedUnits, units }) => !(plannedUnits > 0) && !(units > 0));

  const planned = sum(both, ({ plannedRevenue }) => plannedRevenue);
  const plannedUnits = sum(both, (item) => item.plannedUnits);
  const units = sum(both, (item) => item.units);
  const atPlannedPrice = sum(
    both,
    (item) => (item.plannedRevenue / item.plannedUnits) * item.units,
  );
  const volume = plannedUnits === 0 ? 0 : ((units - plannedUnits) * planned) / plannedUnits;
  return {
    plan: sum(items, ({ plannedRevenue }) => plannedRevenue),
    volume,
    mix: atPlannedPrice - planned - volume,
    price: sum(both, ({ revenue }) => revenue) - atPlannedPrice,
    new: sum(begun, (item) => item.revenue - item.plannedRevenue),
    discontinued: sum(ended, (item) => item.revenue - item.plannedRevenue),
    withoutUnits: sum(rest, (item) => item.revenue - item.plannedRevenue),
    actual: sum(items, ({ revenue }) => revenue),
  };
}
