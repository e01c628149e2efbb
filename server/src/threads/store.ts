import { threadSchema, type Thread, type ThreadRoom } from '@dravex/contract';
import { and, desc, eq, type SQL } from 'drizzle-orm';
import type { Database } from '../platform/database.ts';
import { thread } from './tables.ts';

/** What was said of numbers, the newest thread first. */
export function threadsOf(db: Database, workspaceId: number, room?: ThreadRoom): Promise<Thread[]> {
  return threadsWhere(db, workspaceId, room === undefined ? undefined : eq(thread.room, room));
}

/** Those of them that a condition picks. */
export async function threadsWhere(
  db: Database,
  workspaceId: number,
  which: SQL | undefined,
): Promise<Thread[]> {
  const rows = await db
    .select()
    .from(thread)
    .where(and(eq(thread.workspaceId, workspaceId), which))
    .orderBy(desc(thread.changedAt), desc(thread.name));
  return rows.map((row) => threadSchema.strip().parse({ ...row, id: row.name }));
}
