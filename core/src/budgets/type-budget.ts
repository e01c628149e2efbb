import { divide, DivisionError, spreadAsTheyStand } from '../spread/divide.ts';
import type { TypedMeasure } from '../measures/catalogue.ts';
import { ratio } from '../measures/nature.ts';
import { rounded, UNIT_PARTS, type BudgetCell } from './cell.ts';

/** By what a typed total is divided: the cells as they stand, equally, or by weights from elsewhere. */
export type SpreadBasis = 'standing' | 'equal' | 'lastYear' | 'forecast';

/** A new total, and by what it is divided. */
export interface Spreading {
  /** Units, money in minor units, or a price in minor units per unit. */
  readonly total: number;
  readonly basis: SpreadBasis;
  /** One a cell, for a basis from elsewhere; not negative. */
  readonly weights?: readonly number[];
}

/** What is typed over cells of a budget. */
export interface TypedBudget extends Spreading {
  readonly measure: TypedMeasure;
  /** When revenue is typed: whether units stay and the price moves, or the price and units move. */
  readonly keeps?: 'units' | 'price';
}

/** A part times a new whole over the old one, rounded; the part itself where there was no whole. */
export function inProportion(part: number, now: number, before: number): number {
  return before === 0 ? part : rounded((part * now) / before);
}

/** What cells come to when a whole total is divided over them. @throws DivisionError */
export function newTotals(
  cells: readonly number[],
  total: number,
  typed: Pick<Spreading, 'basis' | 'weights'>,
): number[] {
  switch (typed.basis) {
    case 'standing':
      return spreadAsTheyStand(total, cells);
    case 'equal':
      return divide(
        total,
        cells.map(() => 1),
      );
    default:
      return divide(total, typed.weights ?? []);
  }
}

/** Units in the smallest part that all of them and the total are whole in. */
export function newUnits(units: readonly number[], typed: Spreading): number[] {
  const whole = [typed.total, ...units].every(Number.isInteger);
  const parts = whole ? 1 : UNIT_PARTS;
  const before = units.map((value) => Math.round(value * parts));
  return newTotals(before, Math.round(typed.total * parts), typed).map((value) => value / parts);
}

/** Revenue and cost follow units, at the cell's own price and unit cost. */
function withUnits(cell: BudgetCell, units: number): BudgetCell {
  return {
    ...cell,
    units,
    revenue: inProportion(cell.revenue, units, cell.units),
    cost: cell.cost === null ? null : inProportion(cell.cost, units, cell.units),
  };
}

/**
 * Types a total over cells of a budget, exactly, and lets the other measures follow: units bring
 * revenue and cost along at the cell's price and unit cost; revenue moves the price, or the units
 * where the price is kept; a price moves revenue; cost moves alone.
 * @returns the cells that differ, with their new numbers
 * @throws DivisionError when there is nothing to divide by, or no units under a price
 */
export function typeBudget(cells: readonly BudgetCell[], typed: TypedBudget): BudgetCell[] {
  const after = newCells(cells, typed);
  return after.filter((cell, index) => {
    const before = cells[index];
    return (
      cell.units !== before?.units || cell.revenue !== before.revenue || cell.cost !== before.cost
    );
  });
}

function newCells(cells: readonly BudgetCell[], typed: TypedBudget): BudgetCell[] {
  if (typed.measure === 'units') {
    const units = newUnits(
      cells.map((cell) => cell.units),
      typed,
    );
    return cells.map((cell, index) => withUnits(cell, units[index] ?? 0));
  }
  if (typed.measure === 'cost') {
    const costs = newTotals(
      cells.map(({ cost }) => cost ?? 0),
      typed.total,
      typed,
    );
    return cells.map((cell, index) => ({ ...cell, cost: costs[index] ?? 0 }));
  }
  let total = typed.total;
  if (typed.measure === 'averagePrice') {
    const units = cells.reduce((sum, cell) => sum + cell.units, 0);
    if (units === 0) {
      throw new DivisionError('no-weights', 'There are no units here, so there is no price to set');
    }
    total = rounded(typed.total * units);
  }
  const revenues = newTotals(
    cells.map(({ revenue }) => revenue),
    total,
    typed,
  );
  return cells.map((cell, index) => {
    const revenue = revenues[index] ?? 0;
    if (typed.measure === 'averagePrice' || typed.keeps !== 'price') return { ...cell, revenue };
    const units = inProportion(cell.units * UNIT_PARTS, revenue, cell.revenue) / UNIT_PARTS;
    return { ...withUnits(cell, units), revenue };
  });
}

/** What cells come to in a measure; a price in minor units per unit, null where there are no units. */
export function budgetTotal(cells: readonly BudgetCell[], measure: TypedMeasure): number | null {
  const sum = (of: (cell: BudgetCell) => number): number =>
    cells.reduce((all, cell) => all + of(cell), 0);
  const units = Math.round(sum((cell) => Math.round(cell.units * UNIT_PARTS))) / UNIT_PARTS;
  switch (measure) {
    case 'units':
      return units;
    case 'revenue':
      return sum(({ revenue }) => revenue);
    case 'cost':
      return sum(({ cost }) => cost ?? 0);
    case 'averagePrice':
      return ratio(
        sum(({ revenue }) => revenue),
        units,
      );
  }
}
