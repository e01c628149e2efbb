import type { Scope } from '../dimensions/dimension.ts';
import type { MonthText } from '../calendar/month.ts';
import type { Span } from '../calendar/period.ts';
import type { MeasureCode } from '../tables/measure.ts';
import { ratio } from '../tables/measure.ts';

/** Where a table's numbers come from: sales lines, the forecast line, or a kept version's id. */
export type Source = 'actual' | 'forecast' | number;

/** A number that can be asked about: of a table, of a driver, or a difference between two tables. */
export type TraceQuestion =
  | {
      readonly kind: 'table';
      readonly source: Source;
      readonly measure: MeasureCode;
      readonly scope: Scope;
      readonly span: Span;
    }
  | {
      readonly kind: 'driver';
      readonly driver: string;
      readonly scope: Scope;
      readonly month: MonthText;
    }
  | {
      readonly kind: 'variance';
      readonly version: number;
      readonly measure: MeasureCode;
      readonly scope: Scope;
      readonly span: Span;
    };

/** What a number rests on, at the end of its explanation. */
export type TraceSource =
  | { readonly kind: 'assumption'; readonly id: number; readonly month: MonthText }
  | { readonly kind: 'default'; readonly driver: string }
  | { readonly kind: 'missing'; readonly driver: string; readonly month: MonthText }
  | { readonly kind: 'sales'; readonly scope: Scope; readonly span: Span; readonly seller?: string }
  | {
      readonly kind: 'kept';
      readonly version: number;
      readonly combination: number;
      readonly month: MonthText;
    }
  | { readonly kind: 'typed'; readonly by: string }
  | { readonly kind: 'nothing' };

/**
 * How the parts of a number make it: added, multiplied, first less second, first over second, a
 * mean weighted by `weight`, or one less its only part. A value has no parts.
 */
export type TraceShape = 'value' | 'sum' | 'product' | 'difference' | 'ratio' | 'mean' | 'rest';

/** How a number of an explanation is shown. */
export type TraceDisplay = 'money' | 'price' | 'units' | 'percent';

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
  /** In a weighted mean, what this part weighs. */
  readonly weight?: number;
  /** How to ask for the explanation of this part. */
  readonly question?: TraceQuestion;
  readonly source?: TraceSource;
}

/**
 * Works an explanation out again from its parts, all the way down to its leaves.
 * @returns what the number should be; null where it has no value
 */
export function evaluateTrace(node: TraceNode): number | null {
  if (node.shape === 'value') return node.value;
  const parts = node.parts.map(evaluateTrace);
  const known = parts.filter((part) => part !== null);
  const [first, second] = parts;
  switch (node.shape) {
    case 'sum': {
      const sum = known.reduce((a, b) => a + b, 0);
      return node.incomplete && sum === 0 ? null : sum;
    }
    case 'product':
      return known.length < parts.length ? null : known.reduce((a, b) => a * b, 1);
    case 'difference':
      return typeof first === 'number' && typeof second === 'number' ? first - second : null;
    case 'ratio':
      return typeof first === 'number' && typeof second === 'number' ? ratio(first, second) : null;
    case 'rest':
      return typeof first === 'number' ? 1 - first : null;
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
