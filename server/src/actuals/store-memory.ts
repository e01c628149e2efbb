/** How files are read, and what values stand for, in files to come. */
import type { Mapping, NewMapping, Remembered } from '@dravex/contract';
import { and, asc, eq } from 'drizzle-orm';
import { one, type Database } from '../platform/database.ts';
import { importMapping, rememberedRepair } from './tables.ts';

export async function mappings(db: Database, workspaceId: number): Promise<Mapping[]> {
  const rows = await db
    .select({
      id: importMapping.id,
      name: importMapping.name,
      kind: importMapping.kind,
      header: importMapping.header,
      reading: importMapping.reading,
    })
    .from(importMapping)
    .where(eq(importMapping.workspaceId, workspaceId))
    .orderBy(asc(importMapping.name));
  return rows.map((row) => ({ ...row, header: [...row.header] }));
}

export async function keepMapping(
  db: Database,
  workspaceId: number,
  mapping: NewMapping,
): Promise<number> {
  const { kind, header, reading } = mapping;
  const rows = await db
    .insert(importMapping)
    .values({ workspaceId, ...mapping })
    .onConflictDoUpdate({
      target: [importMapping.workspaceId, importMapping.name],
      set: { kind, header, reading },
    })
    .returning({ id: importMapping.id });
  return one(rows).id;
}

export async function dropMapping(db: Database, workspaceId: number, id: number): Promise<void> {
  await db
    .delete(importMapping)
    .where(and(eq(importMapping.workspaceId, workspaceId), eq(importMapping.id, id)));
}

export function remembered(db: Database, workspaceId: number): Promise<Remembered[]> {
  return db
    .select({
      kind: rememberedRepair.kind,
      field: rememberedRepair.field,
      from: rememberedRepair.from,
      to: rememberedRepair.to,
    })
    .from(rememberedRepair)
    .where(eq(rememberedRepair.workspaceId, workspaceId))
    .orderBy(asc(rememberedRepair.field), asc(rememberedRepair.from));
}

export async function remember(db: Database, workspaceId: number, repair: Remembered) {
  await db
    .insert(rememberedRepair)
    .values({ workspaceId, ...repair })
    .onConflictDoUpdate({
      target: [
        rememberedRepair.workspaceId,
        rememberedRepair.kind,
        rememberedRepair.field,
        rememberedRepair.from,
      ],
      set: { to: repair.to },
    });
}

export async function forget(
  db: Database,
  workspaceId: number,
  { kind, field, from }: Omit<Remembered, 'to'>,
): Promise<void> {
  await db
    .delete(rememberedRepair)
    .where(
      and(
        eq(rememberedRepair.workspaceId, workspaceId),
        eq(rememberedRepair.kind, kind),
        eq(rememberedRepair.field, field),
        eq(rememberedRepair.from, from),
      ),
    );
}
