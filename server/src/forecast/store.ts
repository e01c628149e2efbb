import type { Stream } from '@dravex/core';
import { and, asc, eq, inArray } from 'drizzle-orm';
import type { Database } from '../platform/database.ts';
import { stream } from './tables.ts';

export function streamsOf(db: Database, workspaceId: number): Promise<Stream[]> {
  return db
    .select({ id: stream.id, combination: stream.combinationId, method: stream.method })
    .from(stream)
    .where(eq(stream.workspaceId, workspaceId))
    .orderBy(asc(stream.id));
}

/** Writes new streams; returns their ids in the same order. */
export async function insertStreams(
  db: Database,
  rows: (typeof stream.$inferInsert)[],
): Promise<number[]> {
  const ids: number[] = [];
  for (let start = 0; start < rows.length; start += 5000) {
    const inserted = await db
      .insert(stream)
      .values(rows.slice(start, start + 5000))
      .returning({ id: stream.id });
    ids.push(...inserted.map(({ id }) => id).sort((a, b) => a - b));
  }
  return ids;
}

/** Brings a stream back under the id it had. */
export async function restoreStream(
  db: Database,
  row: typeof stream.$inferInsert & { id: number },
): Promise<void> {
  await db.insert(stream).overridingSystemValue().values(row);
}

export async function deleteStreams(
  db: Database,
  workspaceId: number,
  ids: readonly number[],
): Promise<void> {
  if (ids.length === 0) return;
  await db
    .delete(stream)
    .where(and(eq(stream.workspaceId, workspaceId), inArray(stream.id, [...ids])));
}
