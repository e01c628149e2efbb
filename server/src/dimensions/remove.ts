/** Takes a dimension out that tells nothing apart, and brings it back as it was. */
import { asc, eq, and, sql } from 'drizzle-orm';
import type { Cells } from '../journal/cells.ts';
import type { Json } from '../journal/tables.ts';
import { SCOPE_COLUMNS } from '../journal/scope-columns.ts';
import { one, type Database } from '../platform/database.ts';
import { dimension, member } from './tables.ts';

type MemberRow = typeof member.$inferSelect;

/** A dimension with its members, as the journal keeps it: by what it comes back. */
export async function dimensionCells(
  db: Database,
  workspaceId: number,
  row: { readonly id: number; readonly name: string; readonly position: number },
): Promise<Cells> {
  const members = await db
    .select()
    .from(member)
    .where(and(eq(member.workspaceId, workspaceId), eq(member.dimensionId, row.id)))
    .orderBy(asc(member.position), asc(member.id));
  const kept = members.map(({ workspaceId: _, dimensionId: __, ...rest }) => rest);
  const { rows } = await db.execute<{ holds: number | null }>(sql`
    select min(members[${row.position + 1}]) as holds
    from combination where workspace_id = ${workspaceId}`);
  const { holds } = one(rows);
  const whole = { id: row.id, position: row.position, members: kept, holds } as unknown as Json;
  return { name: row.name, dimension: whole };
}

/** What stands in the way of taking a dimension out, in words; undefined when nothing does. */
export async function whyDimensionStays(
  db: Database,
  workspaceId: number,
  row: { readonly id: number; readonly name: string; readonly position: number },
): Promise<string | undefined> {
  const memberIds = sql`(select array_agg(id) from member
    where workspace_id = ${workspaceId} and dimension_id = ${row.id})`;
  const { rows: used } = await db.execute<{ members: number }>(sql`
    select count(distinct members[${row.position + 1}])::int as members
    from combination where workspace_id = ${workspaceId}`);
  const { members } = one(used);
  if (members > 1) {
    return `${row.name} tells sales apart by ${members} members; merge them into one first`;
  }
  for (const { table, column, what } of SCOPE_COLUMNS) {
    const { rows } = await db.execute<{ count: number }>(sql`
      select count(*)::int as count from ${sql.identifier(table)}
      where workspace_id = ${workspaceId} and ${sql.identifier(column)} && ${memberIds}`);
    const { count } = one(rows);
    if (count > 0) return `${count} ${what} name a member of ${row.name}; change them first`;
  }
  const { rows: assigned } = await db.execute<{ count: number }>(sql`
    select count(*)::int as count from assignment
    where workspace_id = ${workspaceId} and dimension_id = ${row.id}`);
  const { count } = one(assigned);
  return count > 0
    ? `${count} customers are assigned in ${row.name}; remove these assignments first`
    : undefined;
}

/** Moves the positions of the dimensions behind one, without two in one place on the way. */
async function shift(db: Database, workspaceId: number, from: number, by: 1 | -1): Promise<void> {
  const far = 1000;
  await db.execute(sql`
    update dimension set position = position + ${far + by}
    where workspace_id = ${workspaceId} and position >= ${from}`);
  await db.execute(sql`
    update dimension set position = position - ${far}
    where workspace_id = ${workspaceId} and position >= ${far}`);
}

/** Takes a dimension out; see `whyDimensionStays`. */
export async function removeDimension(
  db: Database,
  workspaceId: number,
  { id, position }: { readonly id: number; readonly position: number },
): Promise<void> {
  await db.execute(sql`
    update combination
    set members = members[:${position}::int] || members[${position + 2}::int:]
    where workspace_id = ${workspaceId}`);
  await db
    .delete(member)
    .where(and(eq(member.workspaceId, workspaceId), eq(member.dimensionId, id)));
  await db
    .delete(dimension)
    .where(and(eq(dimension.workspaceId, workspaceId), eq(dimension.id, id)));
  await shift(db, workspaceId, position + 1, -1);
}

/** Brings a dimension back where it was; everything belongs to the member again that it belonged to. */
export async function restoreDimension(
  db: Database,
  workspaceId: number,
  code: string,
  cells: Cells,
): Promise<void> {
  const { id, position, members, holds } = cells['dimension'] as unknown as {
    id: number;
    position: number;
    /** The member of every combination; null where there was none. */
    holds: number | null;
    members: Omit<MemberRow, 'workspaceId' | 'dimensionId'>[];
  };
  await shift(db, workspaceId, position, 1);
  await db
    .insert(dimension)
    .overridingSystemValue()
    .values({ workspaceId, id, code, name: String(cells['name']), position });
  // Parents before those below them.
  const left = [...members];
  const there = new Set<number | null>([null]);
  while (left.length > 0) {
    const next = left.filter(({ parentId }) => there.has(parentId));
    if (next.length === 0) break;
    await db
      .insert(member)
      .overridingSystemValue()
      .values(next.map((row) => ({ ...row, workspaceId, dimensionId: id })));
    for (const row of next) {
      there.add(row.id);
      left.splice(left.indexOf(row), 1);
    }
  }
  const parents = new Set(members.map(({ parentId }) => parentId));
  const leaf = holds ?? members.find((row) => !parents.has(row.id))?.id ?? 0;
  await db.execute(sql`
    update combination
    set members = members[:${position}::int] || ${leaf}::int || members[${position + 1}::int:]
    where workspace_id = ${workspaceId}`);
}
