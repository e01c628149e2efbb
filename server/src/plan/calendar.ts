import type { Calendar } from '@dravex/core';
import { fromFirst } from '../platform/database.ts';
import type { WorkspaceRow } from '../workspaces/store.ts';

/** The calendar of a workspace as the core has it. */
export function calendarOf(row: WorkspaceRow): Calendar {
  return {
    first: fromFirst(row.firstMonth),
    last: fromFirst(row.lastMonth),
    closedThrough: fromFirst(row.closedThrough),
    asOf: row.asOf,
    fiscalStart: row.fiscalStart,
  };
}
