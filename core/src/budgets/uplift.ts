import { scaleExactly } from '../spread/scale.ts';
import { UNIT_PARTS, type BudgetCell } from './cell.ts';

/**
 * Copies a version's cells with an uplift, some months later: each cell times (1 + uplift), the
 * totals of units, revenue and cost exact by the largest remainder.
 * @param uplift as a fraction: 0.04 is 4 % more
 * @param shift how many months later the copy is
 */
export function copyWithUplift(
  cells: readonly BudgetCell[],
  uplift: number,
  shift: number,
): BudgetCell[] {
  const factor = Number((1 + uplift).toPrecision(15));
  const whole = cells.every(({ units }) => Number.isInteger(units));
  const parts = whole ? 1 : UNIT_PARTS;
  const units = scaleExactly(
    cells.map((cell) => Math.round(cell.units * parts)),
    factor,
  );
  const revenue = scaleExactly(
    cells.map((cell) => cell.revenue),
    factor,
  );
  const planned = cells.flatMap((cell, index) => (cell.cost === null ? [] : [index]));
  const cost = new Map(
    scaleExactly(
      planned.map((index) => cells[index]?.cost ?? 0),
      factor,
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
