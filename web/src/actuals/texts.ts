import { plural, type Value } from '../format/words.ts';

/** The texts of actuals, by the part that shows each first. */
export const TEXTS = {
  // ActualsPage
  viewsOfActuals: 'Views of actuals',
  importFile: 'Import file',
  fileToImport: 'File to import',
  file: 'file',
  files: 'files',
  noFilesAreImportedYet: 'No files are imported yet.',
  rowsOf: (good: Value, createdBy: Value, when: Value): string =>
    `${good} rows, ${createdBy}, ${when}`,
  open: 'Open',
  undoImportOf: (fileName: Value): string => `Undo import of ${fileName}`,
  undoImport: 'Undo import',
  isNotImportedYetRows: (fileName: Value, good: Value, faulty: Value, message: Value): string =>
    `${fileName} is not imported yet: ${good} rows can be imported, ${faulty} are excluded. ${message}`,

  // HandLineForm
  addSaleByHand: 'Add a sale by hand',
  addSale: 'Add sale',
  forSalesThatAreNot: 'For sales that are not in the books. It is marked wherever it is counted.',
  date: 'Date',
  quantity: 'Quantity',
  netAmount: (currency: Value): string => `Net amount, ${currency}`,
  cost: (currency: Value): string => `Cost, ${currency}`,
  reasonWhyItIsNot: 'Reason why it is not in the books',

  // ImportPreview
  import: (rows: Value): string => `Import ${rows}`,
  changeMapping: 'Change mapping',
  discardFile: 'Discard file',
  decideLater: 'Decide later',
  exportTheExcluded: (faulty: Value): string => `Export the ${faulty} excluded`,
  asOfDateMovesTo: (until: Value, asOf: Value): string =>
    `The as-of date moves to ${until} with the import: the file has later days than ${asOf}.`,
  reverseSignOf: (field: Value): string => `Reverse the sign of ${field}`,
  changeByMonth: 'Change by month',
  importedByMonth: 'Imported by month',
  rows: 'Rows',
  revenueWithoutIt: 'Revenue without it',
  revenueNow: 'Revenue now',
  thisFile: 'This file',
  revenueAfter: 'Revenue after',
  allMonths: 'All months',
  ofThisFileAreImported: (rows: Value): string => `${rows} of this file are imported`,
  noneOfRowsCanBe: (rows: Value): string => `None of the ${rows} rows can be imported`,
  allRowsCanBeImported: (rows: Value): string => `All ${rows} rows can be imported`,
  ofRowsCanBeImported: (good: Value, rows: Value, faulty: number): string =>
    `${good} of ${rows} rows can be imported, ${faulty} ${plural(faulty, 'is', 'are')} excluded`,
  uploadedAndNotImported: 'uploaded and not imported',
  thisSameFileWasBefore: (what: Value, fileName: Value, createdAt: Value): string =>
    `This same file was ${what} before, as ${fileName} on ${createdAt}.`,
  rowsAreInClosedMonths: (closed: number): string =>
    `${closed} ${plural(closed, 'row is', 'rows are')} in closed months and ${plural(closed, 'changes', 'change')} them.`,
  signOfIsReversed: (turned: Value): string => `The sign of ${turned} is reversed.`,
  valuesWereCorrectedAsIn: (remembered: Value): string =>
    `${remembered} values were corrected as in earlier files.`,
  isReadAs: (field: Value, from: Value, to: Value): string =>
    `${field}: “${from}” is read as “${to}”.`,
  monthsAreInColumnsThey: (values: Value): string => `Months are in columns; they hold ${values}.`,
  amountsIn: (fileName: Value, imported: boolean, currency: Value): string =>
    `${fileName}, ${imported ? 'imported' : 'checked, not imported yet: nothing has changed'}. Amounts in ${currency}.`,

  // LinesPanel
  salesLinesOf: (wanted: Value): string => `Sales lines: ${wanted}`,
  linesTotalLargestFirst: (
    lines: number,
    ofPeriod: boolean,
    from: Value,
    to: Value,
    document: Value,
    revenue: Value,
    currency: Value,
  ): string =>
    `${lines} ${plural(lines, 'line', 'lines')}${ofPeriod ? `, ${from} to ${to}` : ` of ${document}`}, total ${revenue} ${currency}; largest first`,
  allLinesOfThisDocument: 'All lines of this document',
  backToNumber: 'Back to the number',
  enteredByHand: (note: Value): string => `Entered by hand: ${note}`,
  rowOf: (row: Value): string => `row ${row}`,
  previous: 'Previous',
  next: 'Next',
  deletedSaleEnteredByHand: 'Deleted the sale entered by hand',

  // MappingSheet
  savedMappings: 'Saved mappings',
  useSavedMapping: 'Use a saved mapping',
  saveThisMappingAs: 'Save this mapping as',
  erpExport: 'ERP export',
  nameOfMapping: 'Name of the mapping',

  // ProblemGroups
  rowsToCheck: 'Rows to check',
  first: 'First',
  problem: 'Problem',
  correction: 'Correction',
  included: '(included)',
  choose: 'Choose',
  memberFor: (group: Value): string => `Member for ${group}`,
  for: (field: Value, group: Value): string => `${field} for ${group}`,
  assign: (group: Value): string => `Assign ${group}`,
  useFor: (rows: Value): string => `Use for ${rows}`,
  remember: 'Remember',
  orAddItAsMember: 'or add it as a member',
  excludeAllOfThese: 'Exclude all of these',

  // ReadingForm
  checkRows: 'Check rows',
  importAs: 'Import as',
  measuredFacts: 'Measured facts',
  subscribers: 'Subscribers',
  ledgerHistory: 'Ledger history',
  asCustomerIsAssigned: 'As the customer is assigned',
  canBeImported: (fileName: Value): string => `${fileName} can be imported`,
  chooseColumnFor: (fileName: Value, lacking: Value): string =>
    `${fileName}: choose the column for ${lacking}`,
  headerInRowColumnsSettings: (format: Value, headerRow: Value, header: Value): string =>
    `${format}, header in row ${headerRow}, ${header} columns. The settings were detected; change what is not right.`,

  // ReadingSheet
  howFileIsRead: 'How the file is read',
  sheet: 'Sheet',
  sheetOf: (sheet: Value): string => `Sheet: ${sheet}`,
  separator: 'Separator',
  separatorOf: (delimiters: Value): string => `Separator: ${delimiters}`,
  encoding: 'Encoding',
  numbers: 'Numbers',
  numbersOf: (decimals: Value): string => `Numbers ${decimals}`,
  dates: 'Dates',
  datesOf: (dates: Value): string => `Dates ${dates}`,
  layout: 'Layout',
  monthsHold: 'Months hold',
  monthsHoldOf: (values: Value): string => `Months hold: ${values}`,
  headerAndMapping: 'Header and mapping',
  headerInRow: 'Header in row',
  emptyCellsRepeatOneAbove: 'Empty cells repeat the one above',
  valuesForAllRows: 'Values for all rows',
  noColumnHasTheseChoose: 'No column has these; choose one value for all rows:',
  firstRowsOfFile: 'First rows of the file',
  row: 'Row',
  figureOfRow: 'Figure of the row',
  columnHolds: (heading: Value): string => `Column ${heading} holds`,
  column: (column: Value): string => `column ${column}`,
  verticalBar: 'vertical bar',
  westernEuropeanWindows1252: 'Western European (Windows-1252)',
  utf16BigEndian: 'UTF-16 big endian',
  yearMonthDay: 'year, month, day',
  dayMonthYear: 'day, month, year',
  monthDayYear: 'month, day, year',
  oneRowPerLine: 'one row per line',
  monthsInColumns: 'months in columns',
  canBeReadWithDay: (first: Value, dates: Value): string =>
    `${first} can be read with the day or the month first; it is read as ${dates}. Choose under Dates if that is not right.`,
  doNotImport: 'Do not import',

  // SalesTable
  noSalesLinesMatch: 'No sales lines match',
  noClosedMonthsInThis: 'No closed months in this period',
  atAUnit: (currency: Value, now: Value): string => `at ${currency}${now} a unit`,
  units: ' units',
  soldFrom: (subject: Value, value: Value, closed: Value, change: Value): string =>
    `${subject} sold ${value} from ${closed}${change}`,
  isOpenSalesToDate: (openMonth: Value): string => `; ${openMonth} is open: sales to date`,
  from: (measure: Value, span: Value, booksOnly: boolean, toDate: Value): string =>
    `${measure}, ${span}, from ${booksOnly ? 'the books only' : 'sales lines'}${toDate}`,
  toDate: (from: Value): string => `${from} to date`,

  // SummaryTable
  by: (columnName: Value): string => `By ${columnName}`,
  measuresAndComparison: 'Measures and comparison',
  compareWithLastYear: 'Compare with last year',
  sharesOfTotal: 'Shares of the total',
  measuresInRows: 'Measures in rows',
  whichSales: 'Which sales',
  customerGroups: 'Customer groups',
  findRow: 'Find row',
  noRowMatches: 'No row matches',
  find: (find: Value): string => `Find “${find}”`,
  summaryOfSales: 'Summary of sales',
  partialPeriod: '˙ partial period',
  theWholePeriod: 'the whole period',
  allSales: 'All sales',
  onlySalesInBooks: 'Only sales in the books',
  onlySalesEnteredByHand: 'Only sales entered by hand',
  aYearBefore: (before: Value): string => `; a year before ${before}`,
  enteredByHandNotIn: ', entered by hand, not in the books',
  noValue: 'no value',
  comparedWithTo: (from: Value, to: Value): string => `, compared with ${from} to ${to}`,
  toMoneyIn: (from: Value, to: Value, before: Value, unit: Value, books: Value): string =>
    `${from} to ${to}${before}; money in ${unit}${books}`,
  all: 'All',
  groupsAsOfSale: 'Groups as of the sale',
  groupsAsOfToday: 'Groups as of today',
  andMore: (more: Value): string => ` and ${more} more`,

  // use-import
  reading: (sent: Value): string => `Reading ${sent}`,
  checking: (sent: Value): string => `Checking ${sent}`,
  readingAgain: 'Reading again',
  opening: 'Opening',
  checkingAgain: 'Checking again',
  addingTheMember: 'Adding the member',
  assigningTheCustomer: 'Assigning the customer',
  importingRows: (good: Value): string => `Importing ${good} rows`,
  nothingWasImported: 'Nothing was imported',
  rowsWereExcluded: (faulty: Value): string => `; ${faulty} rows were excluded`,
  rowsOfAreImported: (good: Value, fileName: Value, left: Value): string =>
    `${good} rows of ${fileName} are imported${left}.`,
  undoingImportOf: (fileName: Value): string => `Undoing the import of ${fileName}`,
  rowsOfNoLongerCount: (good: Value, fileName: Value): string =>
    `${good} rows of ${fileName} no longer count; the file can be imported again.`,
  discarding: 'Discarding',

  // views
  salesByMonth: 'Sales by month',
  summary: 'Summary',
  ledger: 'Ledger',
};
