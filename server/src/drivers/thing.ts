import type { JournalUnit } from '@dravex/contract';
import {
  monthText,
  parseMonth,
  type Adjustment,
  type Assumption,
  type Driver,
  type MemberTree,
} from '@dravex/core';
import type { CellName, Cells } from '../journal/cells.ts';
import type { Json } from '../journal/tables.ts';
import type { Thing } from '../journal/thing.ts';
import { deleteDriver, driversOf, isBuiltIn, putDriver } from './driver-store.ts';
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
  drivers: readonly Driver[],
): (cell: string) => CellName {
  const driverKept = drivers.find(({ code }) => code === driver);
  const label = `${driverKept?.name ?? driver}, ${tree.label(scope)}`;
  return (cell) => {
    const month = parseMonth(cell.slice(MONTH.length));
    if (month === undefined) return { label, unit: 'text' };
    return {
      label: `${label}, ${monthText(month)}`,
      unit: UNITS[driverKept?.kind ?? ''] ?? 'units',
    };
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

/** An adjustment taken apart: what it is laid over, and its number. */
export function adjustmentCells(row: Adjustment): Cells {
  // By name: rows bear more than is theirs.
  const { driver, scope, from, to, kind, note, value } = row;
  return { [HEAD]: { driver, scope: [...scope], from, to, kind, note }, value };
}

/** An adjustment from its cells; null where nothing of it is left. */
function adjustmentOf(cells: Cells | null): Omit<Adjustment, 'id'> | null {
  const head = (cells?.[HEAD] ?? null) as Omit<Adjustment, 'id' | 'value'> | null;
  return head && { ...head, value: Number(cells?.['value']) };
}

const CHANGES: Readonly<Record<Adjustment['kind'], string>> = {
  set: '',
  times: ', each times',
  plus: ', each plus',
};

/** What the journal calls the cells of an adjustment: `List price, Trade partners, 2027-01, each times`. */
export function adjustmentName(
  { driver, scope, from, to, kind }: Omit<Adjustment, 'id' | 'note' | 'value'>,
  tree: MemberTree,
  drivers: readonly Driver[],
): (cell: string) => CellName {
  const driverKept = drivers.find(({ code }) => code === driver);
  const months = from === to ? (from ?? 'all months') : `${from ?? ''} to ${to ?? ''}`;
  const label = `${driverKept?.name ?? driver}, ${tree.label(scope)}`;
  const unit = kind === 'times' ? 'units' : (UNITS[driverKept?.kind ?? ''] ?? 'units');
  return (cell) =>
    cell === 'value'
      ? { label: `${label}, ${months}${CHANGES[kind]}`, unit }
      : { label, unit: 'text' };
}

/** A change that was typed over whatever a driver is. */
export const adjustmentThing: Thing = {
  async read(db, workspaceId, ids) {
    const rows = await store.adjustmentsOf(db, workspaceId, { ids: ids.map(Number) });
    return new Map(rows.map(({ by: _, at: __, ...row }) => [String(row.id), adjustmentCells(row)]));
  },
  async write(db, { workspaceId, personId }, changes) {
    const gone = changes.filter(({ now }) => now !== null).map(({ id }) => Number(id));
    await store.deleteAdjustments(db, workspaceId, gone);
    for (const { id, next } of changes) {
      const row = adjustmentOf(next);
      if (row) await store.restoreAdjustment(db, workspaceId, personId, { ...row, id: Number(id) });
    }
  },
};

/** A driver taken apart: what can be changed on its own. */
export function driverCells({
  code: _,
  choices,
  history,
  nature: how,
  weight: by,
  ...rest
}: Driver): Cells {
  const from = history ? { measure: history.measure, per: history.per } : null;
  return {
    ...rest,
    nature: how ?? null,
    weight: by ?? null,
    history: from,
    choices: choices.map(({ value, label }) => ({ value, label })),
  };
}

const DRIVER_CELLS: Readonly<Record<string, string>> = {
  default: 'default',
  step: 'step of a control',
};

/** What the journal calls the properties of a driver. */
export function driverName({ name }: Pick<Driver, 'name'>): (cell: string) => CellName {
  return (cell) => ({ label: `${name}, ${DRIVER_CELLS[cell] ?? cell}`, unit: 'text' });
}

/** A driver of the planner's own, or the bounds of one that methods read themselves. */
export const driverThing: Thing = {
  async read(db, workspaceId, ids) {
    const rows = await driversOf(db, workspaceId);
    return new Map(
      rows.filter(({ code }) => ids.includes(code)).map((row) => [row.code, driverCells(row)]),
    );
  },
  async write(db, { workspaceId }, changes) {
    for (const { id: code, next } of changes) {
      if (!next) {
        if (!isBuiltIn(code)) await deleteDriver(db, workspaceId, code);
        continue;
      }
      // What is empty has no cell.
      const empty = {
        minimum: null,
        maximum: null,
        step: null,
        default: null,
        formula: null,
        history: null,
      };
      await putDriver(db, workspaceId, { ...empty, ...next, code } as unknown as Driver);
    }
  },
};
