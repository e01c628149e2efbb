/** Demand for supply planning: whole units by item and week, month or quarter, that add up. */
import { addDays, daysBetween, isoWeek, lastDayOf, weekStart } from '../calendar/day.ts';
import { fiscalQuarterOf, fiscalYearOf } from '../calendar/fiscal.ts';
import { monthText } from '../calendar/month.ts';
import type { Span } from '../calendar/period.ts';
import type { Scope } from '../dimensions/dimension.ts';
import type { MemberTree } from '../dimensions/member-tree.ts';
import { divide } from '../spread/divide.ts';
import type { Figures } from '../tables/figures.ts';
import { inScope } from '../dimensions/row-tree.ts';

export type SupplyGrain = 'week' | 'month' | 'quarter';

/** What stands in the way of handing demand on as it is. */
export interface SupplyProblem {
  /** The item's member. */
  readonly item: number;
  /** `2026-11`. */
  readonly month: string;
  readonly code: 'missing' | 'negative';
  readonly message: string;
}

export interface SupplyPlan {
  /** `2026-W45`, `2026-11` or `FY2027-Q3`, in order. */
  readonly periods: readonly string[];
  /** Whole units of an item, one a period; all grains have the same total. */
  readonly rows: readonly { readonly item: number; readonly units: readonly number[] }[];
  readonly problems: readonly SupplyProblem[];
}

/**
 * Whole units by item. The window's units of an item are rounded once and divided among its months
 * by the largest remainder; a month is divided among its weeks by calendar days in the same way.
 * A month that is missing or negative counts as none, and is named.
 * @param position which dimension the items are of
 * @param fiscalStart 1 to 12, for quarters
 */
export function supplyPlan(
  figures: Figures,
  tree: MemberTree,
  position: number,
  scope: Scope,
  span: Span,
  grain: SupplyGrain,
  fiscalStart: number,
): SupplyPlan {
  const months = Array.from({ length: span.to - span.from + 1 }, (_, t) => span.from + t);
  const byItem = new Map<number, { units: number[]; missing: Set<number> }>();
  for (const index of inScope(tree, figures.combinations, scope)) {
    const item = figures.combinations[index]?.members[position];
    if (item === undefined) continue;
    const row = byItem.get(item) ?? { units: months.map(() => 0), missing: new Set<number>() };
    byItem.set(item, row);
    months.forEach((month, place) => {
      const t = month - figures.first;
      if (t < 0 || t >= figures.count) return;
      const units = figures.measures.units[index * figures.count + t] ?? 0;
      if (Number.isNaN(units)) row.missing.add(place);
      else row.units[place] = (row.units[place] ?? 0) + units;
    });
  }
  const problems: SupplyProblem[] = [];
  const whole = new Map<number, number[]>();
  for (const [item, { units, missing }] of byItem) {
    const { name } = tree.member(item);
    const weights = units.map((value, place) => {
      const month = monthText(months[place] ?? 0);
      if (missing.has(place)) {
        const message = `${name} has no units in ${month}: an input is missing`;
        problems.push({ item, month, code: 'missing', message });
      }
      if (value >= 0) return value;
      const message = `${name} has ${value.toFixed(1)} units in ${month}, less than none`;
      problems.push({ item, month, code: 'negative', message });
      return 0;
    });
    const total = Math.round(weights.reduce((sum, value) => sum + value, 0));
    if (total > 0) whole.set(item, divide(total, weights));
  }

  const shares = months.map((month) => periodShares(monthText(month), grain, fiscalStart, month));
  const periods = [...new Set(shares.flatMap((list) => list.map(({ key }) => key)))];
  const placeOf = new Map(periods.map((key, place) => [key, place]));
  const rows = [...whole].map(([item, units]) => {
    const unitsByPeriod = periods.map(() => 0);
    units.forEach((value, place) => {
      const list = shares[place] ?? [];
      divide(
        value,
        list.map(({ days }) => days),
      ).forEach((part, at) => {
        const period = placeOf.get(list[at]?.key ?? '') ?? 0;
        unitsByPeriod[period] = (unitsByPeriod[period] ?? 0) + part;
      });
    });
    return { item, units: unitsByPeriod };
  });
  const rank = new Map(
    (tree.dimensions[position]?.members ?? []).map(({ id }, place) => [id, place]),
  );
  rows.sort((a, b) => (rank.get(a.item) ?? 0) - (rank.get(b.item) ?? 0));
  return { periods, rows, problems };
}

/** The periods that a month lies in, with how many of its days are in each. */
function periodShares(
  month: string,
  grain: SupplyGrain,
  fiscalStart: number,
  number: number,
): { key: string; days: number }[] {
  if (grain === 'month') return [{ key: month, days: 1 }];
  if (grain === 'quarter') {
    const year = fiscalYearOf(number, fiscalStart);
    return [{ key: `FY${year}-Q${fiscalQuarterOf(number, fiscalStart)}`, days: 1 }];
  }
  const last = lastDayOf(month);
  const shares: { key: string; days: number }[] = [];
  for (let day = `${month}-01`; day <= last;) {
    const next = addDays(weekStart(day), 7);
    const end = next > last ? last : addDays(next, -1);
    shares.push({ key: isoWeek(day), days: daysBetween(day, end) });
    day = next;
  }
  return shares;
}
