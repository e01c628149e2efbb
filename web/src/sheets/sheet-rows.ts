import type { FilledSheet, Sheet, SheetLine, SheetState } from '@dravex/contract';
import { ratio, type Display } from '@dravex/core';
import { DASH, type Formats, type Unit } from '../format/numbers.ts';
import { WORDS } from '../format/words.ts';
import {
  cellsOnDemand,
  type Dress,
  type GridCell,
  type GridColumn,
  type GridRow,
} from '../grid/plan-grid.ts';
import { typedCell } from '../grid/table-rows.ts';
import { DIVISIONS } from '../plan/planned-words.ts';
import { TEXTS } from './texts.ts';

/** Where a sheet is on its way, in words. */
export const STATES: Readonly<Record<SheetState, string>> = {
  draft: TEXTS.draft,
  handedOut: TEXTS.handedOutLower,
  handedIn: TEXTS.handedInLower,
  questioned: TEXTS.sentBackLower,
  agreed: TEXTS.agreedLower,
};

/** What was done when it came there, in words. */
export const STEPS: Readonly<Record<SheetState, string>> = {
  draft: TEXTS.takenBack,
  handedOut: TEXTS.handedOut,
  handedIn: TEXTS.handedIn,
  questioned: TEXTS.sentBack,
  agreed: TEXTS.agreed,
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
    read('lastYear', WORDS.lastYear, TEXTS.lastYearIsSalesEnter, {
      means: TEXTS.sameMonthsYearBeforeActual,
    }),
    read('change', WORDS.change, TEXTS.calculatedFromPlanAndLast, { size: 72 }),
    read('lastTwelve', TEXTS.last12, TEXTS.lastTwelveMonthsAreSales, {
      closed: true,
      means: TEXTS.actualOfLastTwelveClosed,
    }),
    read('forecast', WORDS.forecast, TEXTS.forecastIsCalculatedEnterPlan),
    read('target', TEXTS.target, TEXTS.targetsAreSetInTargets, {
      means: TEXTS.whatTargetsGiveToThese,
    }),
    read('comment', WORDS.comment, TEXTS.rightClickLineToComment, {
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
        ? { fixed: TEXTS.isLockedUnlockItFirst(line.name) }
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
  if (!total || lines.length === 1) return TEXTS.hasNoLines(sheet.title);
  const words = (value: number): string =>
    display === 'money' ? formats.inWords(value / wholes) : formats.full(value / wholes, display);
  const planned = TEXTS.planned(sheet.title, words(total.plan));
  const change = changeOf(total);
  if (total.target !== null && total.target > total.plan) {
    return TEXTS.belowTheTarget(planned, words(total.target - total.plan));
  }
  if (change === null) return planned;
  const percent = formats.show(Math.abs(change), 'percent');
  return TEXTS.thanLastYear(planned, percent, change);
}

/** When a sheet is due, seen from a day; nothing where no day is set or it is handed in. */
export function isLate({ due, state }: Sheet, today: string): boolean {
  return due !== null && due < today && (state === 'handedOut' || state === 'questioned');
}
