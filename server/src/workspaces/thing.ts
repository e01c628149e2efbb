import { eq } from 'drizzle-orm';
import type { CellName, Cells } from '../journal/cells.ts';
import type { Thing } from '../journal/thing.ts';
import { fromFirst, toFirst } from '../platform/database.ts';
import { workspaceById, type WorkspaceRow } from './store.ts';
import { workspace } from './tables.ts';

/** What of a calendar can be changed, as the journal keeps it. */
export function calendarCells(row: WorkspaceRow): Cells {
  return {
    closedThrough: fromFirst(row.closedThrough),
    last: fromFirst(row.lastMonth),
    asOf: row.asOf,
    asOfBy: row.asOfBy,
  };
}

const NAMES: Readonly<Record<string, string>> = {
  closedThrough: 'closed through',
  last: 'end of the horizon',
  asOf: 'as-of date',
  asOfBy: 'as-of date set by',
};

/** What the journal calls the parts of the calendar. */
export function calendarNames(cell: string): CellName {
  return { label: `Calendar, ${NAMES[cell] ?? cell}`, unit: 'text' };
}

/** When we are: the months that are closed, the horizon, and the day up to which things are known. */
export const calendarThing: Thing = {
  async read(db, workspaceId) {
    const row = await workspaceById(db, workspaceId);
    return new Map(row ? [[String(workspaceId), calendarCells(row)]] : []);
  },
  async write(db, { workspaceId }, changes) {
    for (const { next } of changes) {
      if (!next) continue;
      await db
        .update(workspace)
        .set({
          closedThrough: toFirst(String(next['closedThrough'])),
          lastMonth: toFirst(String(next['last'])),
          asOf: String(next['asOf']),
          asOfBy: next['asOfBy'] === 'day' ? 'day' : 'hand',
        })
        .where(eq(workspace.id, workspaceId));
    }
  },
};
