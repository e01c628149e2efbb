/** Subscriptions of versions: how they were kept, and what was typed into them since. */
import {
  movementColumns,
  movementRows,
  SUBSCRIBER_SERIES,
  withEntries,
  type KeptSubscribers,
  type MovementRow,
  type SubscriberEntry,
} from '@dravex/core';
import { and, asc, eq, sql } from 'drizzle-orm';
import { fromFirst, inPortions, toFirst, type Database } from '../platform/database.ts';
import { entriesUntil } from './store.ts';
import { versionSubscription, versionSubscriptionEntry } from './tables.ts';

/** Keeps how subscriptions of a version move. */
export async function insertSubscribers(
  db: Database,
  workspaceId: number,
  versionId: number,
  kept: KeptSubscribers,
): Promise<void> {
  const rows = movementRows(kept).map(({ combination, month, ...series }) => ({
    ...{ workspaceId, versionId, combinationId: combination, month: toFirst(month) },
    ...series,
  }));
  await inPortions(rows, (portion) => db.insert(versionSubscription).values(portion));
}

/** How subscriptions of a version were kept, by combination and month; none where none were. */
export async function keptRows(
  db: Database,
  workspaceId: number,
  versionId: number,
): Promise<MovementRow[]> {
  const rows = await db
    .select()
    .from(versionSubscription)
    .where(
      and(
        eq(versionSubscription.workspaceId, workspaceId),
        eq(versionSubscription.versionId, versionId),
      ),
    )
    .orderBy(asc(versionSubscription.combinationId), asc(versionSubscription.month));
  return rows.map((row) => ({
    ...(Object.fromEntries(SUBSCRIBER_SERIES.map((code) => [code, row[code]])) as Record<
      (typeof SUBSCRIBER_SERIES)[number],
      number
    >),
    combination: row.combinationId,
    month: fromFirst(row.month),
  }));
}

/** What was typed into subscriptions of a version, until a moment, by combination and month. */
export async function typedSums(
  db: Database,
  workspaceId: number,
  versionId: number,
  at?: string,
): Promise<SubscriberEntry[]> {
  const { rows } = await db.execute<SubscriberEntry & Record<string, unknown>>(sql`
    select combination_id as combination, to_char(month, 'YYYY-MM') as month,
      sum(starters)::float8 as starters, sum(price)::float8 as price
    from version_subscription_entry e
    where workspace_id = ${workspaceId} and version_id = ${versionId} ${entriesUntil(at)}
    group by combination_id, month order by combination_id, month`);
  return rows;
}

/** How subscriptions of a version move, with what was typed; undefined where none were kept. */
export async function subscribersOf(
  db: Database,
  workspaceId: number,
  versionId: number,
  at?: string,
): Promise<ReturnType<typeof movementColumns> | undefined> {
  const rows = await keptRows(db, workspaceId, versionId);
  if (rows.length === 0) return undefined;
  return movementColumns(withEntries(rows, await typedSums(db, workspaceId, versionId, at)));
}

/** A change as it is kept. */
const kept = (value: number): string => value.toFixed(9);

/** Appends entries; those that change nothing are left out. */
export async function insertSubscriberEntries(
  db: Database,
  workspaceId: number,
  journalId: number,
  entries: readonly (SubscriberEntry & { readonly versionId: number })[],
): Promise<void> {
  const rows = entries
    .filter(({ starters, price }) => Number(kept(starters)) !== 0 || Number(kept(price)) !== 0)
    .map(({ versionId, combination, month, starters, price }) => ({
      ...{ workspaceId, journalId, versionId, combinationId: combination },
      ...{ month: toFirst(month), starters: kept(starters), price: kept(price) },
    }));
  await inPortions(rows, (portion) => db.insert(versionSubscriptionEntry).values(portion));
}
