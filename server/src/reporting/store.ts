import type { ViewQuery } from '@dravex/contract';
import { and, desc, eq, isNull, sql } from 'drizzle-orm';
import { person } from '../people/tables.ts';
import { one, type Database } from '../platform/database.ts';
import { isReadOnly } from '../platform/errors.ts';
import { accessToken, savedView } from './tables.ts';

export function tokensOf(db: Database, workspaceId: number, personId: number) {
  return db
    .select({
      id: accessToken.id,
      name: accessToken.name,
      start: accessToken.start,
      createdBy: person.name,
      createdAt: accessToken.createdAt,
      lastUsedAt: accessToken.lastUsedAt,
    })
    .from(accessToken)
    .innerJoin(person, eq(person.id, accessToken.createdBy))
    .where(
      and(
        eq(accessToken.workspaceId, workspaceId),
        eq(accessToken.createdBy, personId),
        isNull(accessToken.withdrawnAt),
      ),
    )
    .orderBy(desc(accessToken.id));
}

export async function insertToken(
  db: Database,
  row: typeof accessToken.$inferInsert,
): Promise<number> {
  return one(await db.insert(accessToken).values(row).returning({ id: accessToken.id })).id;
}

/** @returns whether there was such a token of this person */
export async function withdrawToken(
  db: Database,
  workspaceId: number,
  personId: number,
  id: number,
): Promise<boolean> {
  const rows = await db
    .update(accessToken)
    .set({ withdrawnAt: new Date() })
    .where(
      and(
        eq(accessToken.workspaceId, workspaceId),
        eq(accessToken.createdBy, personId),
        eq(accessToken.id, id),
        isNull(accessToken.withdrawnAt),
      ),
    )
    .returning({ id: accessToken.id });
  return rows.length > 0;
}

/** Whose token it is and for which workspace; undefined for one that is not, or was withdrawn. */
export async function tokenOwner(db: Database, hash: string) {
  const [row] = await db
    .select({
      id: accessToken.id,
      workspaceId: accessToken.workspaceId,
      personId: accessToken.createdBy,
    })
    .from(accessToken)
    .where(and(eq(accessToken.hash, hash), isNull(accessToken.withdrawnAt)));
  if (!row) return undefined;
  await db
    .update(accessToken)
    .set({ lastUsedAt: new Date() })
    .where(
      and(
        eq(accessToken.workspaceId, row.workspaceId),
        eq(accessToken.id, row.id),
        // Once a minute says enough, and costs less.
        sql`(${accessToken.lastUsedAt} is null or ${accessToken.lastUsedAt} < now() - interval '1 minute')`,
      ),
    )
    .catch((error: unknown) => {
      // A replica only reads: there it is not told when a token was used.
      if (!isReadOnly(error)) throw error;
    });
  return row;
}

export function viewsOf(db: Database, workspaceId: number) {
  return db
    .select({
      id: savedView.id,
      name: savedView.name,
      query: savedView.query,
      createdBy: person.name,
      createdAt: savedView.createdAt,
    })
    .from(savedView)
    .innerJoin(person, eq(person.id, savedView.createdBy))
    .where(and(eq(savedView.workspaceId, workspaceId), isNull(savedView.withdrawnAt)))
    .orderBy(desc(savedView.id));
}

export async function insertView(
  db: Database,
  row: typeof savedView.$inferInsert,
): Promise<number> {
  return one(await db.insert(savedView).values(row).returning({ id: savedView.id })).id;
}

export async function withdrawView(db: Database, workspaceId: number, id: number) {
  const rows = await db
    .update(savedView)
    .set({ withdrawnAt: new Date() })
    .where(
      and(
        eq(savedView.workspaceId, workspaceId),
        eq(savedView.id, id),
        isNull(savedView.withdrawnAt),
      ),
    )
    .returning({ name: savedView.name });
  return rows[0]?.name;
}

export async function viewByHash(
  db: Database,
  hash: string,
): Promise<{ workspaceId: number; name: string; query: ViewQuery } | undefined> {
  const [row] = await db
    .select({ workspaceId: savedView.workspaceId, name: savedView.name, query: savedView.query })
    .from(savedView)
    .where(and(eq(savedView.hash, hash), isNull(savedView.withdrawnAt)));
  return row;
}
