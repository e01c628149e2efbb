import type { Scope } from '../dimensions/dimension.ts';
import type { MonthText } from '../calendar/month.ts';
import type { Span } from '../calendar/period.ts';
import {
  MEASURE_CODES,
  type Display,
  type MeasureCode,
  type MeasuredCode,
  type VersionMeasure,
} from '../measures/catalogue.ts';
import type { Source } from '../sources/source.ts';
import { combine, extreme, roundTo } from '../formula/evaluate.ts';
import { ratio, valueOrNull } from '../measures/nature.ts';

/** A number that can be asked about: of a table, of a driver, or a difference between two tables. */
export type TraceQuestion =
  | {
      readonly kind: 'table';
      readonly source: Source;
      readonly measure: MeasureCode;
      readonly scope: Scope;
      readonly span: Span;
    }
  /** A number that is made by comparing or dividing numbers of a table. */
  | {
      readonly kind: 'measured';
      readonly source: Source;
      readonly measure: MeasuredCode;
      readonly scope: Scope;
      readonly span: Span;
      /** Of a share: the scope that is the whole. */
      readonly whole: Scope;
      /** Of a growth: the months that it is on. */
      readonly before: Span | null;
    }
  | {
      readonly kind: 'driver';
      readonly driver: string;
      readonly scope: Scope;
      readonly month: MonthText;
    }
  | {
      readonly kind: 'variance';
      /** What is held against something; actuals where it is left out. */
      readonly of?: Source | undefined;
      readonly against: Source;
      /** Whether of actuals only what is in the books counts. */
      readonly books?: true;
      readonly measure: VersionMeasure;
      readonly scope: Scope;
      readonly span: Span;
    };

/** What is asked of a number of any source: of subscriptions as they are measured, else of its table. */
export function questionOf(asked: {
  readonly source: Source;
  readonly measure: VersionMeasure;
  readonly scope: Scope;
  readonly span: Span;
}): TraceQuestion {
  const plain = MEASURE_CODES.find((code) => code === asked.measure);
  return plain
    ? { ...asked, kind: 'table', measure: plain }
    : { ...asked, kind: 'measured', whole: asked.scope, before: null };
}

/** What a number rests on, at the end of its explanation. */
export type TraceSource =
  | { readonly kind: 'assumption'; readonly id: number; readonly month: MonthText }
  /** A change that was typed over whatever holds. */
  | { readonly kind: 'adjustment'; readonly id: number }
  | { readonly kind: 'default'; readonly driver: string }
  | { readonly kind: 'missing'; readonly driver: string; readonly month: MonthText }
  | {
      readonly kind: 'sales';
      readonly scope: Scope;
      readonly span: Span;
      /** Of what counts for a node of the targets. */
      readonly target?: { readonly fiscalYear: number; readonly node: number };
      /** Only those that are in the books. */
      readonly books?: true;
    }
  | {
      readonly kind: 'kept';
      readonly version: number;
      readonly combination: number;
      readonly month: MonthText;
    }
  /** What was forecast of a month when it was closed. */
  | { readonly kind: 'keptForecast'; readonly month: MonthText }
  /** What was measured of something else than sales. */
  | {
      readonly kind: 'measured';
      readonly measure: string;
      readonly scope: Scope;
      readonly month: MonthText;
    }
  /** A number that a person typed; who and when where that is known. */
  | { readonly kind: 'typed'; readonly by: string; readonly at: string }
  /** The objective of a fiscal year. */
  | { readonly kind: 'objective'; readonly fiscalYear: number }
  /** What follows from the cohorts of a stream's subscribers. */
  | { readonly kind: 'cohorts'; readonly stream: number }
  /** A number of days, as the calendar has them. */
  | { readonly kind: 'calendar' }
  /** A number that stands in a formula. */
  | { readonly kind: 'written' }
  /** A number that stands in the settings of a stream. */
  | { readonly kind: 'setting'; readonly stream: number }
  | { readonly kind: 'formula'; readonly driver: string }
  | {
      readonly kind: 'override';
      readonly combination: number;
      readonly month: MonthText;
      readonly by: string;
      readonly why: string;
      readonly at?: string | undefined;
    }
  | { readonly kind: 'nothing' };

/**
 * How the parts of a number make it: a total of what is there (`sum`), added where nothing may be
 * missing (`plus`), multiplied, first less second, first over second, a
 * mean weighted by `weight`, one less or one and its only part, or by an operation of a formula. A
 * value has no parts.
 */
export type TraceShape =
  | 'value'
  | 'sum'
  | 'plus'
  | 'product'
  | 'difference'
  | 'ratio'
  | 'mean'
  | 'oneMinus'
  | 'onePlus'
  | 'apply';

/** What an `apply` node does with its parts. */
export type TraceOperation =
  | 'negate'
  | 'if'
  | 'round'
  | 'floor'
  | 'ceil'
  | 'min'
  | 'max'
  | '^'
  | '<'
  | '<='
  | '>'
  | '>='
  | '=='
  | '!=';

/** How a number of an explanation is shown. */
export type TraceDisplay = Display;

/** A number with how it came about: a tree whose leaves are assumptions, entries and sales. */
export interface TraceNode {
  readonly label: string;
  readonly display: TraceDisplay;
  /** Null is no value; of a sum over something missing, the rest. */
  readonly value: number | null;
  /** True when something below it is missing. */
  readonly incomplete: boolean;
  readonly shape: TraceShape;
  readonly parts: readonly TraceNode[];
  /** Of `apply`. */
  readonly operation?: TraceOperation;
  /** Of what was typed over something: what it stands in place of. */
  readonly replaces?: TraceNode;
  /** In a weighted mean, what this part weighs. */
  readonly weight?: number;
  /** Of a weighted mean: in words what weighs its parts. */
  readonly weightedBy?: string;
  /** How to ask for the explanation of this part. */
  readonly question?: TraceQuestion;
  readonly source?: TraceSource;
}

function applied(
  operation: TraceOperation | undefined,
  parts: readonly (number | null)[],
): number | null {
  const values = parts.map((part) => part ?? Number.NaN);
  const [a = Number.NaN, b = 0] = values;
  switch (operation) {
    case undefined:
      return null;
    case 'negate':
      return valueOrNull(-a);
    case 'if':
      return Number.isNaN(a) ? null : (parts[a === 0 ? 2 : 1] ?? null);
    case 'round':
      return valueOrNull(roundTo(a, b));
    case 'floor':
      return valueOrNull(Math.floor(a));
    case 'ceil':
      return valueOrNull(Math.ceil(a));
    case 'min':
    case 'max':
      return valueOrNull(extreme(operation, values));
    default:
      return valueOrNull(combine(operation, a, values[1] ?? Number.NaN));
  }
}

/** What is taken away: the number with the other sign. */
export const lessOf = (node: TraceNode): TraceNode => ({
  ...node,
  label: `Less ${node.label.toLowerCase()}`,
  value: node.value === null ? null : -node.value,
  shape: 'apply',
  operation: 'negate',
  parts: [node],
});

/**
 * Works an explanation out again from its parts, all the way down to its leaves.
 * @returns what the number should be; null where it has no value
 */
export function evaluateTrace(node: TraceNode): number | null {
  if (node.shape === 'value') return node.value;
  const parts = node.parts.map(evaluateTrace);
  const partsThere = parts.filter((part) => part !== null);
  const [first, second] = parts;
  switch (node.shape) {
    case 'sum': {
      const sum = partsThere.reduce((a, b) => a + b, 0);
      return node.incomplete && sum === 0 ? null : sum;
    }
    case 'plus':
      return partsThere.length < parts.length ? null : partsThere.reduce((a, b) => a + b, 0);
    case 'product':
      return partsThere.length < parts.length ? null : partsThere.reduce((a, b) => a * b, 1);
    case 'difference':
      return typeof first === 'number' && typeof second === 'number' ? first - second : null;
    case 'ratio':
      return typeof first === 'number' && typeof second === 'number' ? ratio(first, second) : null;
    case 'oneMinus':
      return typeof first === 'number' ? 1 - first : null;
    case 'onePlus':
      return typeof first === 'number' ? 1 + first : null;
    case 'apply':
      return applied(node.operation, parts);
    case 'mean': {
      let weighted = 0;
      let weight = 0;
      node.parts.forEach((part, place) => {
        const value = parts[place];
        if (typeof value !== 'number') return;
        weighted += (part.weight ?? 0) * value;
        weight += part.weight ?? 0;
      });
      return ratio(weighted, weight);
    }
  }
}
