import { plural, type Value } from '../format/words.ts';

/** The texts of start, by the part that shows each first. */
export const TEXTS = {
  // BareStart
  whatDoYouPlanBy: 'What do you plan by?',
  nameWhatYouSellAnd:
    'Name what you sell and where, one dimension a line, its members with commas between them. More can be added later, by hand or by file.',
  dimensionOf: (place: Value): string => `Dimension ${place}`,
  dimension: 'Dimension',
  members: 'Members',
  ryeBreadRollsCakes: 'Rye bread, Rolls, Cakes',
  addDimension: 'Add dimension',
  continue: 'Continue',
  chooseFileInstead: 'Choose a file instead',
  product: 'Product',
  channel: 'Channel',

  // CompanyForm
  salesLinesWith: (lines: Value, dimensions: Value): string =>
    `${lines} sales lines with ${dimensions}`,
  aPlanBy: (dimensions: Value): string => `A plan by ${dimensions}`,
  leftOut: (left: Value): string => `Left out: ${left}.`,
  dimensionsFound: 'Dimensions found',
  forExample: 'For example',
  sumsByMonth: 'Sums by month',
  lines: 'Lines',
  allMonths: 'All months',
  toAreClosedInFy: (first: Value, closedThrough: Value, year: Value): string =>
    `${first} to ${closedThrough} are closed, in FY ${year}.`,
  companyName: 'Company name',
  currency: 'Currency',
  fiscalYearStartsIn: 'Fiscal year starts in',
  numberAndDateFormat: 'Number and date format',
  planAhead: 'Plan ahead',
  createWorkspace: 'Create workspace',
  backToColumns: 'Back to columns',
  quantity: 'Quantity',
  cost: 'Cost',
  dimensions: (length: number): string => `${length} ${plural(length, 'dimension', 'dimensions')}`,
  rowsAreTotals: (totals: number): string =>
    `${totals} ${plural(totals, 'row is a total', 'rows are totals')}`,
  rowsLackDateNumberOr: (faulty: number): string =>
    `${faulty} ${plural(faulty, 'row lacks', 'rows lack')} a date, a number or a member`,

  // FixedDimensions
  allRowsHave: (dimension: Value, member: Value): string => `All rows have ${dimension}: ${member}`,
  dimensionThatNoColumnHolds: 'Dimension that no column holds',
  valueForAllRows: 'Value for all rows',
  shops: 'Shops',
  addDimensionThatNoColumn: 'Add a dimension that no column holds',

  // StartPage
  importYourSales: 'Import your sales',
  startWithAnyFileOf:
    'Start with any file of sales: an export of tills, of an order system or of the books, as CSV, workbook or JSON. In the next step you see which column holds what, and change what is not right.',
  firstFileOfSalesLines: 'First file of sales lines',
  orDropItHere: 'or drop it here',
  startWithoutFile: 'Start without a file',
  orGoTo: 'Or go to',
  dimensionIsWhatYouPlan:
    'A dimension is what you plan and compare by: shop, product, region, customer group. What is not needed is not imported.',
  chooseAnotherFile: 'Choose another file',
  mostValuesOfAreNegative: (field: Value): string => `Most values of ${field} are negative.`,
  reverseSignOf: (field: Value): string => `Reverse the sign of ${field}`,
  signOfIsReversed: (key: Value): string => `The sign of ${key} is reversed.`,
  keepSignOfFile: 'Keep the sign of the file',
  ofRowsCanBeImported: (good: Value, rows: Value): string =>
    `${good} of ${rows} rows can be imported`,
  areExcluded: (faulty: Value): string => `, ${faulty} are excluded`,
  row: 'Row',
  problem: 'Problem',
  importSalesLines: (good: number): string =>
    `Import ${good} ${plural(good, 'sales line', 'sales lines')}`,
  yourSalesAreImportedCreate: 'Your sales are imported. Create the first forecast',
  forecastLineIsCreatedFor: (dimensionNames: Value): string =>
    `A forecast line is created for everything sold in the last twelve closed months, by ${dimensionNames}: units of the same month last year, at their average price. Change the drivers afterwards.`,
  createForecast: 'Create forecast',
  showSalesFirst: 'Show sales first',
  sales: 'Sales',
  workspace: 'Workspace',
  check: 'Check',
  hasNoRowsBelowIts: (name: Value): string => `${name} has no rows below its header`,
  checkWhatColumnsHold: (name: Value): string => `${name}: check what the columns hold`,
  chooseColumnFor: (name: Value, lacking: Value): string =>
    `${name}: choose the column for ${lacking}`,

  // lists
  years: (index: Value): string => `${index} years`,

  // use-first-file
  reading: (sent: Value): string => `Reading ${sent}`,
  readingAgain: 'Reading again',
  column: (column: Value): string => `Column ${column}`,
  creatingTheWorkspace: 'Creating the workspace',
  importingSalesLines: (good: Value): string => `Importing ${good} sales lines`,
  creatingTheForecast: 'Creating the forecast',
  quantityOrNetAmount: 'quantity or net amount',
  atLeastOneDimension: 'at least one dimension',
};
