import { ratio, type TraceDisplay, type TraceNode, type TraceQuestion } from '@dravex/core';

/** A number that a room has at hand, with the question that explains it further. */
export interface KnownNumber {
  readonly label: string;
  readonly value: number | null;
  readonly question?: TraceQuestion | undefined;
}

function leaf({ label, value, question }: KnownNumber, display: TraceDisplay): TraceNode {
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

/** A growth: the one over the other, less one. */
export function growthOf(
  label: string,
  now: KnownNumber,
  before: KnownNumber,
  display: TraceDisplay = 'money',
): TraceNode {
  const share = ratio(now.value ?? Number.NaN, before.value ?? Number.NaN);
  const quotient: TraceNode = {
    ...leaf({ label: `${now.label} over ${before.label.toLowerCase()}`, value: share }, 'percent'),
    shape: 'ratio',
    parts: [leaf(now, display), leaf(before, display)],
  };
  return {
    ...leaf({ label, value: share === null ? null : share - 1 }, 'percent'),
    shape: 'difference',
    parts: [quotient, leaf({ label: 'The whole', value: 1 }, 'percent')],
  };
}
