import type { Stream } from '@dravex/core';
import { asc, eq } from 'drizzle-orm';
import type { Database } from '../platform/database.ts';
import { stream } from './tables.ts';

export function streamsOf(db: Database, workspaceId: number): Promise<Stream[]> {
  return db
    .select({ id: stream.id, combination: stream.combinationId, method: stream.method })
    .from(stream)
    .where(eq(stream.workspaceId, workspaceId))
    .orderBy(asc(stream.id));
}

export async function insertStreams(
  db: Database,
  rows: (typeof stream.$inferInsert)[],
): Promise<void> {
  for (let start = 0; start < rows.length; start += 5000) {
    await db.insert(stream).values(rows.slice(start, start + 5000));
  }
}
