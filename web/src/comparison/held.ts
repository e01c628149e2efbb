/** How two sides and their difference are shown and explained, wherever they stand in a table. */
import {
  isMaterial,
  questionOf,
  shownDifference,
  type Comparable,
  type ComparisonRow,
  type Display,
  type Materiality,
  type Scope,
  type Source,
  type Span,
  type TableCell,
  type TargetOfScope,
  type VersionMeasure,
} from '@dravex/core';
import { DASH, shownStep, type Formats, type Unit } from '../format/numbers.ts';
import type { Dress, GridCell } from '../grid/plan-grid.ts';
import { displayOf, typedCell } from '../grid/table-rows.ts';
import { differenceOf, growthOf, sumOf, type KnownNumber } from '../trace/nodes.ts';
import { questioned, type Asked } from '../trace/use-trace.ts';
import { TEXTS } from './texts.ts';

/** One side: what it is called, and what it is. */
export interface NamedComparable {
  readonly name: string;
  readonly is: Comparable;
}

/** Both sides of a number. */
export type BothSides = Pick<ComparisonRow, 'actual' | 'plan' | 'variance'> & {
  /** Of a target: the nodes of the tree that it is made of. */
  readonly actualOf?: TargetOfScope['of'] | undefined;
  readonly of?: TargetOfScope['of'] | undefined;
};

/** What is shown of both sides, column by column. */
export type SidePart = 'actual' | 'plan' | 'variance' | 'percent';

/** How the numbers of a source are dressed. */
const DRESSES: Readonly<Record<Source['kind'], Dress>> = {
  actual: 'books',
  forecast: 'plain',
  version: 'kept',
  target: 'kept',
  yearBefore: 'books',
};
const dressOf = (is: Comparable): Dress => ('kind' in is ? DRESSES[is.kind] : DRESSES.target);

/** A percent is shown with one decimal. */
const SHOWN_PERCENT = 1000;
const ANY: Materiality = { amount: 0, share: 0 };

/** How numbers of a measure are written. */
export interface Written {
  readonly measure: VersionMeasure;
  readonly unit: Unit;
  readonly formats: Formats;
  /** From which size on a difference matters; any where nothing is said. */
  readonly least?: Materiality | undefined;
}

/** What is shown as a difference is that of the shown numbers. */
function differenceIn(
  { actual, plan }: BothSides,
  display: Display,
  unit: Unit,
): number | undefined {
  const rounded = display === 'money' || display === 'units';
  if (!rounded || actual.value === null || plan.value === null) return undefined;
  return shownDifference(actual.value, plan.value, shownStep(display, unit));
}

/** One of the numbers of both sides as a cell. */
export function sideCell(
  both: BothSides,
  part: SidePart,
  sides: Readonly<Record<'actual' | 'plan', Comparable>>,
  { measure, unit, formats, least = ANY }: Written,
): GridCell {
  const display = displayOf(measure);
  const number = ({ value }: Pick<TableCell, 'value'>, dress: Dress): GridCell => ({
    text: formats.show(value, display, unit),
    ...typedCell(value, display, unit, formats),
    dress,
    title: formats.full(value, display),
  });
  if (part === 'actual' || part === 'plan') return number(both[part], dressOf(sides[part]));
  const { variance } = both;
  const matters = variance && isMaterial(variance, display, least);
  // What is shown as nothing is neither good nor bad.
  const judged = (shown: number): Pick<GridCell, 'judgement'> => {
    if (!variance) return {};
    return { judgement: shown === 0 ? 'even' : matters ? variance.judgement : 'slight' };
  };
  if (part === 'percent') {
    const percent = variance?.percent ?? null;
    const text = variance ? formats.signed(percent, 'percent') : DASH;
    const shown = Math.round((percent ?? 0) * SHOWN_PERCENT);
    const cell = typedCell(percent, 'percent', 1, formats);
    return { ...cell, ...(percent === null ? judged(1) : judged(shown)), text, dress: 'plain' };
  }
  const difference = variance && (differenceIn(both, display, unit) ?? variance.amount);
  const text = variance ? formats.signed(difference, display, unit) : DASH;
  const cell = number({ value: variance?.amount ?? null }, 'plain');
  return { ...cell, ...judged(difference ?? 0), text };
}

/** Of which numbers it is asked. */
export interface AskedOf {
  readonly measure: VersionMeasure;
  readonly scope: Scope;
  readonly span: Span;
  /** Whether only what is in the books counts. */
  readonly books: boolean;
  /** Measure and months, in words. */
  readonly about: string;
}

/** What the trace is asked for one of the numbers of both sides. */
export function askSide(
  both: BothSides,
  part: SidePart,
  { actual, plan }: Readonly<Record<'actual' | 'plan', NamedComparable>>,
  { books, about, ...asked }: AskedOf,
): Asked {
  const display = displayOf(asked.measure);
  const known = (
    { name, is }: NamedComparable,
    { value }: TableCell,
    nodes: TargetOfScope['of'] | undefined,
  ): KnownNumber =>
    'nodes' in is
      ? {
          label: name,
          value,
          // What a tree of targets gives to a scope is known here, and explained by its nodes.
          node: sumOf(name, value, nodes ?? [], {
            display,
            source: { kind: 'objective', fiscalYear: is.fiscalYear },
          }),
        }
      : { label: name, value, question: questionOf({ source: is, ...asked }) };
  const sides = {
    actual: known(actual, both.actual, both.actualOf),
    plan: known(plan, both.plan, both.of),
  };
  if (part === 'actual' || part === 'plan') {
    const { node, question } = sides[part];
    if (node) return { kind: 'node', node, about };
    if (question) return questioned(question);
    throw new Error('A side is a source or a target');
  }
  if (part === 'percent') {
    const node = growthOf(TEXTS.differenceFrom(plan.name), sides.actual, sides.plan, display);
    return { kind: 'node', node, about };
  }
  if ('nodes' in actual.is || 'nodes' in plan.is) {
    const node = differenceOf(TEXTS.variance, sides.actual, sides.plan, display);
    return { kind: 'node', node, about };
  }
  const only = books ? { books: true as const } : {};
  return questioned({ kind: 'variance', of: actual.is, against: plan.is, ...only, ...asked });
}
