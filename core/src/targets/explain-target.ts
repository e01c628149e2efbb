import { ratio } from '../measures/nature.ts';
import type { TraceNode } from '../trace/trace.ts';
import type { TargetPart } from './share-out.ts';

/** What the explanation of a target needs to know of a node; money in minor units. */
export interface TargetFigure {
  readonly name: string;
  readonly part: TargetPart;
  readonly amount: number;
  /** The node above, or undefined at the top. */
  readonly above: TargetFigure | undefined;
}

/**
 * How a target came about: an amount that was typed, or a percent of the target above it, with
 * what the exact division added or took so that all parts add up to the cent.
 * @param minor how many minor units the currency unit has
 */
export function explainTarget(figure: TargetFigure, minor: number): TraceNode {
  const { name, part, amount, above } = figure;
  const base = { label: `Target of ${name}`, display: 'money', incomplete: false } as const;
  const value = amount / minor;
  if (part.kind === 'amount' || !above) {
    return { ...base, value, shape: 'value', parts: [], source: { kind: 'typed', by: '' } };
  }
  const share: TraceNode = {
    label: `Share of ${above.name}`,
    display: 'percent',
    value: part.percent / 100,
    incomplete: false,
    shape: 'value',
    parts: [],
    source: { kind: 'typed', by: '' },
  };
  const product: TraceNode = {
    ...base,
    label: `${above.name} x share`,
    value: (above.amount * part.percent) / 100 / minor,
    shape: 'product',
    parts: [explainTarget(above, minor), share],
  };
  const rest = (amount - (above.amount * part.percent) / 100) / minor;
  if (Math.abs(rest) < 0.5 / minor / 1e6) return { ...product, label: base.label, value };
  const rounding: TraceNode = {
    ...base,
    label: 'To the cent, so that all parts add up',
    value: rest,
    shape: 'value',
    parts: [],
    source: { kind: 'nothing' },
  };
  return { ...base, value, shape: 'sum', parts: [product, rounding] };
}

/** How much of a target is reached: actual over target. */
export function explainAttainment(actual: TraceNode, target: TraceNode): TraceNode {
  return {
    label: 'Attained',
    display: 'percent',
    value: ratio(actual.value ?? 0, target.value ?? 0),
    incomplete: actual.incomplete,
    shape: 'ratio',
    parts: [actual, target],
  };
}
