import {
  ratio,
  type TraceDisplay,
  type TraceNode,
  type TraceQuestion,
  type TraceSource,
} from '@dravex/core';
import { WORDS } from '../format/words.ts';
import { TEXTS } from './texts.ts';

/** A number that a room has at hand, with the question that explains it further. */
export interface KnownNumber {
  readonly label: string;
  readonly value: number | null;
  readonly question?: TraceQuestion | undefined;
  /** What explains it, where that is at hand. */
  readonly node?: TraceNode | undefined;
}

function leaf({ label, value, question, node }: KnownNumber, display: TraceDisplay): TraceNode {
  if (node) return node;
  return {
    label,
    display,
    value,
    incomplete: false,
    shape: 'value',
    parts: [],
    ...(question ? { question } : {}),
  };
}

/** A difference that a room shows, from its two sides. */
export function differenceOf(
  label: string,
  first: KnownNumber,
  second: KnownNumber,
  display: TraceDisplay = 'money',
): TraceNode {
  const known = first.value !== null && second.value !== null;
  return {
    ...leaf({ label, value: known ? (first.value ?? 0) - (second.value ?? 0) : null }, display),
    shape: 'difference',
    parts: [leaf(first, display), leaf(second, display)],
  };
}

/** A sum that a room shows, from parts that all rest on the same. */
export function sumOf(
  label: string,
  value: number | null,
  parts: readonly { readonly name: string; readonly value: number }[],
  { display, source }: { readonly display: TraceDisplay; readonly source: TraceSource },
): TraceNode {
  return {
    ...leaf({ label, value }, display),
    shape: 'sum',
    parts: parts.map((part) => ({
      ...leaf({ label: part.name, value: part.value }, display),
      source,
    })),
  };
}

/** A share that a room shows, from its two sides. */
export function shareOf(
  label: string,
  part: KnownNumber,
  whole: KnownNumber,
  display: TraceDisplay = 'money',
): TraceNode {
  const value = ratio(part.value ?? Number.NaN, whole.value ?? Number.NaN);
  return {
    ...leaf({ label, value }, 'percent'),
    shape: 'ratio',
    parts: [leaf(part, display), leaf(whole, display)],
  };
}

/** A growth, or how far off something is: the difference over what it is held against, as a size. */
export function growthOf(
  label: string,
  now: KnownNumber,
  before: KnownNumber,
  display: TraceDisplay = 'money',
): TraceNode {
  const more = differenceOf(WORDS.difference, now, before, display);
  const size =
    before.value !== null && before.value < 0
      ? leaf({ label: TEXTS.withoutItsSign(before.label), value: -before.value }, display)
      : leaf(before, display);
  return {
    ...leaf({ label, value: ratio(more.value ?? Number.NaN, size.value ?? Number.NaN) }, 'percent'),
    shape: 'ratio',
    parts: [more, size],
  };
}
