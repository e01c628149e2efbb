import { addsOverStreams, refuseValue, type Driver, type DriverRow } from '@dravex/core';
import type { Typing } from '@dravex/contract';
import type { Formats } from '../format/numbers.ts';
import type { GridEdit } from '../grid/plan-grid.ts';

/** A cell that was refused: where, and why. */
export interface Refusal {
  readonly place: string;
  readonly reason: string;
}

/** What typed texts come to: what can be saved, and what was refused with the reason. */
export interface ReadEdits {
  readonly typing: Typing;
  readonly refusals: readonly Refusal[];
  /** Rows whose typed totals are spread, for saying so. */
  readonly spreadOver: number;
}

/**
 * Reads what was typed into a driver's grid. An empty text takes back what was typed at that
 * scope; a total of a counted driver is spread over the streams below it.
 */
export function readEdits(
  edits: readonly GridEdit[],
  rows: ReadonlyMap<string, DriverRow>,
  driver: Driver,
  scopeOf: (row: DriverRow) => readonly number[],
  formats: Formats,
): ReadEdits {
  const values: Typing['values'] = [];
  const totals: Typing['totals'] = [];
  const refusals: Refusal[] = [];
  let spreadOver = 0;
  for (const { row: key, column: month, text } of edits) {
    const row = rows.get(key);
    if (!row) continue;
    const refuse = (reason: string): void => {
      refusals.push({ place: `${key} ${month}`, reason });
    };
    const spreads = addsOverStreams(driver.code) && !row.leaf;
    if (text === '') {
      if (spreads) refuse(`${driver.name}: a total cannot be emptied; type 0 to spread nothing`);
      else values.push({ scope: [...scopeOf(row)], month, value: null });
      continue;
    }
    const value = formats.read(text, driver.kind === 'percent');
    if (value === undefined) {
      refuse(`${driver.name}: “${text.slice(0, 30)}” is not a number`);
      continue;
    }
    const refusal = refuseValue(driver, value);
    if (refusal) refuse(refusal.message);
    else if (spreads) {
      totals.push({ scope: [...scopeOf(row)], month, total: value });
      spreadOver = Math.max(spreadOver, row.streams);
    } else values.push({ scope: [...scopeOf(row)], month, value });
  }
  return { typing: { values, totals, why: '' }, refusals, spreadOver };
}
