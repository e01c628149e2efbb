import type { FilledSheet, Sheet, SheetLine, SheetState } from '@dravex/contract';
import { ratio, type Display, type SpreadBasis } from '@dravex/core';
import { DASH, type Formats, type Unit } from '../format/numbers.ts';
import {
  cellsOnDemand,
  type Dress,
  type GridCell,
  type GridColumn,
  type GridRow,
} from '../grid/plan-grid.ts';
import { typedCell } from '../grid/table-rows.ts';

/** Where a sheet is on its way, in words. */
export const STATES: Readonly<Record<SheetState, string>> = {
  draft: 'draft',
  handedOut: 'handed out',
  handedIn: 'handed in',
  questioned: 'sent back',
  agreed: 'agreed',
};

/** What was done when it came there, in words. */
export const STEPS: Readonly<Record<SheetState, string>> = {
  draft: 'Taken back',
  handedOut: 'Handed out',
  handedIn: 'Handed in',
  questioned: 'Sent back',
  agreed: 'Agreed',
};

/** By what a line is divided over its months, in words. */
export const DIVISIONS: Readonly<Record<SpreadBasis, string>> = {
  standing: 'in proportion',
  equal: 'equally',
  lastYear: 'like last year',
  forecast: 'like the forecast',
};

/** How a sheet shows its numbers. */
export interface SheetLook {
  readonly formats: Formats;
  readonly display: Display;
  /** How many of the whole numbers in which the plan is kept make one. */
  readonly wholes: number;
  readonly unit: Unit;
}

export function lookOf(
  { sheet, minorDigits }: FilledSheet,
  formats: Formats,
  money: Unit,
): SheetLook {
  const revenue = sheet.measure === 'revenue';
  return {
    formats,
    display: revenue ? 'money' : 'units',
    wholes: revenue ? 10 ** minorDigits : 1,
    unit: revenue ? money : 1,
  };
}

/** The columns of a sheet: the plan, typed into, before what it is held beside. */
export function sheetColumns(plan: string): GridColumn[] {
  const read = (key: string, heading: string, fixed: string, more = {}): GridColumn => ({
    ...{ key, heading, size: 88, fixed },
    ...more,
  });
  return [
    { key: 'plan', heading: plan, size: 104 },
    read('lastYear', 'Last year', 'Last year is sales; enter the plan beside it', {
      means: 'The same months a year before: actual where they are closed, forecast after that.',
    }),
    read('change', 'Change', 'Calculated from the plan and last year', { size: 72 }),
    read('lastTwelve', 'Last 12', 'The last twelve months are sales', {
      closed: true,
      means: 'Actual of the last twelve closed months.',
    }),
    read('forecast', 'Forecast', 'The forecast is calculated; enter the plan beside it'),
    read('target', 'Target', 'Targets are set in Targets', {
      means: 'What the targets give to these very sales; empty where they do not say it.',
    }),
    read('comment', 'Comment', 'Right-click the line to comment on it', {
      size: 260,
      align: 'left',
    }),
  ];
}

/** A line's number in a column; nothing for words. */
export function numberIn(line: SheetLine, column: string): number | null {
  switch (column) {
    case 'plan':
    case 'lastYear':
    case 'lastTwelve':
    case 'forecast':
    case 'target':
      return line[column];
    case 'change':
      return changeOf(line);
    default:
      return null;
  }
}

/** How much more than last year is planned, as a fraction; null where last year sold nothing. */
function changeOf({ plan, lastYear }: SheetLine): number | null {
  const times = lastYear === null ? null : ratio(plan, lastYear);
  return times === null ? null : times - 1;
}

const DRESS: Readonly<Record<string, Dress>> = {
  plan: 'kept',
  lastYear: 'books',
  lastTwelve: 'books',
  forecast: 'forecast',
};

/** A line as a row of the grid, in the order of the columns. */
export function sheetRow(
  line: SheetLine,
  columns: readonly GridColumn[],
  { formats, display, wholes, unit }: SheetLook,
): Omit<GridRow, 'folded'> {
  const none: GridCell = { text: '', typed: '', dress: 'plain' };
  const cellIn = (column: string): GridCell => {
    if (column === 'comment') {
      return { ...none, text: line.comment, typed: line.comment, title: line.comment };
    }
    const value = numberIn(line, column);
    if (value === null) return { ...none, text: DASH };
    if (column === 'change') {
      return {
        ...none,
        text: formats.signed(value, 'percent'),
        ...typedCell(value, 'percent', 1, formats),
      };
    }
    return {
      text: formats.show(value / wholes, display, unit),
      ...typedCell(value / wholes, display, unit, formats),
      dress: DRESS[column] ?? 'plain',
      title: formats.full(value / wholes, display),
      ...(column === 'plan' && line.locked
        ? { fixed: `${line.name} is locked; unlock it first` }
        : {}),
    };
  };
  const tail = [
    ...(line.locked ? ['locked'] : []),
    ...(line.basis === 'standing' ? [] : [DIVISIONS[line.basis]]),
  ].join(' · ');
  return {
    key: line.key,
    label: line.name,
    ...(tail === '' ? {} : { tail }),
    level: line.level,
    parent: line.parent,
    strong: line.level === 0,
    cells: cellsOnDemand(columns.length, (at) => cellIn(columns[at]?.key ?? '')),
  };
}

/** What a sheet says at its top: how much is planned, against what. */
export function sheetHeadline(
  { sheet, lines }: FilledSheet,
  { formats, display, wholes }: SheetLook,
): string {
  const [total] = lines;
  if (!total || lines.length === 1) return `${sheet.title} has no lines`;
  const words = (value: number): string =>
    display === 'money' ? formats.inWords(value / wholes) : formats.full(value / wholes, display);
  const planned = `${sheet.title}: ${words(total.plan)} planned`;
  const change = changeOf(total);
  if (total.target !== null && total.target > total.plan) {
    return `${planned}, ${words(total.target - total.plan)} below the target`;
  }
  if (change === null) return planned;
  const percent = formats.show(Math.abs(change), 'percent');
  return `${planned}, ${percent} ${change < 0 ? 'less' : 'more'} than last year`;
}

/** When a sheet is due, seen from a day; nothing where no day is set or it is handed in. */
export function isLate({ due, state }: Sheet, today: string): boolean {
  return due !== null && due < today && (state === 'handedOut' || state === 'questioned');
}
