import {
  addsOverStreams,
  applyArithmetic,
  refuseValue,
  type Driver,
  type DriverRow,
} from '@dravex/core';
import type { Typing } from '@dravex/contract';
import { readArithmetic } from '../format/arithmetic.ts';
import type { Formats } from '../format/numbers.ts';
import { WORDS } from '../format/words.ts';
import type { GridEdit } from '../grid/plan-grid.ts';
import { meantBy, type Doubt, type Refusal } from '../plan/use-typed.ts';
import { TEXTS } from './texts.ts';

/** What typed texts come to: what can be saved, and what was refused with the reason. */
export interface ReadEdits<Edit extends GridEdit = GridEdit> {
  readonly typing: Typing;
  readonly refusals: readonly Refusal[];
  /** What may be a slip, and is not in `typing`. */
  readonly doubts: readonly Doubt<Edit>[];
  /** Rows whose typed totals are spread, for saying so. */
  readonly spreadOver: number;
}

/** What a driver's grid shows, as far as typing into it needs to know. */
export interface DriverGrid {
  readonly driver: Driver;
  readonly rows: ReadonlyMap<string, DriverRow>;
  /** The place of a month in the rows' values. */
  readonly placeOf: (month: string) => number;
}

/** A row above another one: its key is the beginning of the other's. */
export function isAbove(key: string, other: string): boolean {
  return (
    other !== key && (key === 'all' || other.startsWith(`${key}/`) || other.startsWith(`${key}#`))
  );
}

/**
 * Reads what was typed into a driver's grid. An empty text takes back what was typed at that
 * scope; a total of a driver that adds up is spread over the streams below it. A change (`+8%`, `x1.1`,
 * `+=2k`) typed on a selection changes all of it; where a total and what lies below it are both
 * selected, what lies below is changed and the total follows.
 */
export function readEdits<Edit extends GridEdit>(
  edits: readonly Edit[],
  { driver, rows, placeOf }: DriverGrid,
  formats: Formats,
): ReadEdits<Edit> {
  const values: Typing['values'] = [];
  const totals: Typing['totals'] = [];
  const relative: Typing['changes'] = [];
  const refusals: Refusal[] = [];
  const doubts: Doubt<Edit>[] = [];
  let spreadOver = 0;
  const adds = addsOverStreams(driver);

  const take = ({ row: key, column: month }: GridEdit, row: DriverRow, value: number): void => {
    const refusal = refuseValue(driver, value);
    const scope = [...row.scope];
    if (refusal) refusals.push({ place: `${key} ${month}`, reason: refusal.message });
    else if (adds && !row.leaf) {
      totals.push({ scope, month, total: value });
      spreadOver = Math.max(spreadOver, row.streams);
    } else values.push({ scope, month, value });
  };

  /** Changes that wait for the others of their selection, by what was typed. */
  const changes = new Map<string, { edit: GridEdit; row: DriverRow; now: number }[]>();
  for (const edit of edits) {
    const { row: key, column: month, text } = edit;
    const row = rows.get(key);
    if (!row) continue;
    const refuse = (reason: string): void => {
      refusals.push({ place: `${key} ${month}`, reason: `${driver.name}: ${reason}` });
    };
    if (text === '') {
      if (adds && !row.leaf) refuse(TEXTS.totalCannotBeEmptiedType);
      else values.push({ scope: [...row.scope], month, value: null });
      continue;
    }
    const typed = readArithmetic(text, formats, driver.kind === 'percent');
    if (!typed) refuse(WORDS.isNotNumber(text.slice(0, 30)));
    else if (typed.kind === 'set') {
      const now = row.values[placeOf(month)] ?? Number.NaN;
      const stands = Number.isNaN(now) ? null : now;
      const meant = meantBy(edit, typed.value, stands);
      if (meant === undefined) take(edit, row, typed.value);
      else {
        const percent = driver.kind === 'percent';
        const words = (value: number): string =>
          percent
            ? formats.full(value, 'percent')
            : `${formats.full(value, 'units')} ${driver.unit}`;
        doubts.push({
          edit,
          typed: words(typed.value),
          meant: words(meant),
          stands: words(stands ?? 0),
          text: formats.typed(meant, percent),
        });
      }
    } else {
      const now = row.values[placeOf(month)] ?? Number.NaN;
      const covered = adds && edits.some((e) => e.column === month && isAbove(key, e.row));
      if (covered) continue;
      if (Number.isNaN(now)) refuse(TEXTS.nothingIsThereYetThat);
      // Above values that differ each of them changes, whatever it is; the mean follows.
      else if (!adds && row.mixed[placeOf(month)] === 1) {
        const change =
          typed.kind === 'times'
            ? ({ kind: 'times', by: typed.factor } as const)
            : ({ kind: 'plus', by: typed.value } as const);
        relative.push({ scope: [...row.scope], month, ...change, saw: now });
      } else changes.set(text, [...(changes.get(text) ?? []), { edit, row, now }]);
    }
  }
  for (const [text, list] of changes) {
    const typed = readArithmetic(text, formats, driver.kind === 'percent');
    if (!typed) continue;
    const now = list.map((item) => item.now);
    const after = applyArithmetic(typed, now, adds && now.every(Number.isInteger));
    list.forEach(({ edit, row }, index) => take(edit, row, after[index] ?? Number.NaN));
  }
  return { typing: { values, totals, changes: relative, why: '' }, refusals, doubts, spreadOver };
}
