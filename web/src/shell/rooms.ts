import { journalRoomSchema, type JournalRoom } from '@dravex/contract';
import { WORDS } from '../format/words.ts';
import { TEXTS } from './texts.ts';

/** The rooms, in the order of the work. A room that is not built is not here. */
export const ROOMS = [
  { key: 'standing', numeral: '1', name: TEXTS.standing },
  { key: 'actuals', numeral: '2', name: WORDS.actuals },
  { key: 'drivers', numeral: '3', name: WORDS.drivers },
  { key: 'forecast', numeral: '4', name: WORDS.forecast },
  { key: 'targets', numeral: '6', name: WORDS.targets },
  { key: 'budget', numeral: '7', name: WORDS.budget },
  { key: 'comparison', numeral: '8', name: WORDS.comparison },
  { key: 'closing', numeral: '9', name: WORDS.closing },
] as const;

/** Pages of a room that have an address of their own, with the room they belong to. */
export const WITHIN = { sheets: 'budget' } as const;

/** What is set up rather than worked in; it has no number. */
export const SETTINGS = ['settings', 'dimensions', 'connections', 'access', 'audit'] as const;

/** What somebody sees who has a part of the plan only: of the targets, or sheets to fill in. */
export const OF_A_PART: ReadonlySet<string> = new Set(['targets', 'sheets', 'settings']);
export const ROOMS_OF_A_PART = [
  { key: 'targets', numeral: '6', name: WORDS.targets },
  { key: 'sheets', numeral: '7', name: TEXTS.sheets },
] as const;

/** The room of the journal whose changes are in sight in a room of the application. */
export function roomInSight(room: unknown): JournalRoom {
  if (room === 'access' || room === 'audit') return 'people';
  if (room === 'sheets') return WITHIN.sheets;
  return journalRoomSchema.safeParse(room).data ?? 'workspace';
}
