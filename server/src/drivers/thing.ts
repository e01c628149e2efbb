import type { JournalUnit } from '@dravex/contract';
import { DRIVERS, monthText, parseMonth, type Assumption, type MemberTree } from '@dravex/core';
import type { CellName, Cells } from '../journal/cells.ts';
import type { Json } from '../journal/tables.ts';
import type { Thing } from '../journal/thing.ts';
import * as store from './store.ts';

const HEAD = 'head';
const MONTH = 'month ';

/**
 * An assumption taken apart: months that were typed one by one are cells of their own, so that two
 * people who type different months of one assumption are not in each other's way.
 */
export function assumptionCells({ id: _, profile, ...rest }: Assumption): Cells {
  const { driver, scope, from, to, note } = rest;
  const plain = { driver, scope: [...scope], from, to, note };
  if (profile.kind !== 'months') {
    return { [HEAD]: { ...plain, profile: JSON.parse(JSON.stringify(profile)) as Json } };
  }
  const months = Object.entries(profile.values).map(([month, value]) => [MONTH + month, value]);
  return { [HEAD]: plain, ...Object.fromEntries(months) } as Cells;
}

/** An assumption from its cells; null where nothing of it is left. */
function assumptionOf(cells: Cells | null, before: Cells | null): Omit<Assumption, 'id'> | null {
  const months = Object.entries(cells ?? {}).filter(([cell]) => cell.startsWith(MONTH));
  // Months that somebody else typed since keep the assumption alive that they are part of.
  const head = (cells?.[HEAD] ?? (months.length > 0 ? before?.[HEAD] : null) ?? null) as
    (Omit<Assumption, 'id' | 'profile'> & { profile?: Assumption['profile'] }) | null;
  if (!head) return null;
  if (head.profile) return { ...head, profile: head.profile };
  if (months.length === 0) return null;
  const values = Object.fromEntries(
    months.map(([cell, value]) => [cell.slice(MONTH.length), Number(value)]),
  );
  return { ...head, profile: { kind: 'months', values } };
}

const UNITS: Readonly<Record<string, JournalUnit>> = { percent: 'percent', moneyPerUnit: 'price' };

/** What the journal calls the cells of an assumption. */
export function assumptionNames(
  { driver, scope }: Pick<Assumption, 'driver' | 'scope'>,
  tree: MemberTree,
): (cell: string) => CellName {
  const known = DRIVERS.find(({ code }) => code === driver);
  const label = `${known?.name ?? driver}, ${tree.label(scope)}`;
  return (cell) => {
    const month = parseMonth(cell.slice(MONTH.length));
    if (month === undefined) return { label, unit: 'text' };
    return { label: `${label}, ${monthText(month)}`, unit: UNITS[known?.kind ?? ''] ?? 'units' };
  };
}

/** An assumption of a driver. It keeps its id when it comes back, and so its rank among equals. */
export const assumptionThing: Thing = {
  async read(db, workspaceId, ids) {
    const rows = await store.assumptionsOf(db, workspaceId, { ids: ids.map(Number) });
    return new Map(rows.map((row) => [String(row.id), assumptionCells(row)]));
  },
  async write(db, { workspaceId, personId }, changes) {
    const gone: number[] = [];
    for (const { id, now, next } of changes) {
      const row = assumptionOf(next, now);
      if (!row) gone.push(Number(id));
      else if (now)
        await store.updateAssumption(db, workspaceId, personId, { ...row, id: Number(id) });
      else await store.restoreAssumption(db, workspaceId, personId, { ...row, id: Number(id) });
    }
    await store.deleteAssumptions(db, workspaceId, gone);
  },
};
