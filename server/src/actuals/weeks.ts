/** What was sold by ISO week: from the lines, since the monthly summary does not know days. */
import type { SalesWeeks, SalesWeeksAddress } from '@dravex/contract';
import {
  monthFrom,
  monthText,
  weekParts,
  type Figures,
  type Grain,
  type KeptWeeks,
  type Span,
} from '@dravex/core';
import { sql } from 'drizzle-orm';
import type { Actor } from '../people/actor.ts';
import { toFirst, type Connections, type Database } from '../platform/database.ts';
import { badRequest } from '../platform/errors.ts';
import { windowOf } from '../plan/frame.ts';
import type { LoadedPlan, Plans } from '../plan/plans.ts';
import { COUNTED } from './store.ts';

/** The most rows of one answer. */
const MOST_ROWS = 300_000;

type Origin = SalesWeeksAddress['origin'];

interface WeekRow {
  readonly combination: number;
  readonly month: string;
  readonly week: number;
  readonly units: number;
  readonly revenue: number;
  readonly cost: number;
}

/**
 * Lines of some months by week of the month, as the core cuts them.
 * @param years how many years later their days are read: 1 puts what was sold a year before beside
 *   the same days of now
 */
async function weeksOf(
  db: Database,
  workspaceId: number,
  { from, to }: Span,
  origin: Origin,
  years: number,
): Promise<KeptWeeks> {
  const { rows } = await db.execute<Record<string, unknown> & WeekRow>(sql`
    with l as (
      select l.combination_id, (l.date + make_interval(years => ${years}::int))::date as day,
        l.quantity, l.net_amount, l.cost
      from ${COUNTED} l
      where l.workspace_id = ${workspaceId}
        and l.date >= ${toFirst(monthText(from - 12 * years))}::date
        and l.date < ${toFirst(monthText(to - 12 * years))}::date + interval '1 month'
        ${origin === 'all' ? sql`` : sql`and l.origin = ${origin}`})
    select combination_id as combination, to_char(day, 'YYYY-MM') as month,
      (extract(day from day)::int + extract(isodow from date_trunc('month', day))::int - 2) / 7 as week,
      sum(quantity)::float8 as units, sum(net_amount)::float8 as revenue, sum(cost)::float8 as cost
    from l group by 1, 2, 3 order by 1, 2, 3 limit ${MOST_ROWS + 1}`);
  if (rows.length > MOST_ROWS) {
    const message = `More than ${MOST_ROWS} weeks of products in channels were sold in; take a shorter window`;
    throw badRequest(message, [{ path: 'from', message }]);
  }
  return {
    combination: rows.map((row) => row.combination),
    month: rows.map((row) => row.month),
    week: rows.map((row) => row.week),
    units: rows.map((row) => row.units),
    revenue: rows.map((row) => row.revenue),
    cost: rows.map((row) => row.cost),
  };
}

/** The closed months of a window by week, and the same days a year before. */
async function bothYears(
  db: Database,
  workspaceId: number,
  { plan }: LoadedPlan,
  span: Span,
  origin: Origin,
): Promise<Pick<SalesWeeks, 'weeks' | 'before'>> {
  const closed = monthFrom(plan.calendar.closedThrough);
  const upTo = (to: number): Span => ({ from: span.from, to: Math.min(span.to, to) });
  const [weeks, before] = await Promise.all([
    weeksOf(db, workspaceId, upTo(closed), origin, 0),
    weeksOf(db, workspaceId, upTo(closed + 12), origin, 1),
  ]);
  return { weeks, before };
}

/** What was sold by week, for the browser's worker. */
export async function readSalesWeeks(
  { db }: Connections,
  plans: Plans,
  { workspaceId }: Actor,
  address: SalesWeeksAddress,
): Promise<SalesWeeks> {
  const loaded = await plans.current(workspaceId);
  const span = windowOf(loaded.plan.calendar, address);
  const answer = await bothYears(db, workspaceId, loaded, span, address.origin);
  return { revision: loaded.revision, ...answer };
}

/** Figures of the forecast line with what was sold by week, where weeks are wanted. */
export async function withWeeks(
  { db }: Connections,
  workspaceId: number,
  loaded: LoadedPlan,
  figures: Figures,
  { span, grain, origin }: { readonly span: Span; readonly grain: Grain; readonly origin: Origin },
): Promise<Figures> {
  if (grain !== 'week') return figures;
  const { weeks, before } = await bothYears(db, workspaceId, loaded, span, origin);
  const { calendar, currency } = loaded.plan;
  const minor = 10 ** currency.minorDigits;
  const closed = monthFrom(calendar.closedThrough);
  const yearBefore = weekParts(before, minor, closed + 12);
  return { ...figures, weeks: weekParts(weeks, minor, closed, yearBefore) };
}
