/** The drivers of a workspace: those that methods read themselves, and the planner's own. */
import { DRIVERS, type Driver } from '@dravex/core';
import { and, asc, eq, sql } from 'drizzle-orm';
import type { Database } from '../platform/database.ts';
import { driver } from './tables.ts';

/** Whether methods read a driver themselves; only its bounds can be changed. */
export const isBuiltIn = (code: string): boolean => DRIVERS.some((driver) => driver.code === code);

/** All drivers in order: the built-in ones with the bounds that hold here, then one's own. */
export async function driversOf(db: Database, workspaceId: number): Promise<Driver[]> {
  const rows = await db
    .select()
    .from(driver)
    .where(eq(driver.workspaceId, workspaceId))
    .orderBy(asc(driver.position), asc(driver.code));
  const kept = new Map(rows.map((row) => [row.code, row]));
  const builtIn = DRIVERS.map((driver) => {
    const keptDriver = kept.get(driver.code);
    if (!keptDriver) return driver;
    const { minimum, maximum, step, default: fallback, history } = keptDriver;
    return { ...driver, minimum, maximum, step, default: fallback, history };
  });
  const ownDrivers = rows
    .filter(({ code }) => !isBuiltIn(code))
    .map(({ workspaceId: _, position: __, nature, weight, ...rest }): Driver => ({
      ...rest,
      ...(nature === null ? {} : { nature }),
      ...(weight === null ? {} : { weight }),
    }));
  return [...builtIn, ...ownDrivers];
}

/** Keeps a driver; one of the same code is written over and keeps its place. */
export async function putDriver(db: Database, workspaceId: number, row: Driver): Promise<void> {
  const { code, choices, nature = null, weight = null, ...rest } = row;
  const values = { ...rest, choices: [...choices], nature, weight };
  await db
    .insert(driver)
    .values({
      workspaceId,
      code,
      ...values,
      position: sql`(select coalesce(max(position), 0) + 1 from ${driver} d where d.workspace_id = ${workspaceId})`,
    })
    .onConflictDoUpdate({ target: [driver.workspaceId, driver.code], set: values });
}

export async function deleteDriver(db: Database, workspaceId: number, code: string): Promise<void> {
  await db.delete(driver).where(and(eq(driver.workspaceId, workspaceId), eq(driver.code, code)));
}
