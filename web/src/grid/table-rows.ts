import {
  MEASURES,
  type MeasureCode,
  type MeasuredCode,
  type Table,
  type TableCell,
  type TableRow,
} from '@dravex/core';
import { inFull, unitOf, type Display, type Formats, type Unit } from '../format/numbers.ts';
import {
  cellsOnDemand,
  type Dress,
  type GridCell,
  type GridColumn,
  type GridRow,
} from './plan-grid.ts';
import { TEXTS } from './texts.ts';

/** How a measure is shown. */
export function displayOf(measure: MeasuredCode): Display {
  return MEASURES[measure].display;
}

/** A measure with its unit, for the quiet line: `Revenue, thousand €`. */
export function measureInWords(measure: MeasuredCode, unit: Unit, formats: Formats): string {
  const { name, display } = MEASURES[measure];
  switch (display) {
    case 'price':
      return TEXTS.perUnit(name, formats.currency);
    case 'percent':
      return name;
    case 'units':
      return name;
    default:
      return `${name}, ${formats.unitName(unit)}`;
  }
}

/** A number as it is typed, copied and added up: in the unit in which it is shown, in full. */
export function typedCell(
  value: number | null,
  display: Display,
  unit: Unit,
  formats: Formats,
): Pick<GridCell, 'typed' | 'value' | 'unit'> {
  const shown = value === null ? null : inFull(value) / unitOf(display, unit);
  return {
    typed: formats.typed(shown, display === 'percent'),
    value: shown !== null && display === 'percent' ? shown * 100 : shown,
    unit: unitInWords(display, unit, formats),
  };
}
/** In what a number is shown, as a field or a screen reader says it. */
export function unitInWords(display: Display, unit: Unit, formats: Formats): string {
  switch (display) {
    case 'money':
      return formats.unitName(unit);
    case 'units':
      return 'units';
    case 'price':
      return TEXTS.perUnitOf(formats.currency);
    case 'percent':
      return '%';
    case 'score':
      return 'points';
  }
}

interface Showing {
  readonly measure: MeasureCode;
  readonly unit: Unit;
  readonly formats: Formats;
  /** Whose number a column holds; the key of the total is `total`. */
  readonly dressOf: (column: string) => Dress;
  /** Whether entries lie below a number. */
  readonly hasEntries?: (row: string, column: string) => boolean;
}

/** The column of a row's total stands first, beside its name. */
export const TOTAL = 'total';

function toCell(row: string, cell: TableCell, column: string, showing: Showing): GridCell {
  const display = displayOf(showing.measure);
  const { formats, unit } = showing;
  return {
    text:
      formats.show(cell.value, display, unit) + (cell.incomplete && cell.value !== null ? '*' : ''),
    ...typedCell(cell.value, display, unit, formats),
    dress: dressOf(row, cell, column, showing),
    title: `${formats.full(cell.value, display)}${cell.incomplete ? TEXTS.incompleteInputBelowIsMissing : ''}`,
  };
}

function dressOf(row: string, cell: TableCell, column: string, showing: Showing): Dress {
  if (cell.incomplete) return 'missing';
  return showing.hasEntries?.(row, column) ? 'entries' : showing.dressOf(column);
}

/** A row of a table as a row of the grid: the total first, then its cells. */
export function toGridRow(
  row: TableRow & { folded?: boolean },
  table: Table,
  showing: Showing,
  strong: boolean,
): GridRow {
  return {
    key: row.key,
    label: row.label,
    level: row.level,
    parent: row.parent,
    folded: row.folded ?? false,
    strong,
    cells: cellsOnDemand(row.cells.length + 1, (index) => {
      const cell = index === 0 ? row.total : row.cells[index - 1];
      const column = index === 0 ? TOTAL : (table.columns[index - 1]?.key ?? '');
      return toCell(row.key, cell ?? row.total, column, showing);
    }),
  };
}

/** The column of totals before a table's own columns. */
export function withTotal(
  heading: string,
  columns: readonly GridColumn[],
  more: Partial<GridColumn> = {},
): GridColumn[] {
  return [{ key: TOTAL, heading, total: true, size: 78, ...more }, ...columns];
}
