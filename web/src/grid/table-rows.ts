import { MEASURES, type MeasuredCode } from '@dravex/core';
import { inFull, unitOf, type Display, type Formats, type Unit } from '../format/numbers.ts';
import type { GridCell, GridColumn } from './plan-grid.ts';
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

/** The column of a row's total stands first, beside its name. */
export const TOTAL = 'total';

/** The column of totals before a table's own columns. */
export function withTotal(
  heading: string,
  columns: readonly GridColumn[],
  more: Partial<GridColumn> = {},
): GridColumn[] {
  return [{ key: TOTAL, heading, total: true, size: 78, ...more }, ...columns];
}
