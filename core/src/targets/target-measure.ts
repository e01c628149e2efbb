/** What an objective can be set of. Source: calculations, *Targets* (measures). */
import { MEASURES, type Display } from '../measures/catalogue.ts';
import type { Nature } from '../measures/nature.ts';

export const TARGET_MEASURES = [
  'revenue',
  'units',
  'margin',
  'newSubscribers',
  'recurringRevenue',
  'score',
] as const;
export type TargetMeasure = (typeof TARGET_MEASURES)[number];

/** How a target of a measure behaves. */
export interface TargetMeaning {
  readonly name: string;
  readonly display: Display;
  /** A stock is what is there at the end of the year; months of it do not add up. */
  readonly nature: Nature;
  /** Whether targets add up over the tree; what does not is set node by node. */
  readonly adds: boolean;
  /** Whether sales lines tell which seller it is of. */
  readonly bySeller: boolean;
}

const SCORE: TargetMeaning = {
  name: 'Score',
  display: 'score',
  nature: 'ratio',
  adds: false,
  bySeller: false,
};
/** A score is kept to the hundredth. */
const SCORE_STEPS = 100;
const BY_SELLER: ReadonlySet<TargetMeasure> = new Set(['revenue', 'units', 'margin']);

/** What a target of a measure is. */
export function meaningOf(measure: TargetMeasure): TargetMeaning {
  if (measure === 'score') return SCORE;
  const { name, display, nature } = MEASURES[measure];
  return { name, display, nature, adds: true, bySeller: BY_SELLER.has(measure) };
}

/**
 * How many of the whole numbers in which targets are kept and divided make one: minor units of
 * money, hundredths of a score; units and subscribers are whole.
 */
export function wholesIn(measure: TargetMeasure, minorDigits: number): number {
  const { display } = meaningOf(measure);
  if (measure === 'score') return SCORE_STEPS;
  return display === 'money' ? 10 ** minorDigits : 1;
}
