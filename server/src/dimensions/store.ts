import type { NewDimension } from '@dravex/contract';
import type { Combination, Dimension } from '@dravex/core';
import { and, asc, eq, sql } from 'drizzle-orm';
import { inPortions, one, type Database } from '../platform/database.ts';
import { assignment, combination, dimension, member } from './tables.ts';

/** Writes dimensions with their members; parents stand before their children. */
export async function insertDimensions(
  db: Database,
  workspaceId: number,
  dimensions: readonly NewDimension[],
): Promise<Dimension[]> {
  const made: Dimension[] = [];
  for (const [position, { code, name, members }] of dimensions.entries()) {
    const { id: dimensionId } = one(
      await db
        .insert(dimension)
        .values({ workspaceId, code, name, position })
        .returning({ id: dimension.id }),
    );
    const ids = await nextMemberIds(db, members.length);
    const idOf = new Map(members.map((row, place) => [row.code, ids[place] ?? 0]));
    const rows = members.map((row, place) => {
      const replaces = idOf.get(row.replaces ?? '');
      return {
        ...{ id: ids[place] ?? 0, code: row.code, name: row.name },
        parent: idOf.get(row.parent ?? '') ?? null,
        ...(replaces === undefined ? {} : { replaces }),
      };
    });
    await insertMembers(db, asRows(workspaceId, dimensionId, rows));
    made.push({ code, name, members: rows });
  }
  return made;
}

function* asRows(workspaceId: number, dimensionId: number, members: Dimension['members']) {
  for (const [position, { parent, ...member }] of members.entries()) {
    yield { workspaceId, dimensionId, position, parentId: parent, ...member };
  }
}

/** The workspace's dimensions in its order, members in theirs. */
export async function dimensionsOf(db: Database, workspaceId: number): Promise<Dimension[]> {
  const [dimensions, members] = await Promise.all([
    db
      .select()
      .from(dimension)
      .where(eq(dimension.workspaceId, workspaceId))
      .orderBy(asc(dimension.position)),
    db
      .select()
      .from(member)
      .where(eq(member.workspaceId, workspaceId))
      .orderBy(asc(member.position)),
  ]);
  const there = new Set(members.map(({ id }) => id));
  return dimensions.map(({ id, code, name }) => ({
    code,
    name,
    members: members
      .filter((row) => row.dimensionId === id)
      .map((row) => ({
        ...{ id: row.id, code: row.code, name: row.name, parent: row.parentId },
        // What is replaced can be gone by now.
        ...(row.replaces !== null && there.has(row.replaces) ? { replaces: row.replaces } : {}),
      })),
  }));
}

export function combinationsOf(db: Database, workspaceId: number): Promise<Combination[]> {
  return db
    .select({ id: combination.id, members: combination.members })
    .from(combination)
    .where(eq(combination.workspaceId, workspaceId))
    .orderBy(asc(combination.id));
}

/** The ids of combinations, made where they are not there yet, in the order they were asked for. */
export async function ensureCombinations(
  db: Database,
  workspaceId: number,
  wanted: readonly (readonly number[])[],
): Promise<number[]> {
  const different = new Map(wanted.map((members) => [members.join(), members]));
  const rows = [...different.values()].map((members) => ({ workspaceId, members: [...members] }));
  await inPortions(rows, (portion) => db.insert(combination).values(portion).onConflictDoNothing());
  const idsByMembers = new Map(
    (await combinationsOf(db, workspaceId)).map(({ id, members }) => [members.join(), id]),
  );
  return wanted.map((members) => {
    const id = idsByMembers.get(members.join());
    if (id === undefined) throw new Error('A combination that was just made is not there');
    return id;
  });
}

/** Those of some combinations that are not there yet. */
export async function missingCombinations(
  db: Database,
  workspaceId: number,
  wanted: readonly (readonly number[])[],
): Promise<(readonly number[])[]> {
  const there = new Set(
    (await combinationsOf(db, workspaceId)).map(({ members }) => members.join()),
  );
  return [...new Map(wanted.map((members) => [members.join(), members]))].flatMap(
    ([key, members]) => (there.has(key) ? [] : [members]),
  );
}

/** Brings a combination back under the id it had. */
export async function restoreCombination(
  db: Database,
  row: typeof combination.$inferInsert & { id: number },
): Promise<void> {
  await db.insert(combination).overridingSystemValue().values(row);
}

export async function deleteCombination(
  db: Database,
  workspaceId: number,
  id: number,
): Promise<void> {
  await db
    .delete(combination)
    .where(and(eq(combination.workspaceId, workspaceId), eq(combination.id, id)));
}

/** Ids of combinations by their members, found once; made where they are not there yet. */
export class CombinationIds {
  readonly #known = new Map<string, number>();

  /**
   * @param db for a long transaction that does not hold the workspace's lock yet, outside of it:
   *   two that make the same combination would wait for each other's end, and one that nothing
   *   refers to does no harm. Under the lock only its own transaction can make them.
   */
  constructor(
    private readonly db: Database,
    private readonly workspaceId: number,
  ) {}

  /** In the order they were asked for. */
  async of(wanted: readonly (readonly number[])[]): Promise<number[]> {
    const ids = new Array<number>(wanted.length);
    const missing: number[] = [];
    for (let place = 0; place < wanted.length; place += 1) {
      const id = this.#known.get(wanted[place]?.join() ?? '');
      if (id === undefined) missing.push(place);
      else ids[place] = id;
    }
    if (missing.length === 0) return ids;
    const made = await ensureCombinations(
      this.db,
      this.workspaceId,
      missing.map((place) => wanted[place] ?? []),
    );
    missing.forEach((place, at) => {
      ids[place] = made[at] ?? 0;
      this.#known.set(wanted[place]?.join() ?? '', ids[place]);
    });
    return ids;
  }
}

export type MemberRow = typeof member.$inferSelect;

export async function dimensionRow(db: Database, workspaceId: number, code: string) {
  const [row] = await db
    .select()
    .from(dimension)
    .where(and(eq(dimension.workspaceId, workspaceId), eq(dimension.code, code)));
  return row;
}

export async function setDimensionName(
  db: Database,
  workspaceId: number,
  id: number,
  name: string,
): Promise<void> {
  await db
    .update(dimension)
    .set({ name })
    .where(and(eq(dimension.workspaceId, workspaceId), eq(dimension.id, id)));
}

export function memberRows(db: Database, workspaceId: number): Promise<MemberRow[]> {
  return db
    .select()
    .from(member)
    .where(eq(member.workspaceId, workspaceId))
    .orderBy(asc(member.position), asc(member.id));
}

/** Ids that no member has yet, in their order. */
export async function nextMemberIds(db: Database, count: number): Promise<number[]> {
  const { rows } = await db.execute<{ id: number }>(sql`
    select nextval(pg_get_serial_sequence('member', 'id'))::int as id
    from generate_series(1, ${count})`);
  return rows.map(({ id }) => id);
}

/** Adds members under the ids they are given; parents stand before their children. */
export async function insertMembers(
  db: Database,
  rows: Iterable<typeof member.$inferInsert & { readonly id: number }>,
): Promise<void> {
  await inPortions(rows, (portion) => db.insert(member).overridingSystemValue().values(portion));
}

/** Adds a member; with an id, it comes back as the one it was. */
export async function insertMember(
  db: Database,
  row: typeof member.$inferInsert,
  id?: number,
): Promise<number> {
  const values = id === undefined ? row : { ...row, id };
  const insert = db.insert(member).overridingSystemValue().values(values);
  return one(await insert.returning({ id: member.id })).id;
}

export async function setMember(
  db: Database,
  workspaceId: number,
  id: number,
  change: Partial<typeof member.$inferInsert>,
): Promise<void> {
  await db
    .update(member)
    .set(change)
    .where(and(eq(member.workspaceId, workspaceId), eq(member.id, id)));
}

export async function deleteMember(db: Database, workspaceId: number, id: number): Promise<void> {
  await db.delete(member).where(and(eq(member.workspaceId, workspaceId), eq(member.id, id)));
}

/** How many combinations name each leaf, and how many lines count there. */
export async function memberUse(db: Database, workspaceId: number) {
  const { rows } = await db.execute<{ id: number; combinations: number; lines: number }>(sql`
    with counted as (
      select combination_id, sum(lines)::float8 as lines from sales_month
      where workspace_id = ${workspaceId} group by 1)
    select m.id, count(*)::int as combinations, coalesce(sum(k.lines), 0)::float8 as lines
    from combination c cross join unnest(c.members) as m(id)
      left join counted k on k.combination_id = c.id
    where c.workspace_id = ${workspaceId} group by m.id`);
  return new Map(rows.map((row) => [row.id, row]));
}

export function assignmentsOf(db: Database, workspaceId: number, dimensionId?: number) {
  return db
    .select({
      dimensionId: assignment.dimensionId,
      customer: assignment.customer,
      from: assignment.from,
      memberId: assignment.memberId,
    })
    .from(assignment)
    .where(
      and(
        eq(assignment.workspaceId, workspaceId),
        dimensionId === undefined ? undefined : eq(assignment.dimensionId, dimensionId),
      ),
    )
    .orderBy(asc(assignment.customer), asc(assignment.from));
}

/** Keeps assignments; of two for the same customer and day the later one stands. */
export async function assign(
  db: Database,
  rows: readonly (typeof assignment.$inferInsert)[],
): Promise<void> {
  const different = new Map(
    rows.map((row) => [JSON.stringify([row.dimensionId, row.customer, row.from]), row]),
  );
  await inPortions([...different.values()], (portion) =>
    db
      .insert(assignment)
      .values(portion)
      .onConflictDoUpdate({
        target: [
          assignment.workspaceId,
          assignment.dimensionId,
          assignment.customer,
          assignment.from,
        ],
        set: { memberId: sql`excluded.member_id` },
      }),
  );
}

/** Takes assignments away. */
export async function unassign(
  db: Database,
  workspaceId: number,
  rows: readonly { dimensionId: number; customer: string; from: string }[],
): Promise<void> {
  if (rows.length === 0) return;
  await db.execute(sql`
    delete from assignment a using jsonb_to_recordset(${JSON.stringify(rows)}::jsonb)
      as g("dimensionId" integer, customer text, "from" date)
    where a.workspace_id = ${workspaceId} and a.dimension_id = g."dimensionId"
      and a.customer = g.customer and a."from" = g."from"`);
}

/** Adds a dimension behind the others: every combination names its first member. */
export async function appendDimension(
  db: Database,
  workspaceId: number,
  { code, name }: { code: string; name: string },
  first: { code: string; name: string },
): Promise<number> {
  const [{ position } = { position: 0 }] = await db
    .select({ position: sql<number>`coalesce(max(${dimension.position}), -1) + 1` })
    .from(dimension)
    .where(eq(dimension.workspaceId, workspaceId));
  const { id } = one(
    await db
      .insert(dimension)
      .values({ workspaceId, code, name, position: Number(position) })
      .returning({ id: dimension.id }),
  );
  const memberId = await insertMember(db, { workspaceId, dimensionId: id, position: 0, ...first });
  await db.execute(sql`
    update combination set members = members || ${memberId}::int where workspace_id = ${workspaceId}`);
  return memberId;
}
