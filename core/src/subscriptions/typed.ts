/** What is typed into the subscriptions of a version: new subscribers, and recurring revenue. */
import { inProportion, newTotals, newUnits, type Spreading } from '../budgets/type-budget.ts';
import { rounded, UNIT_PARTS, type BudgetCell } from '../budgets/cell.ts';
import type { Uplift } from '../budgets/uplift.ts';
import { monthFrom, monthText, type MonthText } from '../calendar/month.ts';
import type { TypedSubscriberMeasure } from '../measures/catalogue.ts';
import { DivisionError } from '../spread/divide.ts';
import { SUBSCRIBER_SERIES, type SubscriberSeries } from './figures.ts';
import type { KeptSubscribers } from './kept.ts';

/** How a subscription moves in a month. */
export type MovementRow = Readonly<Record<SubscriberSeries, number>> & {
  readonly combination: number;
  readonly month: MonthText;
};

/** By how much a month of a subscription was changed: new subscribers, and what those there pay. */
export interface SubscriberEntry {
  readonly combination: number;
  readonly month: MonthText;
  /** So many more begin. */
  readonly starters: number;
  /** So much more is paid a month from this month on, in currency units. */
  readonly price: number;
}

/** The rows of what was kept, in its order. */
export function movementRows(kept: KeptSubscribers): MovementRow[] {
  return kept.combination.map((combination, row) => ({
    ...(Object.fromEntries(SUBSCRIBER_SERIES.map((code) => [code, kept[code][row] ?? 0])) as Record<
      SubscriberSeries,
      number
    >),
    combination,
    month: kept.month[row] ?? '',
  }));
}

/** Rows as columns, one a field. */
export function movementColumns(
  rows: readonly MovementRow[],
): Record<SubscriberSeries, number[]> & { combination: number[]; month: MonthText[] } {
  const columns = Object.fromEntries(
    SUBSCRIBER_SERIES.map((code) => [code, rows.map((row) => row[code])]),
  ) as Record<SubscriberSeries, number[]>;
  return {
    combination: rows.map(({ combination }) => combination),
    month: rows.map(({ month }) => month),
    ...columns,
  };
}

const part = (value: number, whole: number): number => (whole === 0 ? 0 : value / whole);

/** What one more new subscriber pays a month: as the month's own new ones do, else as all who are there. */
function pays({ starters, entered, active, recurring }: MovementRow): number {
  return starters === 0 ? part(recurring, active) : entered / starters;
}

/**
 * Movements with what was typed. Whoever comes in excess leaves, and is charged, as the month has it
 * of those who are there anyway; who changes plans stays as it was kept. Each month balances.
 * @param rows by combination, months in order
 * @param entries added up where several are of one month
 */
export function withEntries(
  rows: readonly MovementRow[],
  entries: readonly SubscriberEntry[],
): MovementRow[] {
  const typed = new Map<string, { starters: number; price: number }>();
  for (const { combination, month, starters, price } of entries) {
    const before = typed.get(`${combination} ${month}`);
    typed.set(`${combination} ${month}`, {
      starters: (before?.starters ?? 0) + starters,
      price: (before?.price ?? 0) + price,
    });
  }
  const changed = new Set(entries.map(({ combination }) => combination));
  let more = { combination: 0, active: 0, recurring: 0 };
  return rows.map((row) => {
    const { combination } = row;
    if (!changed.has(combination)) return row;
    if (more.combination !== combination) more = { combination, active: 0, recurring: 0 };
    const own = typed.get(`${combination} ${row.month}`) ?? { starters: 0, price: 0 };
    const { active: opened, recurring: paid } = more;
    const lost = opened * part(row.lost, row.opening);
    const of = (code: SubscriberSeries): number => paid * part(row[code], row.revenueOpening);
    const after = {
      ...row,
      opening: row.opening + opened,
      starters: row.starters + own.starters,
      lost: row.lost + lost,
      active: row.active + opened - lost + own.starters,
      revenueOpening: row.revenueOpening + paid,
      entered: row.entered + own.starters * pays(row),
      priceChange: row.priceChange + of('priceChange') + own.price,
      revenueLost: row.revenueLost + of('revenueLost'),
      expansion: row.expansion + of('expansion'),
      contraction: row.contraction + of('contraction'),
    };
    const recurring =
      row.recurring +
      paid +
      (after.entered - row.entered) +
      (after.priceChange - row.priceChange) +
      (after.expansion - row.expansion) -
      (after.contraction - row.contraction) -
      (after.revenueLost - row.revenueLost);
    more = { combination, active: after.active - row.active, recurring: recurring - row.recurring };
    return { ...after, recurring };
  });
}

/** The rows that a number typed over some months lies on: a stock is that of the last month. */
export function rowsTyped(
  rows: readonly MovementRow[],
  measure: TypedSubscriberMeasure,
  { from, to }: { readonly from: MonthText; readonly to: MonthText },
): MovementRow[] {
  const first = measure === 'recurringRevenue' ? to : from;
  return rows.filter(({ month }) => month >= first && month <= to);
}

const COUNTS: readonly SubscriberSeries[] = [
  ...(['active', 'opening', 'starters', 'lost', 'changedIn', 'changedOut'] as const),
];

/**
 * Movements some months later, with so many more subscribers who pay so much more. Everything is
 * multiplied, so that each month balances as it did.
 */
export function movementsWithUplift(
  rows: readonly MovementRow[],
  { volume, price }: Uplift,
  shift: number,
): MovementRow[] {
  return rows.map((row) => {
    const scaled = SUBSCRIBER_SERIES.map((code) => {
      const factor = (1 + volume) * (COUNTS.includes(code) ? 1 : 1 + price);
      return [code, row[code] * factor] as const;
    });
    return {
      ...(Object.fromEntries(scaled) as Record<SubscriberSeries, number>),
      combination: row.combination,
      month: monthText(monthFrom(row.month) + shift),
    };
  });
}

/** What rows come to: so many, or money in minor units; null where there is no subscription. */
export function subscribersTotal(
  rows: readonly MovementRow[],
  measure: TypedSubscriberMeasure,
  minor: number,
): number | null {
  if (rows.length === 0) return null;
  const sum = (of: (row: MovementRow) => number): number =>
    rows.reduce((all, row) => all + of(row), 0);
  return measure === 'newSubscribers'
    ? rounded(sum(({ starters }) => starters) * UNIT_PARTS) / UNIT_PARTS
    : sum(({ recurring }) => rounded(recurring * minor));
}

/** A number typed over rows: so many new subscribers, or recurring revenue in minor units. */
export interface TypedSubscribers extends Spreading {
  readonly measure: TypedSubscriberMeasure;
  /** When recurring revenue is typed: new subscribers stay and the price moves, or the other way round. */
  readonly keeps?: 'units' | 'price';
}

/**
 * Spreads what was typed over rows, as entries.
 * @throws DivisionError where fewer than nobody would begin, or nothing is paid by anybody
 */
export function typeSubscribers(
  rows: readonly MovementRow[],
  typed: TypedSubscribers,
  minor: number,
): SubscriberEntry[] {
  const { measure, keeps } = typed;
  if (typed.total < 0) {
    throw new DivisionError(
      'negative-weight',
      'New subscribers and recurring revenue cannot be negative; type 0 or more',
    );
  }
  const standing =
    measure === 'newSubscribers'
      ? newUnits(
          rows.map(({ starters }) => starters),
          typed,
        ).map((value, at) => [value - (rows[at]?.starters ?? 0), 0] as const)
      : newTotals(
          rows.map(({ recurring }) => rounded(recurring * minor)),
          typed.total,
          typed,
        ).map((value, at) => {
          const row = rows[at];
          const change = value / minor - (row?.recurring ?? 0);
          if (keeps !== 'price') return [0, change] as const;
          const worth = row ? pays(row) : 0;
          if (worth === 0 && change !== 0) {
            throw new DivisionError(
              'no-weights',
              'Nobody pays anything here, so the price cannot stay; let the price change',
            );
          }
          return [change === 0 ? 0 : change / worth, 0] as const;
        });
  return rows.flatMap(({ combination, month, starters: before }, at) => {
    const [starters, price] = standing[at] ?? [0, 0];
    if (before + starters < -1e-9) {
      throw new DivisionError(
        'negative-weight',
        'New subscribers would have to be negative; let the price change, or type more',
      );
    }
    return starters === 0 && price === 0 ? [] : [{ combination, month, starters, price }];
  });
}

/**
 * The units and the revenue that follow when subscriptions of a version move otherwise, cells that
 * differ only. Where a subscriber is a unit a month, both go along as they are; where terms are
 * counted and billed ahead, new ones count in their month and, less who leaves, at each renewal, at
 * the cell's own price, which moves as that of the recurring revenue does.
 * @param before rows as they stood; `after` the same rows as they are now
 * @param cellOf the cell of a row as it stands
 * @param termOf months that a unit of a combination is billed for: 1, or the term
 */
export function cellsFollowing(
  before: readonly MovementRow[],
  after: readonly MovementRow[],
  cellOf: (combination: number, month: number) => BudgetCell,
  termOf: (combination: number) => number,
  minor: number,
): BudgetCell[] {
  const followed: BudgetCell[] = [];
  let line: { combination: number; terms: number[]; stays: number[] } | undefined;
  after.forEach((now, at) => {
    const was = before[at];
    if (!was) return;
    if (line?.combination !== now.combination) {
      line = { combination: now.combination, terms: [], stays: [] };
    }
    const { terms, stays } = line;
    const term = termOf(now.combination);
    stays.push(1 - part(was.lost, was.opening));
    const begun = terms.length < term ? 0 : (terms.at(-term) ?? 0);
    const again = stays.slice(-term).reduce((all, one) => all * one, begun);
    terms.push(now.starters - was.starters + again);
    const cell = cellOf(now.combination, monthFrom(now.month));
    const more = term === 1 ? now.active - was.active : (terms.at(-1) ?? 0);
    const units = rounded((cell.units + more) * UNIT_PARTS) / UNIT_PARTS;
    const price = part(now.recurring, now.active) * minor;
    const dearer = was.recurring === 0 ? 1 : price / (part(was.recurring, was.active) * minor);
    const revenue =
      term === 1
        ? cell.revenue + rounded((now.recurring - was.recurring) * minor)
        : rounded(
            cell.units === 0 ? units * price * term : (units / cell.units) * cell.revenue * dearer,
          );
    const cost = cell.cost === null ? null : inProportion(cell.cost, units, cell.units);
    if (units !== cell.units || revenue !== cell.revenue || cost !== cell.cost) {
      followed.push({ ...cell, units, revenue, cost });
    }
  });
  return followed;
}
