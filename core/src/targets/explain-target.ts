import { ratio } from '../measures/nature.ts';
import type { Display } from '../measures/catalogue.ts';
import type { TraceNode } from '../trace/trace.ts';
import type { TargetPart } from './share-out.ts';

/** What the explanation of a target needs to know of a node; money in minor units. */
export interface TargetFigure {
  readonly name: string;
  readonly part: TargetPart;
  readonly amount: number;
  /** Who typed the part, and when; undefined where nobody knows. */
  readonly typed?: { readonly by: string; readonly at: string } | undefined;
  /** The node above, or undefined at the top. */
  readonly above: TargetFigure | undefined;
}

/**
 * How a target came about: an amount that was typed, or a percent of the target above it, with
 * what the exact division added or took so that all parts add up to the cent.
 * @param minor how many of the whole numbers in which targets are kept make one
 */
export function explainTarget(
  figure: TargetFigure,
  minor: number,
  display: Display = 'money',
): TraceNode {
  const { name, part, amount, above } = figure;
  const source = { kind: 'typed', by: '', at: '', ...figure.typed } as const;
  const base = { label: `Target of ${name}`, display, incomplete: false } as const;
  const value = amount / minor;
  if (part.kind === 'amount' || !above) {
    return { ...base, value, shape: 'value', parts: [], source };
  }
  const share: TraceNode = {
    label: `Share of ${above.name}`,
    display: 'percent',
    value: part.percent / 100,
    incomplete: false,
    shape: 'value',
    parts: [],
    source,
  };
  const product: TraceNode = {
    ...base,
    label: `${above.name} x share`,
    value: (above.amount * part.percent) / 100 / minor,
    shape: 'product',
    parts: [explainTarget(above, minor, display), share],
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

/** A node's share of the target above it: the one over the other. */
export function explainShare(
  figure: TargetFigure,
  minor: number,
  display: Display = 'money',
): TraceNode {
  const { name, amount, above } = figure;
  const parts = above
    ? [explainTarget(figure, minor, display), explainTarget(above, minor, display)]
    : [];
  return {
    label: `Share of ${name}`,
    display: 'percent',
    value: above ? ratio(amount, above.amount) : null,
    incomplete: false,
    shape: above ? 'ratio' : 'value',
    parts,
  };
}

/**
 * What a node's parts leave of its target, or exceed it by: the target less all of them.
 * @param parts the nodes directly below it
 */
export function explainRest(
  figure: TargetFigure,
  parts: readonly TargetFigure[],
  minor: number,
  display: Display = 'money',
): TraceNode {
  const out = parts.reduce((sum, { amount }) => sum + amount, 0);
  const assigned: TraceNode = {
    label: `Targets below ${figure.name}`,
    display,
    value: out / minor,
    incomplete: false,
    shape: 'sum',
    parts: parts.map((part) => explainTarget(part, minor, display)),
  };
  const target = explainTarget(figure, minor, display);
  const over = out > figure.amount;
  return {
    label: over ? `More than ${figure.name} has` : `Unassigned of ${figure.name}`,
    display,
    value: Math.abs(figure.amount - out) / minor,
    incomplete: false,
    shape: 'difference',
    parts: over ? [assigned, target] : [target, assigned],
  };
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
