import { type Value } from '../format/words.ts';

/** The texts of plan, by the part that shows each first. */
export const TEXTS = {
  // FilledFileDialog
  importFilledInFile: 'Import a filled-in file',
  importNumbers: (taken: Value): string => `Import ${taken}`,
  workbookOrCsvThatWas: (from: Value): string =>
    `The workbook or CSV that was saved from ${from}, filled in. Nothing is changed before you have seen what differs.`,
  filledInFile: 'Filled-in file',
  preferFileValues: 'Prefer the file’s values to those that changed here since',
  importedFrom: (count: Value, of: Value): string => `${count} imported from ${of}`,
  numbers: (count: Value): string => `${count} numbers`,

  // FilledLook
  newLines: (added: Value): string => `New lines: ${added}.`,
  asSaved: 'As saved',
  hereNow: 'Here now',
  inTheFile: 'In the file',
  andMore: (more: Value): string => `and ${more} more`,
  moreRowsCannotBeImported: (problems: Value): string =>
    `${problems} more rows cannot be imported.`,
  changedInFile: 'Changed in the file',
  changedInFileAndHere: 'Changed in the file and here',
  changed: (changed: Value): string => `${changed} changed`,
  changedHereToo: (meanwhile: Value): string => `${meanwhile} changed here too`,
  unchanged: (same: Value): string => `${same} unchanged`,
  linesAreNotInFile: (lacking: Value): string =>
    `${lacking} lines are not in the file and stay as they are`,
  andMoreOf: (shown: Value, more: Value): string => `${shown} and ${more} more`,

  // TypedQuestion
  asTyped: 'As typed',
  aboveZeroInOtherUnit: 'Above zero, in the other unit',
  keepOldValue: 'Keep the old value',
  youTypedInPlaceOf: (typed: Value, stands: Value): string =>
    `You typed ${typed} in place of ${stands}. Which did you mean?`,
  valuesAreBelowZeroOr: (doubts: Value): string =>
    `${doubts} values are below zero, or a thousand times larger or smaller than before. Which did you mean?`,

  // use-notices
  theWorkspace: 'the workspace',

  // use-plan
  thePlan: 'the plan',
  changedOf: (by: Value, room: Value): string => `${by} changed ${room}`,

  // use-typed
  andMoreCells: (refusals: Value): string => ` (and ${refusals} more cells)`,
  oldValueStays: (reason: Value, more: Value): string => `${reason}${more}. The old value stays.`,
  nothingWasChanged: 'Nothing was changed.',

  // use-unanswered
  valueThatWasWaitingFor: 'A value that was waiting for your answer was',
  valuesThatWereWaitingFor: (own: Value): string =>
    `${own} values that were waiting for your answer were`,
  notSaved: (values: Value): string => `${values} not saved`,
};
