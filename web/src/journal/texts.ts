import { type Value } from '../format/words.ts';

/** The texts of journal, by the part that shows each first. */
export const TEXTS = {
  // HistoryDrawer
  history: 'History',
  historyOfAllRooms: 'History of all rooms',
  noChangesYet: 'No changes yet.',
  undone: ', undone',
  changes: (record: Value): string => `${record} changes`,
  andMore: (record: Value): string => `and ${record} more`,
  undo: 'Undo',
  addReason: 'Add reason',
  showEarlierChanges: 'Show earlier changes',

  // WhyField
  reasonOptionalEnterSavesIt: 'Reason (optional), Enter saves it',
};
