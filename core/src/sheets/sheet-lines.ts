/**
 * A budget sheet: the lines of a version in the terms of whoever fills them in, each beside what it
 * was and what is expected of it. Source: calculations, *Budget* and *Exact division*.
 */
import type { Month } from '../calendar/month.ts';
import type { Span } from '../calendar/period.ts';
import { UNIT_PARTS } from '../budgets/cell.ts';
import { planRows, summedIn, type FilledMeasure, type PlanRow } from '../budgets/plan-rows.ts';
import type { Scope } from '../dimensions/dimension.ts';
import type { MemberTree } from '../dimensions/member-tree.ts';
import { allocate, DivisionError } from '../spread/divide.ts';
import type { Figures } from '../tables/figures.ts';

/** The sales and plans that stand on a sheet, laid out over the same combinations and months. */
export interface SheetSources {
  readonly actual: Figures;
  /** With actuals in closed months. */
  readonly forecast: Figures;
  readonly version: Figures;
}

/** Of what a sheet is. */
export interface SheetOf {
  /** Whose sales: it narrows every line. */
  readonly scope: Scope;
  /** The dimensions whose members are the lines, the outer one first. */
  readonly rows: readonly string[];
  readonly measure: FilledMeasure;
  /** The months that the version covers. */
  readonly span: Span;
  /** The last closed month. */
  readonly closed: Month;
}

/** A line of a sheet, or a total of lines; units, or money in minor units. */
export interface SheetFiguresLine extends Omit<PlanRow, 'parts'> {
  /** The same months a year before: actual where they are closed, forecast after that. */
  readonly lastYear: number | null;
  /** Actual of the last twelve closed months. */
  readonly lastTwelve: number | null;
  /** Forecast of the months of the version, with actuals where they are closed. */
  readonly forecast: number | null;
  readonly plan: number;
}

/** The months of a closed year. */
const YEAR = 12;

/**
 * The lines of a sheet below their totals, the total of all of them first.
 * @param minor how many minor units the currency unit has
 */
export function sheetLines(
  tree: MemberTree,
  { actual, forecast, version }: SheetSources,
  { scope, rows, measure, span, closed }: SheetOf,
  minor: number,
): SheetFiguresLine[] {
  const year = { from: span.from - YEAR, to: span.to - YEAR };
  const twelve = { from: closed - YEAR + 1, to: closed };
  return planRows(tree, version.combinations, scope, rows).map(({ parts, ...row }) => {
    const summed = (figures: Figures, months: Span): number | null =>
      summedIn(figures, measure, parts, months, minor);
    return {
      ...row,
      lastYear: summed(forecast, year),
      lastTwelve: summed(actual, twelve),
      forecast: summed(forecast, span),
      plan: summed(version, span) ?? 0,
    };
  });
}

/** A line as far as a total is divided over it. */
export interface DividedLine {
  readonly plan: number;
  readonly locked: boolean;
}

/**
 * Divides what was typed over a total of a sheet among its lines in proportion to what they plan,
 * equally where they plan nothing; locked lines keep theirs.
 * @param total units, or money in minor units
 * @returns what each line comes to, adding up to the total
 * @throws DivisionError where the locked lines alone are more, or all of them are locked
 */
export function divideOverLines(
  total: number,
  lines: readonly DividedLine[],
  measure: FilledMeasure,
): number[] {
  const parts = measure === 'units' ? UNIT_PARTS : 1;
  const whole = (value: number): number => Math.round(value * parts);
  const free = lines.filter(({ locked }) => !locked);
  const plansNothing = free.every(({ plan }) => whole(plan) === 0);
  const { amounts, unassigned } = allocate(
    whole(total),
    lines.map(({ plan, locked }) => ({
      weight: plansNothing ? 1 : Math.abs(whole(plan)),
      locked: locked ? whole(plan) : undefined,
    })),
  );
  if (unassigned !== 0) {
    throw new DivisionError('no-weights', 'All lines below are locked; unlock one of them first');
  }
  return amounts.map((amount) => amount / parts);
}
