import {
  keptSheetLineSchema,
  keptSheetSchema,
  type keptSheetLineSchema as LineSchema,
  type keptSheetSchema as SheetSchema,
} from '@dravex/contract';
import { and, asc, eq } from 'drizzle-orm';
import type { z } from 'zod';
import { version } from '../budgets/tables.ts';
import { person } from '../people/tables.ts';
import type { Database } from '../platform/database.ts';
import { sheet, sheetLine } from './tables.ts';

/** A sheet as it is kept, with the names of whoever fills it in and of what they fill. */
export interface SheetRow {
  readonly id: string;
  readonly kept: z.output<typeof SheetSchema>;
  readonly personName: string;
  readonly versionName: string;
  readonly versionOpen: boolean;
  readonly from: string;
  readonly to: string;
}

/** The sheets of versions that are there: all, one person's, or one; by their titles. */
export async function sheetsOf(
  db: Database,
  workspaceId: number,
  which: { readonly id?: string; readonly person?: number } = {},
): Promise<SheetRow[]> {
  const rows = await db
    .select({ sheet, person: { name: person.name }, version })
    .from(sheet)
    .innerJoin(person, eq(person.id, sheet.person))
    .innerJoin(
      version,
      and(eq(version.workspaceId, sheet.workspaceId), eq(version.id, sheet.version)),
    )
    .where(
      and(
        eq(sheet.workspaceId, workspaceId),
        eq(version.removed, false),
        which.id === undefined ? undefined : eq(sheet.name, which.id),
        which.person === undefined ? undefined : eq(sheet.person, which.person),
      ),
    )
    .orderBy(asc(sheet.title), asc(sheet.name));
  return rows.map((row) => ({
    id: row.sheet.name,
    kept: keptSheetSchema.strip().parse(row.sheet),
    personName: row.person.name,
    versionName: row.version.name,
    versionOpen: row.version.state === 'open',
    from: row.version.fromMonth.slice(0, 7),
    to: row.version.toMonth.slice(0, 7),
  }));
}

/** What is kept of a line, with its name. */
export interface LineRow {
  readonly id: string;
  readonly kept: z.output<typeof LineSchema>;
}

/** What was said of the lines of a sheet. */
export async function linesOf(
  db: Database,
  workspaceId: number,
  sheetId: string,
): Promise<LineRow[]> {
  const rows = await db
    .select()
    .from(sheetLine)
    .where(and(eq(sheetLine.workspaceId, workspaceId), eq(sheetLine.sheet, sheetId)));
  return rows.map((row) => ({ id: row.name, kept: keptSheetLineSchema.strip().parse(row) }));
}
