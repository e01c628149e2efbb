import { plural, type Value } from '../format/words.ts';

/** The texts of grid, by the part that shows each first. */
export const TEXTS = {
  // FiguresGrid
  all: 'All',
  incompleteInputBelowIsMissing: ', incomplete: an input below is missing',
  enteredByHandNotIn: ', entered by hand, not in the books',

  // GridMenu
  actionsForSelectedCells: 'Actions for the selected cells',
  showHowItIsCalculated: 'Show how it is calculated',
  cut: 'Cut',
  paste: 'Paste',
  clearEnteredValues: 'Clear entered values',
  fillDown: 'Fill down',
  fillRight: 'Fill right',
  findARow: 'Find a row',

  // PlanGrid
  noRowIsCalled: (finding: Value): string => `No row is called “${finding}”`,
  sortBy: (heading: Value): string => `Sort by ${heading}`,
  unpinRow: 'Unpin row',
  pinRow: 'Pin row',
  widerColumn: 'Wider column',
  narrowerColumn: 'Narrower column',
  usualWidth: 'Usual column width',

  // PrintedTable
  columnsTo: (label: Value, from: Value, to: Value): string => `${label}, columns ${from} to ${to}`,
  columnsToOf: (from: Value, to: Value, count: Value): string =>
    `; columns ${from} to ${to} of ${count}`,
  printedOn: (today: Value): string => `printed on ${today}`,

  // RowsChoice
  rowsAndColumns: (label: Value): string => `Rows and columns: ${label}`,
  rows: 'Rows',
  rowsWithinThem: 'Rows within them',
  seller: 'Seller',
  by: (words: Value, above: Value): string => `${words} by ${above}`,
  none: 'None',
  time: 'Time',

  // grid-file
  fraction: ', fraction',
  tooLargeToSave: (most: Value): string =>
    `This table has more than ${most} cells; filter it, or fold rows, before it is saved`,

  // grid-line
  open: 'Open',
  fold: 'Fold',
  letGoOf: 'Let go of',
  pin: 'Pin',
  notSavedYet: 'not saved yet',

  // table-rows
  perUnit: (name: Value, currency: Value): string => `${name}, ${currency} per unit`,
  perUnitOf: (currency: Value): string => `${currency} per unit`,

  // use-grid-typing
  cellsWereLeftAsThey: (left: Value, why: Value): string =>
    `${left} cells were left as they are: ${why}`,
  rowsOf: (rowsBeyond: number): string => `${rowsBeyond} ${plural(rowsBeyond, 'row', 'rows')}`,
  columns: (columnsBeyond: number): string =>
    `${columnsBeyond} ${plural(columnsBeyond, 'column', 'columns')}`,
  leftOutBeyondEdgeOf: (beyond: Value): string =>
    `Left out beyond the edge of the table: ${beyond}`,
};
