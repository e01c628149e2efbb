import type { NewDimension } from '@dravex/contract';
import type { Combination, Dimension } from '@dravex/core';
import { asc, eq } from 'drizzle-orm';
import { one, type Database } from '../platform/database.ts';
import { combination, dimension, member } from './tables.ts';

/** Writes dimensions with their members; parents stand before their children. */
export async function insertDimensions(
  db: Database,
  workspaceId: number,
  dimensions: readonly NewDimension[],
): Promise<Dimension[]> {
  for (const [position, { code, name, members }] of dimensions.entries()) {
    const inserted = one(
      await db
        .insert(dimension)
        .values({ workspaceId, code, name, position })
        .returning({ id: dimension.id }),
    );
    const ids = new Map<string, number>();
    for (const [place, row] of members.entries()) {
      const parentId = row.parent === null ? null : (ids.get(row.parent) ?? null);
      const { id } = one(
        await db
          .insert(member)
          .values({
            workspaceId,
            dimensionId: inserted.id,
            code: row.code,
            name: row.name,
            parentId,
            position: place,
          })
          .returning({ id: member.id }),
      );
      ids.set(row.code, id);
    }
  }
  return dimensionsOf(db, workspaceId);
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
  return dimensions.map(({ id, code, name }) => ({
    code,
    name,
    members: members
      .filter((row) => row.dimensionId === id)
      .map((row) => ({ id: row.id, code: row.code, name: row.name, parent: row.parentId })),
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
  const rows = wanted.map((members) => ({ workspaceId, members: [...members] }));
  for (let start = 0; start < rows.length; start += 5000) {
    await db
      .insert(combination)
      .values(rows.slice(start, start + 5000))
      .onConflictDoNothing();
  }
  const known = new Map(
    (await combinationsOf(db, workspaceId)).map(({ id, members }) => [members.join(), id]),
  );
  return wanted.map((members) => {
    const id = known.get(members.join());
    if (id === undefined) throw new Error('A combination that was just made is not there');
    return id;
  });
}
