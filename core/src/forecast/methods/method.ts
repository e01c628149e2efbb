import type { Month } from '../../calendar/month.ts';
import type { Driver } from '../../drivers/driver.ts';
import type { ForecastResult, ResultCode } from '../../measures/catalogue.ts';
import type { TraceDisplay, TraceNode } from '../../trace/trace.ts';
import type { MethodCode, Stream } from '../plan.ts';

/** What a method reads of another stream, and how far back at the least. */
export interface StreamReading {
  readonly combination: number;
  readonly lag: number;
}

/** The results of one stream, by month from the plan's first. Closed months hold the actuals. */
export type StreamResults = Readonly<Record<ResultCode, Float64Array>>;

/** What a method reads and writes of a stream, over some of its months. */
export interface Stretch {
  readonly stream: Stream;
  /** One series per input, in the order of the method's `inputs`. */
  readonly inputs: readonly Float64Array[];
  /** Net units and revenue in currency units are written by the method; cost of sales follows. */
  readonly results: StreamResults;
  /** The results of the streams that it reads, in the order of `reads`; undefined for none. */
  readonly others: readonly (StreamResults | undefined)[];
  /** The streams that feed it, in the order of the plan, each as it is computed itself. */
  givers(): readonly Stretch[];
  /** First month to compute, as an index from the plan's first month. */
  readonly from: number;
  /** One past the last month to compute. */
  readonly to: number;
  /** The first open month, and one past the last month. */
  readonly open: number;
  readonly count: number;
  /** The plan's first month, and the month in which fiscal years start. */
  readonly first: Month;
  readonly fiscalStart: number;
  /** What `prepare` made. */
  readonly prepared: Prepared | undefined;
}

/** What a method finds out from history once; an edit of assumptions does not change it. */
export interface Prepared {
  readonly units: Float64Array | null;
  readonly revenue: Float64Array | null;
  /** In words, for the trace: which baseline, through how many months. */
  readonly words: string;
}

/** What a method needs to explain one of its results in one month. */
export interface Explaining {
  readonly stretch: Stretch;
  readonly t: number;
  /** A driver's value for the stream, with the assumption it rests on. */
  driver(code: string, t?: number): TraceNode;
  /** A result of a stream in a month: of this one, or of one that it reads. */
  cell(result: ForecastResult, t: number, other?: number): TraceNode;
  /** A number that stands in the settings of the stream. */
  setting(label: string, display: TraceDisplay, value: number): TraceNode;
  /** The closed months of the stream from `from` on, as the sales they are. */
  history(label: string, display: TraceDisplay, value: number | null): TraceNode;
}

/** How a number is made, without its own label and value. */
export type Explanation = Pick<TraceNode, 'shape' | 'parts'> &
  Partial<Pick<TraceNode, 'source' | 'operation'>>;

/** How a stream is computed: one module with this shape a method. */
export interface Method {
  readonly code: MethodCode;
  readonly name: string;
  /** When it fits, in one sentence. */
  readonly when: string;
  /** What it needs, in one sentence. */
  readonly needs: string;
  /** The results it writes by itself, by name; cost of sales follows from these for every method. */
  readonly writes: readonly ResultCode[];
  /** The codes of the drivers it reads for a stream, in the order in which it reads them. */
  inputs(stream: Stream): readonly string[];
  /** Whether it reads drivers of closed months: it gets what actuals say of them. */
  readonly readsClosedMonths?: boolean;
  /** The other streams it reads; left out where it reads none. */
  reads?(stream: Stream): readonly StreamReading[];
  /** The streams that it feeds, from the side of what they read; left out where it feeds none. */
  feeds?(stream: Stream): readonly StreamReading[];
  /** What it finds out from a stream's closed months. */
  prepare?(stretch: Stretch): Prepared;
  /** Why a stream cannot be computed as it is set, in words: it has no numbers then. */
  mistakes?(stream: Stream, drivers: readonly Driver[], months: number): readonly string[];
  /** What is wrong with the settings of a stream, in words; what there is is computed. */
  problems?(stretch: Stretch): readonly string[];
  /** What its history lacks, in words: told, and no reason not to forecast so. */
  notes?(stretch: Stretch): readonly string[];
  compute(stretch: Stretch): void;
  /**
   * What a driver acts on in a month, which weighs it in a mean: what enters a step, what a growth is
   * on. Undefined for a driver of which the method does not tell it.
   */
  actsOn?(code: string, stretch: Stretch, t: number): number | undefined;
  explain(result: ForecastResult, explaining: Explaining): Explanation;
}

/** A series that is read for a month; NaN where there is none. */
export const at = (series: Float64Array | undefined, t: number): number =>
  series?.[t] ?? Number.NaN;

/** The drivers that make revenue of net units. */
export const PRICED = ['listPrice', 'discount'] as const;

/** Revenue of one month = net units x list price x (1 - discount). */
export const revenueOf = (units: number, price: number, discount: number): number =>
  units * price * (1 - discount);

/** Net units of one month = gross units x (1 - return rate). */
export const netUnitsOf = (gross: number, returnRate: number): number => gross * (1 - returnRate);

/** Values net units over a stretch. @param place of the list price among the inputs */
export function valueUnits({ inputs, results, from, to }: Stretch, place: number): void {
  const { units, revenue } = results;
  const price = inputs[place];
  const discount = inputs[place + 1];
  for (let t = from; t < to; t += 1) {
    revenue[t] = revenueOf(at(units, t), at(price, t), at(discount, t));
  }
}

/** Why revenue is what it is: net units x list price x (1 - discount). */
export function explainValued({ driver, cell, t }: Explaining): Explanation {
  return {
    shape: 'product',
    parts: [cell('units', t), driver('listPrice'), oneMinus(driver('discount'))],
  };
}

/** What a rate leaves: 1 - rate. */
export function oneMinus(leaf: TraceNode): TraceNode {
  return {
    label: `After ${leaf.label.toLowerCase()}`,
    display: 'percent',
    value: leaf.value === null ? null : 1 - leaf.value,
    incomplete: leaf.incomplete,
    shape: 'oneMinus',
    parts: [leaf],
  };
}

/** What a growth makes of a base: 1 + growth. */
export function onePlus(leaf: TraceNode): TraceNode {
  return {
    label: `With ${leaf.label.toLowerCase()}`,
    display: 'percent',
    value: leaf.value === null ? null : 1 + leaf.value,
    incomplete: leaf.incomplete,
    shape: 'onePlus',
    parts: [leaf],
  };
}
