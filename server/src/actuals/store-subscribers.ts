/** Subscriber records of a batch that overlap. */
import { sql } from 'drizzle-orm';
import type { Database } from '../platform/database.ts';

/** A subscriber as its row has it. */
interface SubscriberRow extends Record<string, unknown> {
  readonly row: number;
  readonly code: string;
  readonly members: number[];
  readonly start: string;
  readonly end: string | null;
}
/** A subscriber that was taken out again, and the row that it overlaps. */
export interface DroppedSubscriber extends SubscriberRow {
  readonly first: number;
}

/** A day after all others, for who has not left. */
const NEVER = '9999-12-31';

/** Of each code, the rows that begin before one of an earlier row that stays has ended. */
function overlapping(rows: readonly SubscriberRow[]): { row: number; first: number }[] {
  const kept = new Map<string, { row: number; start: string; end: string }[]>();
  return rows.flatMap(({ row, code, start, end }) => {
    const own = { row, start, end: end ?? NEVER };
    const known = kept.get(code) ?? [];
    const there = known.find((other) => own.start < other.end && other.start < own.end);
    if (there) return [{ row, first: there.row }];
    kept.set(code, [...known, own]);
    return [];
  });
}

/**
 * Takes the rows out in which somebody subscribes who has not left yet. Whoever leaves and comes back
 * has a row for each time.
 */
export async function dropOverlapping(
  db: Database,
  workspaceId: number,
  batchId: number,
): Promise<DroppedSubscriber[]> {
  // In one pass: of rows that have only just come the database knows no numbers, and whatever reads
  // them a second time for each of them takes minutes where it takes milliseconds.
  const { rows } = await db.execute<SubscriberRow>(sql`
    select row, code, members, start, "end" from (
      select row, code, members, start::text as start, "end"::text as "end",
        count(*) over (partition by code) as times
      from subscriber where workspace_id = ${workspaceId} and batch_id = ${batchId}) listed
    where times > 1 order by row`);
  const found = new Map(overlapping(rows).map(({ row, first }) => [row, first]));
  if (found.size > 0) {
    await db.execute(sql`
      delete from subscriber where workspace_id = ${workspaceId} and batch_id = ${batchId}
        and row = any(${sql.param([...found.keys()])}::int[])`);
  }
  return rows.flatMap((one) => {
    const first = found.get(one.row);
    return first === undefined ? [] : [{ ...one, first }];
  });
}
