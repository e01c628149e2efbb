import type { VersionCells } from '@dravex/contract';
import { monthText, type BudgetCell } from '@dravex/core';

/** Cells as the wire has them, one column a field. */
export function toColumns(cells: readonly BudgetCell[]): VersionCells {
  return {
    combination: cells.map(({ combination }) => combination),
    month: cells.map(({ month }) => monthText(month)),
    units: cells.map(({ units }) => units),
    revenue: cells.map(({ revenue }) => revenue),
    cost: cells.map(({ cost }) => cost),
  };
}
