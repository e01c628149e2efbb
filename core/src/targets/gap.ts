/** Why a target is ahead or behind, as a ledger that adds up. Source: calculations, *Targets*. */
import type { Month } from '../calendar/month.ts';
import { bridge } from '../comparison/bridge.ts';
import { YEAR, type Holder, type ItemSales, type YearStandings } from './standing.ts';
import type { TargetLine } from './target-tree.ts';

/** One step from the target to date to actual; in whole numbers of the measure. */
export interface GapStep {
  readonly kind:
    | 'growth'
    | 'phasing'
    | 'joiners'
    | 'leavers'
    | 'volume'
    | 'mix'
    | 'price'
    | 'new'
    | 'discontinued'
    | 'other';
  readonly value: number;
}

/** Why actual is what it is beside the target to date. */
export interface Gap {
  /** The target to date, and actual; the steps lead from the one to the other. */
  readonly due: number;
  readonly actual: number;
  readonly steps: readonly GapStep[];
}

/** Somebody who joined or left between the two years, with where they count. */
interface Moved {
  readonly holder: Holder;
  readonly from: Month | null;
  readonly until: Month | null;
}

/**
 * The ledger of a node's gap: what the target asks beyond the same months of last year (growth), how
 * it is spread over the months otherwise than last year's sales (phasing), what people who joined or
 * left make, and the rest by volume, mix and price. The steps add up to actual less target to date.
 * @param lines the whole tree
 * @returns null where nothing is due, or nobody knows what is sold
 */
export function explainGap(
  lines: readonly TargetLine[],
  node: number,
  standings: YearStandings,
  wholes: number,
): Gap | null {
  const line = lines.find(({ entry }) => entry.id === node);
  const closed = standings.closedMonths;
  if (!line?.months || !line.holder || !line.known || closed === 0) return null;
  const { holder, amount, months } = line;
  const total = (values: readonly number[]): number => values.reduce((all, one) => all + one, 0);
  const due = total(months.slice(0, closed));
  const before = standings.of(holder).before.map((value) => value * wholes);
  const yearBefore = total(before);
  const beforeToDate = total(before.slice(0, closed));
  // As much of the target as the same months had of last year.
  const asLastYear = yearBefore > 0 ? (amount * beforeToDate) / yearBefore : due;

  const moved = movedBelow(lines, line, standings, closed);
  const [joined, left] = [moved.joined, moved.left].map((items) =>
    total(items.map(({ revenue, plannedRevenue }) => revenue - plannedRevenue)),
  );
  const rest = without(standings.itemsOf(holder, closed), [...moved.joined, ...moved.left]);
  const { volume, mix, price, ...others } = bridge(rest);
  const steps: (readonly [GapStep['kind'], number])[] = [
    ['growth', beforeToDate - asLastYear],
    ['phasing', asLastYear - due],
    ['joiners', (joined ?? 0) * wholes],
    ['leavers', (left ?? 0) * wholes],
    ...(standings.measure === 'units'
      ? ([['volume', (volume + mix + price) * wholes]] as const)
      : ([
          ['volume', volume * wholes],
          ['mix', mix * wholes],
          ['price', price * wholes],
        ] as const)),
    ['new', others.new * wholes],
    ['discontinued', others.discontinued * wholes],
    ['other', others.withoutUnits * wholes],
  ];
  return { due, actual: line.actual, steps: rounded(steps, line.actual - due) };
}

/** Steps as whole numbers that add up: what rounding leaves goes to the largest one. */
function rounded(steps: readonly (readonly [GapStep['kind'], number])[], sum: number): GapStep[] {
  const whole = steps.map(([kind, value]) => ({ kind, value: Math.round(value) }));
  const left = sum - whole.reduce((all, { value }) => all + value, 0);
  const largest = whole.toSorted((a, b) => Math.abs(b.value) - Math.abs(a.value))[0];
  return whole
    .map((step) => (step === largest ? { ...step, value: step.value + left } : step))
    .filter(({ value }) => value !== 0);
}

/** What people at or below a node sold who joined or left: this year's months beside last year's. */
function movedBelow(
  lines: readonly TargetLine[],
  top: TargetLine,
  standings: YearStandings,
  closed: number,
): { readonly joined: ItemSales[]; readonly left: ItemSales[] } {
  const below = new Set([top.entry.id]);
  const people: Moved[] = [];
  for (const { entry, holder } of lines) {
    if (entry.parent !== null && below.has(entry.parent)) below.add(entry.id);
    if (!below.has(entry.id) || entry.kind !== 'person' || !holder) continue;
    people.push({ holder, from: entry.from, until: entry.until });
  }
  const { start } = standings;
  const last = start + closed - 1;
  const joined = people.flatMap(({ holder, from }) =>
    // Whoever began after the same months of last year had begun sold nothing, or less, then.
    from !== null && from > start - YEAR && from <= last ? standings.itemsOf(holder, closed) : [],
  );
  const left = people.flatMap(({ holder, until, from }) =>
    until !== null &&
    until < last &&
    until >= start - YEAR &&
    !(from !== null && from > start - YEAR)
      ? standings.itemsOf(holder, closed, Math.max(0, until - start + 1))
      : [],
  );
  return { joined, left };
}

/** Items less what is counted by itself already. */
function without(items: readonly ItemSales[], counted: readonly ItemSales[]): ItemSales[] {
  const byPlace = new Map(items.map((item) => [item.place, item]));
  for (const { place, plannedUnits, plannedRevenue, units, revenue } of counted) {
    const item = byPlace.get(place);
    if (!item) continue;
    byPlace.set(place, {
      place,
      plannedUnits: item.plannedUnits - plannedUnits,
      plannedRevenue: item.plannedRevenue - plannedRevenue,
      units: item.units - units,
      revenue: item.revenue - revenue,
    });
  }
  return [...byPlace.values()];
}
