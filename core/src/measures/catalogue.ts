/**
 * The one catalogue of what can be shown. Roll-ups, tables, comparison, budgets, targets, trace, the
 * contract's enumerations, reporting, the command line and menus derive from it: a new measure is an
 * entry here and its test.
 */
import type { Nature } from './nature.ts';

/** What methods compute for every stream and month, and what books and versions keep, by name. */
export const RESULTS = ['units', 'revenue', 'cost'] as const;
export type ResultCode = (typeof RESULTS)[number];

/** What of a stream can be forecast, read by another one, and typed over. */
export const FORECAST_RESULTS = ['units', 'revenue'] as const satisfies readonly ResultCode[];
export type ForecastResult = (typeof FORECAST_RESULTS)[number];

/** How numbers are shown: money in its unit of display, prices in full, rates as percentages, scores as they are. */
export type Display = 'money' | 'units' | 'price' | 'percent' | 'score';

/** Whether more of a measure is good (revenue) or bad (cost). */
export type Sense = 'moreIsGood' | 'moreIsBad';

/** What adds up over combinations: a result, or one result less another. */
export type AddingCode = ResultCode | 'margin';

/** What is shown of subscriptions: those who are there, and what they bring; who is new; who is kept. */
export type SubscriberPart = 'active' | 'recurring' | 'starters' | 'churn' | 'netRetention';

/** How a measure is made. */
export type Making =
  | { readonly kind: 'result'; readonly of: ResultCode }
  /** By combination and month; the differences add up. */
  | { readonly kind: 'difference'; readonly of: ResultCode; readonly less: ResultCode }
  | { readonly kind: 'ratio'; readonly above: AddingCode; readonly below: AddingCode }
  /** Each number's share of the total of its column. */
  | { readonly kind: 'share'; readonly of: ForecastResult }
  /** Net units over the size of the market, or that size. */
  | { readonly kind: 'market'; readonly of: 'share' | 'size' }
  /** Growth on the same months a year before, or on the period before. */
  | {
      readonly kind: 'growth';
      readonly of: ForecastResult;
      readonly on: 'year' | 'period';
    }
  /** Of the lines that are forecast as subscriptions. */
  | { readonly kind: 'subscription'; readonly of: SubscriberPart }
  /** How many sales lines there are. */
  | { readonly kind: 'lines' };

export interface Measure {
  readonly name: string;
  readonly nature: Nature;
  readonly display: Display;
  readonly sense: Sense;
  readonly making: Making;
}

const flow = (
  name: string,
  display: Display,
  making: Making,
  sense: Sense = 'moreIsGood',
): Measure => ({ name, nature: 'flow', display, sense, making });
const ratioOf = <Kind extends Making>(
  name: string,
  display: Display,
  making: Kind,
  sense: Sense = 'moreIsGood',
): Measure & { readonly making: Kind } => ({ name, nature: 'ratio', display, sense, making });

const stock = (name: string, display: Display, making: Making): Measure => ({
  ...flow(name, display, making),
  nature: 'stock',
});

const CATALOGUE = {
  revenue: flow('Revenue', 'money', { kind: 'result', of: 'revenue' }),
  units: flow('Units', 'units', { kind: 'result', of: 'units' }),
  averagePrice: ratioOf('Average price', 'price', {
    kind: 'ratio',
    above: 'revenue',
    below: 'units',
  }),
  cost: flow('Cost of sales', 'money', { kind: 'result', of: 'cost' }, 'moreIsBad'),
  margin: flow('Gross margin', 'money', { kind: 'difference', of: 'revenue', less: 'cost' }),
  marginRate: ratioOf('Gross margin, share of revenue', 'percent', {
    kind: 'ratio',
    above: 'margin',
    below: 'revenue',
  }),
  shareOfRevenue: ratioOf('Share of revenue', 'percent', { kind: 'share', of: 'revenue' }),
  shareOfUnits: ratioOf('Share of units', 'percent', { kind: 'share', of: 'units' }),
  shareOfMarket: ratioOf('Share of market', 'percent', { kind: 'market', of: 'share' }),
  marketSize: flow('Market size', 'units', { kind: 'market', of: 'size' }),
  revenueOnLastYear: ratioOf('Revenue on last year', 'percent', {
    kind: 'growth',
    of: 'revenue',
    on: 'year',
  }),
  unitsOnLastYear: ratioOf('Units on last year', 'percent', {
    kind: 'growth',
    of: 'units',
    on: 'year',
  }),
  revenueOnPeriod: ratioOf('Revenue on the period before', 'percent', {
    kind: 'growth',
    of: 'revenue',
    on: 'period',
  }),
  unitsOnPeriod: ratioOf('Units on the period before', 'percent', {
    kind: 'growth',
    of: 'units',
    on: 'period',
  }),
  activeSubscribers: stock('Active subscribers', 'units', { kind: 'subscription', of: 'active' }),
  recurringRevenue: stock('Recurring revenue a month', 'money', {
    kind: 'subscription',
    of: 'recurring',
  }),
  newSubscribers: flow('New subscribers', 'units', { kind: 'subscription', of: 'starters' }),
  subscriberChurn: ratioOf(
    'Subscriber churn',
    'percent',
    { kind: 'subscription', of: 'churn' },
    'moreIsBad',
  ),
  netRetention: ratioOf('Net revenue retention', 'percent', {
    kind: 'subscription',
    of: 'netRetention',
  }),
  lines: flow('Sales lines', 'units', { kind: 'lines' }),
} as const satisfies Record<string, Measure>;

/** The code of any measure. */
export type AnyMeasureCode = keyof typeof CATALOGUE;

/** Every measure there is, in the order in which they are offered. */
export const MEASURES: Readonly<Record<AnyMeasureCode, Measure>> = CATALOGUE;

const ALL = Object.keys(CATALOGUE) as AnyMeasureCode[];
const made = (...kinds: Making['kind'][]): AnyMeasureCode[] =>
  ALL.filter((code) => kinds.includes(MEASURES[code].making.kind));

/** Measures that every source of numbers has: results, and what is made of them alone. */
export type MeasureCode = ResultCode | 'margin' | 'averagePrice' | 'marginRate';
export const MEASURE_CODES = made('result', 'difference', 'ratio') as [
  MeasureCode,
  ...MeasureCode[],
];

/** Measures of a version: those, and those of the subscriptions that it may hold. */
export type VersionMeasure =
  | MeasureCode
  | 'activeSubscribers'
  | 'newSubscribers'
  | 'recurringRevenue'
  | 'subscriberChurn'
  | 'netRetention';
export const VERSION_CODES = made('result', 'difference', 'ratio', 'subscription') as [
  VersionMeasure,
  ...VersionMeasure[],
];

/** Measures of a table of the forecast: also shares, growth and the market. */
export type MeasuredCode = Exclude<AnyMeasureCode, 'lines'>;
export const MEASURED_CODES = ALL.filter((code) => code !== 'lines') as [
  MeasuredCode,
  ...MeasuredCode[],
];

/** Measures of a summary of sales lines. */
export type SummaryMeasure = MeasureCode | 'lines';
export const SUMMARY_CODES: [SummaryMeasure, ...SummaryMeasure[]] = [...MEASURE_CODES, 'lines'];

/** Measures that can be typed into a budget; a price is typed through revenue. */
export type TypedMeasure = ResultCode | 'averagePrice';
export const TYPED_CODES = [...RESULTS, 'averagePrice'] as const satisfies readonly TypedMeasure[];

/** Measures of subscriptions that can be typed into a version that holds subscriptions. */
export type TypedSubscriberMeasure = 'newSubscribers' | 'recurringRevenue';
export const TYPED_SUBSCRIBER_CODES = [
  'newSubscribers',
  'recurringRevenue',
] as const satisfies readonly TypedSubscriberMeasure[];

/** Whether what is typed are subscriptions. */
export const isSubscriberMeasure = (code: string): code is TypedSubscriberMeasure =>
  TYPED_SUBSCRIBER_CODES.some((one) => one === code);

/** What a measure adds up over combinations: itself, or what is above and below in a ratio. */
export function addingPartsOf(code: MeasureCode): readonly AddingCode[] {
  const { making } = MEASURES[code];
  switch (making.kind) {
    case 'ratio':
      return [making.above, making.below];
    case 'difference':
      return ['margin'];
    default:
      return [code as ResultCode];
  }
}
