import { journalRoomSchema, type JournalRoom } from '@dravex/contract';

/** The rooms, in the order of the work. A room that is not built is not here. */
export const ROOMS = [
  { key: 'standing', numeral: '1', name: 'Standing' },
  { key: 'actuals', numeral: '2', name: 'Actuals' },
  { key: 'drivers', numeral: '3', name: 'Drivers' },
  { key: 'forecast', numeral: '4', name: 'Forecast' },
  { key: 'targets', numeral: '6', name: 'Targets' },
  { key: 'budget', numeral: '7', name: 'Budget' },
  { key: 'comparison', numeral: '8', name: 'Comparison' },
  { key: 'closing', numeral: '9', name: 'Closing' },
] as const;

/** Pages of a room that have an address of their own, with the room they belong to. */
export const WITHIN = { sheets: 'budget' } as const;

/** What is set up rather than worked in; it has no number. */
export const SETTINGS = ['settings', 'dimensions', 'connections', 'access', 'audit'] as const;

/** What somebody sees who has a part of the plan only: of the targets, or sheets to fill in. */
export const OF_A_PART: ReadonlySet<string> = new Set(['targets', 'sheets', 'settings']);
export const ROOMS_OF_A_PART = [
  { key: 'targets', numeral: '6', name: 'Targets' },
  { key: 'sheets', numeral: '7', name: 'Sheets' },
] as const;

export type RoomKey =
  (typeof ROOMS)[number]['key'] | keyof typeof WITHIN | (typeof SETTINGS)[number];

/** The room of the journal whose changes are in sight in a room of the application. */
export function roomInSight(room: unknown): JournalRoom {
  if (room === 'access' || room === 'audit') return 'people';
  if (room === 'sheets') return WITHIN.sheets;
  return journalRoomSchema.safeParse(room).data ?? 'workspace';
}
