import { and, eq, inArray } from 'drizzle-orm';
import type { PgColumn, PgTable } from 'drizzle-orm/pg-core';
import { z } from 'zod';
import type { Actor } from '../people/actor.ts';
import type { Database } from '../platform/database.ts';
import type { Cells } from './cells.ts';
import type { Thing } from './thing.ts';

/**
 * A kind of thing that is kept under a name in a table of its own: what is said here is enough for
 * keeping, dropping and undoing it. Its cells are the columns that the schema names.
 */
export interface Named<Kind extends string = string> {
  readonly kind: Kind;
  /** What one is called in history: "view". */
  readonly word: string;
  /** Keys are workspace and name. */
  readonly table: PgTable & { readonly workspaceId: PgColumn; readonly name: PgColumn };
  readonly value: z.ZodObject;
  /** Columns that say who kept it, and when. */
  stamp(personId: number): Readonly<Record<string, unknown>>;
}

function valueOf({ value }: Named, row: Readonly<Record<string, unknown>>): Cells {
  return z.record(z.string(), z.json()).parse(value.strip().parse(row));
}

/** The things of some names as cells; those that are not there are left out. */
export async function readNamed(
  db: Database,
  of: Named,
  workspaceId: number,
  names: readonly string[],
): Promise<Map<string, Cells>> {
  const { table } = of;
  const rows = await db
    .select()
    .from(table)
    .where(and(eq(table.workspaceId, workspaceId), inArray(table.name, [...names])));
  return new Map(rows.map((row) => [String(row['name']), valueOf(of, row)]));
}

/** Keeps a thing, over one of the same name. */
export async function putNamed(
  db: Database,
  { table, value, stamp }: Named,
  { workspaceId, personId }: Pick<Actor, 'workspaceId' | 'personId'>,
  name: string,
  cells: Readonly<Record<string, unknown>>,
): Promise<void> {
  const columns = { ...value.strip().parse(cells), ...stamp(personId) };
  await db
    .insert(table)
    .values({ workspaceId, name, ...columns })
    .onConflictDoUpdate({ target: [table.workspaceId, table.name], set: columns });
}

export async function deleteNamed(
  db: Database,
  { table }: Named,
  workspaceId: number,
  name: string,
): Promise<void> {
  await db.delete(table).where(and(eq(table.workspaceId, workspaceId), eq(table.name, name)));
}

/** How things of such a kind are brought back. */
export function namedThing(of: Named): Thing {
  return {
    read: (db, workspaceId, ids) => readNamed(db, of, workspaceId, ids),
    async write(db, actor, changes) {
      for (const { id, next } of changes) {
        if (next === null) await deleteNamed(db, of, actor.workspaceId, id);
        else await putNamed(db, of, actor, id, next);
      }
    },
  };
}
