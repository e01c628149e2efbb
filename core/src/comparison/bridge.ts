/** From planned to actual revenue by volume, mix and price. Source: calculations, *Comparison* (bridge). */
import type { Span } from '../calendar/period.ts';
import type { Scope } from '../dimensions/dimension.ts';
import type { MemberTree } from '../dimensions/member-tree.ts';
import { inScope } from '../dimensions/row-tree.ts';
import { lastSuccessors } from '../dimensions/successors.ts';
import { roundedTogether } from '../spread/rounded-together.ts';
import type { Figures } from '../tables/figures.ts';

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
  const begun = items.filter(isNew);
  const ended = items.filter(isGone);
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

/** The steps of a bridge in their order, from the plan to the actual. */
export const REVENUE_STEPS = [
  'volume',
  'mix',
  'price',
  'replaced',
  'new',
  'discontinued',
  'withoutUnits',
] as const satisfies readonly (keyof ComparedBridge)[];

/** Members with what came in their place, and what both come to. */
export interface ReplacedPair {
  /** "Rill for Dew". */
  readonly name: string;
  readonly plan: number;
  readonly actual: number;
}

/** A bridge with what stands behind its steps. */
export interface ComparedBridge extends Bridge {
  /** The change of items of which one replaces another that begins or ends meanwhile. */
  readonly replaced: number;
  /** These by the members that replace each other, the largest change first. */
  readonly pairs: readonly ReplacedPair[];
  /** Units of the items on both sides, planned and actual. */
  readonly plannedUnits: number;
  readonly units: number;
  /** How many items are new, and how many are no longer there. */
  readonly newItems: number;
  readonly discontinuedItems: number;
}

/**
 * The bridge from planned to actual revenue. Items are what the lowest rows of a table are: the
 * combinations of a scope, added up by the members of some dimensions.
 * @param by codes of dimensions; what differs within an item counts as its price
 * @returns null where a number of either side is missing
 */
export function bridgeOf(
  actual: Figures,
  planned: Figures,
  tree: MemberTree,
  {
    by,
    scope,
    span,
  }: { readonly by: readonly string[]; readonly scope: Scope; readonly span: Span },
): ComparedBridge | null {
  const places = by.map((code) => tree.dimensions.findIndex((one) => one.code === code));
  const items = new Map<string, BridgeItem>();
  const sumOf = (figures: Figures, code: 'units' | 'revenue', index: number): number => {
    let all = 0;
    for (let month = span.from; month <= span.to; month += 1) {
      all += figures.measures[code][index * figures.count + month - figures.first] ?? 0;
    }
    return all;
  };
  const membersOf = new Map<string, readonly number[]>();
  for (const index of inScope(tree, actual.combinations, scope)) {
    const members = actual.combinations[index]?.members ?? [];
    const named = places.map((place) => members[place] ?? 0);
    const key = named.join();
    membersOf.set(key, named);
    const item = items.get(key) ?? { plannedUnits: 0, plannedRevenue: 0, units: 0, revenue: 0 };
    items.set(key, {
      plannedUnits: item.plannedUnits + sumOf(planned, 'units', index),
      plannedRevenue: item.plannedRevenue + sumOf(planned, 'revenue', index),
      units: item.units + sumOf(actual, 'units', index),
      revenue: item.revenue + sumOf(actual, 'revenue', index),
    });
  }
  const { pairs, rest: all } = pairsApart(tree, items, membersOf);
  const [planOfPairs, ofPairs] = [sum(pairs, ({ plan }) => plan), sum(pairs, (p) => p.actual)];
  const own = bridge(all);
  const made = {
    ...{ ...own, plan: own.plan + planOfPairs, actual: own.actual + ofPairs },
    ...{ replaced: ofPairs - planOfPairs, pairs },
  };
  if (!Number.isFinite(made.plan) || !Number.isFinite(made.actual)) return null;
  const both = all.filter(({ plannedUnits, units }) => plannedUnits > 0 && units > 0);
  return {
    ...made,
    plannedUnits: sum(both, ({ plannedUnits }) => plannedUnits),
    units: sum(both, ({ units }) => units),
    newItems: all.filter(isNew).length,
    discontinuedItems: all.filter(isGone).length,
  };
}

const isNew = ({ plannedUnits, units }: BridgeItem): boolean => !(plannedUnits > 0) && units > 0;
const isGone = ({ plannedUnits, units }: BridgeItem): boolean => plannedUnits > 0 && !(units > 0);

/** Items of which one came in another one's place, one of them new or gone, apart from all others. */
function pairsApart(
  tree: MemberTree,
  items: ReadonlyMap<string, BridgeItem>,
  membersOf: ReadonlyMap<string, readonly number[]>,
): { pairs: ReplacedPair[]; rest: BridgeItem[] } {
  const standsFor = lastSuccessors(tree);
  const groups = new Map<string, string[]>();
  for (const key of items.keys()) {
    const head = (membersOf.get(key) ?? []).map(standsFor).join();
    groups.set(head, [...(groups.get(head) ?? []), key]);
  }
  const pairs = new Map<string, ReplacedPair>();
  const rest: BridgeItem[] = [];
  for (const [head, keys] of groups) {
    const own = keys.flatMap((key) => items.get(key) ?? []);
    const filled = keys.filter((key) => {
      const item = items.get(key);
      return item && (item.plannedRevenue !== 0 || item.revenue !== 0);
    });
    if (filled.length < 2 || !own.some((item) => isNew(item) || isGone(item))) {
      rest.push(...own);
      continue;
    }
    const heads = head.split(',').map(Number);
    const name = heads
      .flatMap((last, place) => {
        const before = [...new Set(filled.map((key) => membersOf.get(key)?.[place] ?? last))];
        const replaced = before.filter((member) => member !== last);
        if (replaced.length === 0) return [];
        const names = replaced.map((member) => tree.member(member).name);
        return [`${tree.member(last).name} for ${names.join(' and ')}`];
      })
      .join(', ');
    const pair = pairs.get(name) ?? { name, plan: 0, actual: 0 };
    pairs.set(name, {
      name,
      plan: pair.plan + sum(own, ({ plannedRevenue }) => plannedRevenue),
      actual: pair.actual + sum(own, ({ revenue }) => revenue),
    });
  }
  const change = ({ plan, actual }: ReplacedPair): number => Math.abs(actual - plan);
  return { pairs: [...pairs.values()].sort((a, b) => change(b) - change(a)), rest };
}

/**
 * Steps as they are shown: plan and actual rounded, and steps that add up to their difference.
 * @param names of the steps
 * @param unit what a shown number counts: 1,000 shows thousands
 */
export function shownSteps<S extends string>(
  bridge: Readonly<Record<S | 'plan' | 'actual', number>>,
  names: readonly S[],
  unit: number,
): Record<S | 'plan' | 'actual', number> {
  const round = (value: number): number => Math.round(value / unit) * unit;
  const [plan, actual] = [round(bridge.plan), round(bridge.actual)];
  const steps = roundedTogether(
    names.map((step) => bridge[step] / unit),
    (actual - plan) / unit,
  );
  const shown = names.map((step, place) => [step, (steps[place] ?? 0) * unit] as const);
  return Object.fromEntries([['plan', plan], ['actual', actual], ...shown]) as Record<
    S | 'plan' | 'actual',
    number
  >;
}
