/** Changes of a workspace's calendar, as part of a write of the journal. */
import { lastDayOf } from '@dravex/core';
import type { Recorder } from '../journal/service.ts';
import type { Actor } from '../people/actor.ts';
import type { Database } from '../platform/database.ts';
import { notFound } from '../platform/errors.ts';
import { workspaceById } from './store.ts';
import { calendarCells, calendarNames, calendarThing } from './thing.ts';

/** The parts of a calendar that change while one works: months as `2026-10`, a day as `2026-10-12`. */
export interface CalendarParts {
  readonly closedThrough?: string | undefined;
  readonly last?: string | undefined;
  readonly asOf?: string | undefined;
  readonly asOfBy?: 'day' | 'hand' | undefined;
}

/** Changes a calendar and writes down what it was. @throws HttpProblem 404 */
export async function changeCalendar(
  tx: Database,
  actor: Actor,
  record: Recorder,
  parts: CalendarParts,
): Promise<void> {
  const { workspaceId } = actor;
  const row = await workspaceById(tx, workspaceId);
  if (!row) throw notFound('such workspace');
  const now = calendarCells(row);
  const said = Object.entries(parts).filter(([, value]) => value !== undefined);
  const next = { ...now, ...Object.fromEntries(said) };
  const id = String(workspaceId);
  await calendarThing.write(tx, actor, [{ id, now, next }], record.journalId);
  record.changed('calendar', id, now, next, calendarNames);
}

/**
 * Moves the as-of date forward to a day, never back, and not beyond the horizon.
 * @returns whether it moved
 */
export async function moveAsOf(
  tx: Database,
  actor: Actor,
  record: Recorder,
  day: string,
): Promise<boolean> {
  const row = await workspaceById(tx, actor.workspaceId);
  const end = lastDayOf(row?.lastMonth.slice(0, 7) ?? day.slice(0, 7));
  const asOf = day < end ? day : end;
  if (!row || asOf <= row.asOf) return false;
  await changeCalendar(tx, actor, record, { asOf });
  return true;
}
