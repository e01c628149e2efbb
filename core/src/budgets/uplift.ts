import type { Month } from '../calendar/month.ts';
import type { Span } from '../calendar/period.ts';
import { seemsEnded } from '../forecast/propose.ts';
import { scaleExactly } from '../spread/scale.ts';
import type { Scope } from '../dimensions/dimension.ts';
import type { MemberTree } from '../dimensions/member-tree.ts';
import { narrowestOf } from '../dimensions/narrowest.ts';
import type { Figures } from '../tables/figures.ts';
import { UNIT_PARTS, type BudgetCell } from './cell.ts';
import { keepForecast } from './keep.ts';

/** More volume and higher prices, as fractions: 0.04 is 4 % more. */
export interface Uplift {
  readonly volume: number;
  readonly price: number;
}

/**
 * Copies a version's cells with an uplift, some months later: units and cost of each cell times
 * (1 + volume), revenue times (1 + volume) (1 + price); the totals of units, revenue and cost exact
 * by the largest remainder.
 * @param shift how many months later the copy is
 */
export function copyWithUplift(
  cells: readonly BudgetCell[],
  { volume, price }: Uplift,
  shift: number,
): BudgetCell[] {
  const exact = (factor: number): number => Number(factor.toPrecision(15));
  const more = exact(1 + volume);
  const whole = cells.every(({ units }) => Number.isInteger(units));
  const parts = whole ? 1 : UNIT_PARTS;
  const units = scaleExactly(
    cells.map((cell) => Math.round(cell.units * parts)),
    more,
  );
  const revenue = scaleExactly(
    cells.map((cell) => cell.revenue),
    exact(more * exact(1 + price)),
  );
  const planned = cells.flatMap((cell, index) => (cell.cost === null ? [] : [index]));
  const cost = new Map(
    scaleExactly(
      planned.map((index) => cells[index]?.cost ?? 0),
      more,
    ).map((value, place) => [planned[place] ?? -1, value]),
  );
  return cells.map((cell, index) => ({
    combination: cell.combination,
    month: cell.month + shift,
    units: (units[index] ?? 0) / parts,
    revenue: revenue[index] ?? 0,
    cost: cost.get(index) ?? null,
  }));
}

/** An uplift of some sales; of everything where the scope is empty. */
export interface ScopedUplift extends Uplift {
  readonly scope: Scope;
}

const NO_UPLIFT: Uplift = { volume: 0, price: 0 };

/**
 * Copies cells, each with the uplift of the narrowest scope that holds it. The totals of what one
 * uplift holds are exact by the largest remainder, and so is their sum.
 * @param membersOf of a combination
 * @throws ScopesCross
 */
export function copyWithUplifts(
  tree: MemberTree,
  membersOf: (combination: number) => Scope,
  cells: readonly BudgetCell[],
  uplifts: readonly ScopedUplift[],
  shift: number,
): BudgetCell[] {
  const places = new Map<number, number>();
  const groups = new Map<number, BudgetCell[]>();
  for (const cell of cells) {
    const place =
      places.get(cell.combination) ?? narrowestOf(tree, membersOf(cell.combination), uplifts) ?? -1;
    places.set(cell.combination, place);
    const group = groups.get(place) ?? [];
    groups.set(place, group);
    group.push(cell);
  }
  return [...groups].flatMap(([place, group]) =>
    copyWithUplift(group, uplifts[place] ?? NO_UPLIFT, shift),
  );
}

/** Cells of what a copy would carry on, or leave out, though sales say otherwise. */
export interface CopyChanges {
  /** Cells of the version whose combinations seem to be sold no longer. */
  readonly discontinued: readonly BudgetCell[];
  /** Cells of the forecast, in the months of the copy, of combinations that the version has nothing of. */
  readonly added: readonly BudgetCell[];
}

/**
 * What has changed since a version was made, that a copy of it may follow.
 * @param actual sales of closed months
 * @param span the months of the copy; of a forecast that ends before them those that it has
 */
export function changesForCopy(
  cells: readonly BudgetCell[],
  { actual, forecast }: { readonly actual: Figures; readonly forecast: Figures },
  {
    closedThrough,
    span,
    minorDigits,
  }: {
    readonly closedThrough: Month;
    readonly span: Span;
    readonly minorDigits: number;
  },
): CopyChanges {
  const ended = new Set(
    actual.combinations.flatMap(({ id }, index) =>
      seemsEnded(actual, index, closedThrough) ? [id] : [],
    ),
  );
  const there = new Set(cells.map(({ combination }) => combination));
  return {
    discontinued: cells.filter(({ combination }) => ended.has(combination)),
    added: keepForecast(forecast, span, minorDigits).rows.filter(
      ({ combination }) => !there.has(combination) && !ended.has(combination),
    ),
  };
}
