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

/** What is set up rather than worked in; it has no number. */
export const SETTINGS = ['settings', 'dimensions', 'connections', 'access'] as const;

/** The rooms of somebody who sees only the own part of the targets. */
export const OF_A_PART: ReadonlySet<string> = new Set(['targets', 'settings']);

export type RoomKey = (typeof ROOMS)[number]['key'] | (typeof SETTINGS)[number];

/** The room of the journal whose changes are in sight in a room of the application. */
export function roomInSight(room: unknown): JournalRoom {
  if (room === 'access') return 'people';
  return journalRoomSchema.safeParse(room).data ?? 'workspace';
}
