/** Subscriptions as somebody plans them: counts and recurring revenue by month, without cohorts. */
import { monthText, type Month } from '../calendar/month.ts';
import type { MovementRow } from './typed.ts';

/** A month of a subscription as it is planned. */
export interface PlannedMonth {
  readonly combination: number;
  readonly month: Month;
  /** Who is there at the month's end, who begins in it, and who leaves. */
  readonly active: number;
  readonly starters: number;
  readonly lost: number;
  /** What those who are there pay a month, in currency units. */
  readonly recurring: number;
}

/** The fields of a planned month that are typed, in the order of a file. */
export const PLANNED_FIELDS = ['active', 'starters', 'lost', 'recurring'] as const;

/** What is wrong with a planned month, by its field. */
export interface PlannedProblem {
  readonly row: number;
  readonly field: (typeof PLANNED_FIELDS)[number];
  readonly message: string;
}

/**
 * Movements that planned months come to. All pay the same, so that a month's recurring revenue is
 * what was there, less those who leave at the price before, plus what the price changes for those who
 * stay, plus those who begin at the price of the month. Nobody expands, and nobody changes plans.
 * @param rows in any order, a month of a combination once
 * @returns rows by combination and month, and what does not fit together: fewer than nobody, or who
 *   is there is not who was there plus who begins less who leaves
 */
export function plannedMovements(rows: readonly PlannedMonth[]): {
  readonly rows: MovementRow[];
  readonly problems: PlannedProblem[];
} {
  const problems: PlannedProblem[] = [];
  const order = rows
    .map((row, index) => ({ row, index }))
    .sort((a, b) => a.row.combination - b.row.combination || a.row.month - b.row.month);
  let before: PlannedMonth | undefined;
  const movements = order.map(({ row, index }) => {
    const { combination, month, active, starters, lost, recurring } = row;
    for (const field of PLANNED_FIELDS) {
      if (row[field] >= 0) continue;
      problems.push({ row: index, field, message: `${row[field]} is fewer than nothing` });
    }
    const last =
      before?.combination === combination && before.month === month - 1 ? before : undefined;
    const opening = active - starters + lost;
    if (opening < -1e-6) {
      const message = `${lost} leave and ${starters} begin, so ${active} cannot be there`;
      problems.push({ row: index, field: 'active', message });
    } else if (last && Math.abs(opening - last.active) > 1e-6) {
      const message = `${last.active} were there in ${monthText(last.month)}; with ${starters} new and ${lost} lost it is ${last.active + starters - lost}, not ${active}`;
      problems.push({ row: index, field: 'active', message });
    }
    if (active === 0 && recurring > 0) {
      problems.push({
        row: index,
        field: 'recurring',
        message: 'Nobody is there who would pay this',
      });
    }
    const price = active === 0 ? 0 : recurring / active;
    const was = last && last.active > 0 ? last.recurring / last.active : price;
    before = row;
    return {
      ...{ combination, month: monthText(month), active, opening, starters, lost },
      ...{ changedIn: 0, changedOut: 0, expansion: 0, contraction: 0, revenueIn: 0, revenueOut: 0 },
      recurring,
      revenueOpening: opening * was,
      entered: starters * price,
      priceChange: (opening - lost) * (price - was),
      revenueLost: lost * was,
    };
  });
  return { rows: movements, problems };
}
