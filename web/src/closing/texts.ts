import { type Value } from '../format/words.ts';

/** The texts of closing, by the part that shows each first. */
export const TEXTS = {
  // AccuracyView
  figure: 'Figure',
  importEarlierForecast: 'Import an earlier forecast',
  noForecastHasBeenKept: 'No forecast has been kept yet',
  atEachCloseForecastIs:
    'At each close the forecast is kept as it stood; from then on its accuracy stands here.',
  accuracy: 'Accuracy',
  grossMargin: 'gross margin',
  forecastsKeptAtClosesOf: (what: Value, name: Value, span: Value): string =>
    `${what}, ${name}, forecasts kept at the closes of ${span}`,
  oneMonthAhead: '1 month ahead',
  months: (lead: Value): string => `${lead} months`,
  forecastsMadeAhead: (months: Value): string => `Forecasts made ${months} ahead`,
  forecastsWere: 'Forecasts were',
  alwaysTooHigh: 'always too high',
  alwaysTooLow: 'always too low',
  from: (text: Value, months: Value): string => `${text}, from ${months}`,
  noForecastWasKeptSo: 'No forecast was kept so far ahead',
  forecastAhead: (row: Value, span: Value, months: Value, says: Value): string =>
    `${row}, ${span}, forecast ${months} ahead. ${says}`,
  actualWithoutSigns: 'Actual, without signs',
  actualLessForecast: 'Actual less forecast',
  bias: 'Bias',
  differencesWithoutSigns: 'Differences, without signs',
  forecastError: 'Forecast error',
  averageDifferenceOfMonth: 'Average difference of a month',
  averageDifferenceFromYearBefore: 'Average difference from the year before',
  scaledError: 'Scaled error',

  // CalendarDialog
  asOfDateAndHorizon: 'As-of date and horizon',
  saveAnyway: 'Save anyway',
  asOfDate: 'As-of date',
  day: 'Day',
  lastMonthOfHorizon: 'Last month of the horizon',
  upToTenYearsAfter: 'Up to ten years after the last closed month',
  todayEveryDay: 'Today, every day',
  daySetByHand: 'A day set by hand',

  // ClosePanel
  closeTheMonth: 'Close the month',
  close: (month: Value): string => `Close ${month}`,
  soldSoFarForecast: (over: boolean, forecast: Value, difference: Value): string =>
    `${over ? '' : 'sold so far; '}forecast ${forecast}, ${difference}`,
  itsForecastIsKeptAs:
    'Its forecast is kept as it stands, and actuals take its place. Lines that come later are still imported, and listed as late.',
  onClosing: 'On closing',
  horizon: 'Horizon',
  monthsAreClosed: 'Months are closed',
  followsRealDay: 'follows the real day',
  setByHand: 'set by hand',
  changeRules: 'Change rules',
  changeDates: 'Change dates',
  closedBefore: 'Closed before',
  andEarlierWithoutKeptForecast: (closedThrough: Value): string =>
    `${closedThrough} and earlier, without a kept forecast.`,
  reopen: 'Reopen',
  reopenOf: (closedThrough: Value): string => `Reopen ${closedThrough}`,
  closeOf: (month: Value): string => `Close ${month}?`,
  closeAnyway: 'Close anyway',
  isClosed: (closed: Value): string => `${closed} is closed`,
  byHand: 'By hand',
  workingDay: 'working day',
  automaticallyOnAfterMonthIf: (kind: Value, day: Value, next: Value): string =>
    `Automatically on ${kind} ${day} after the month${next}, if its sales are in and nothing waits`,
  staysTo: (last: Value): string => `Stays, to ${last}`,
  growsByTo: (roll: number, last: Value): string =>
    `Grows by ${roll === 1 ? 'one month' : `${roll} months`}, to ${last}`,
  byItself: 'by itself',

  // ClosingRoom
  viewsOfClosing: 'Views of closing',
  nextClose: 'Next close',

  // EarlierDialog
  whatWasForecastWhenMonth:
    'What was forecast when a month was closed, before this workspace was here: a CSV with month, a column for each dimension, units, revenue and cost, for that month and those after it.',
  closedMonth: 'Closed month',
  fileOfEarlierForecast: 'File of the earlier forecast',
  noFileYet: 'no file yet',
  chooseMonthAndFile: 'Choose a month and a file',
  importedForecastOf: (month: Value): string => `Imported the forecast of ${month}`,

  // MonthView
  everyMonthOfHorizonIs: 'Every month of the horizon is closed',
  makeHorizonLongerToGo: 'Make the horizon longer to go on planning.',
  beforeMonthIsClosed: 'Before the month is closed',
  done: 'done:',
  toSettle: 'to settle:',
  noSalesAndNoForecast: 'No sales and no forecast here',
  forecastAndActual: 'Forecast and actual',
  forecastActual: 'Forecast | actual',
  openAsOf: (measure: Value, month: Value, asOf: Value): string =>
    `${measure}, ${month}, open; as of ${asOf}`,

  // ReopenDialog
  reopenAnyway: 'Reopen anyway',
  itsForecastTakesPlaceOf:
    'Its forecast takes the place of its actuals again, as it was before the close.',

  // RulesDialog
  howMonthsAreClosed: 'How months are closed',
  workingDayAfterMonth: 'Working day after the month',
  dayAfterMonth: 'Day after the month',
  closedOnThatDayIf: 'Closed on that day if its sales are in and nothing waits to be imported',
  theHorizon: 'The horizon',
  forecastShowsInClosedMonths: 'Forecast shows, in closed months',
  holidaysOneOnEachLine: 'Holidays, one on each line',
  importHolidays: 'Import holidays',
  fileOfHolidays: 'File of holidays',
  onWorkingDay: 'On a working day',
  onCalendarDay: 'On a calendar day',
  staysAsItIs: 'Stays as it is',
  growsBy1Month: 'Grows by 1 month',
  growsByMonths: (value: Value): string => `Grows by ${value} months`,
  actualsOnly: 'Actuals only',
  actualsAndForecastAtClose: 'Actuals, and the forecast at close in a row below',
  forecastAtCloseOnly: 'Forecast at close only',
  hasNoDays: (file: Value): string => `${file} has no days`,
};
