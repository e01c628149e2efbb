import type { Month } from '../../calendar/month.ts';
import type { NamedSeries } from '../../formula/evaluate.ts';
import type { TraceDisplay, TraceNode } from '../../trace/trace.ts';
import type { MethodCode, Stream } from '../plan.ts';

/** What a method computes for every stream and month. */
export type Result = 'units' | 'revenue';

/** What a method reads of another stream, and how far back at the least. */
export interface StreamReading {
  readonly combination: number;
  readonly lag: number;
}

/** The arrays a method reads and writes, all over the same months. */
export interface Stretch {
  readonly stream: Stream;
  /** One series per input, in the order of the method's `inputs`. */
  readonly inputs: readonly Float64Array[];
  /** Net units, written by the method. Closed months hold the actuals. */
  readonly units: Float64Array;
  /** Revenue in currency units, written by the method. Closed months hold the actuals. */
  readonly revenue: Float64Array;
  /** Where this stream's block starts in `units` and `revenue`. */
  readonly offset: number;
  /** Where the blocks of the streams start that it reads, in the order of `reads`; -1 for none. */
  readonly others: readonly number[];
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
  cell(result: Result, t: number, other?: number): TraceNode;
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
  /** The codes of the drivers it reads for a stream, in the order in which it reads them. */
  inputs(stream: Stream): readonly string[];
  /** The other streams it reads; left out where it reads none. */
  reads?(stream: Stream): readonly StreamReading[];
  /** What it finds out from a stream's closed months. */
  prepare?(stretch: Stretch): Prepared;
  /** What is wrong with the settings of a stream, in words; empty when nothing is. */
  problems?(stretch: Stretch): readonly string[];
  /** What its history lacks, in words: told, and no reason not to forecast so. */
  notes?(stretch: Stretch): readonly string[];
  compute(stretch: Stretch): void;
  explain(result: Result, explaining: Explaining): Explanation;
}

/** A series that is read for a month; NaN where there is none. */
export const at = (series: Float64Array | undefined, t: number): number =>
  series?.[t] ?? Number.NaN;

/** The drivers that make revenue of net units. */
export const PRICED = ['listPrice', 'discount'] as const;

/** Revenue = net units x list price x (1 - discount), over a stretch. @param place of the list price */
export function valueUnits(stretch: Stretch, place: number): void {
  const { inputs, units, revenue, offset, from, to } = stretch;
  const price = inputs[place];
  const discount = inputs[place + 1];
  if (!price || !discount) return;
  for (let t = from; t < to; t += 1) {
    revenue[offset + t] =
      (units[offset + t] ?? Number.NaN) *
      (price[t] ?? Number.NaN) *
      (1 - (discount[t] ?? Number.NaN));
  }
}

/** Why revenue is what it is: net units x list price x (1 - discount). */
export function explainValued({ driver, cell, t }: Explaining): Explanation {
  return {
    shape: 'product',
    parts: [cell('units', t), driver('listPrice'), rest(driver('discount'))],
  };
}

/** What a rate leaves: 1 - rate. */
export function rest(leaf: TraceNode): TraceNode {
  return {
    label: `After ${leaf.label.toLowerCase()}`,
    display: 'percent',
    value: leaf.value === null ? null : 1 - leaf.value,
    incomplete: leaf.incomplete,
    shape: 'rest',
    parts: [leaf],
  };
}

/** What a growth makes of a base: 1 + growth. */
export function more(leaf: TraceNode): TraceNode {
  return {
    label: `With ${leaf.label.toLowerCase()}`,
    display: 'percent',
    value: leaf.value === null ? null : 1 + leaf.value,
    incomplete: leaf.incomplete,
    shape: 'more',
    parts: [leaf],
  };
}

/** The names by which a formula of a stream reads its own results. */
export const OWN_NAMES = ['units', 'revenue'] as const;

/** A stream's block of a result, as formulas read it. */
export function blockOf(result: Float64Array, offset: number): NamedSeries {
  return { series: result, offset };
}
