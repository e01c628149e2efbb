import type { CellName, Cells } from '../journal/cells.ts';
import type { Thing } from '../journal/thing.ts';
import { conflict, isReferenced } from '../platform/errors.ts';
import { dimensionCells, removeDimension, restoreDimension, whyDimensionStays } from './remove.ts';
import * as store from './store.ts';

/** A member taken apart: what can be changed on its own. */
export function memberCells(row: store.MemberRow): Cells {
  const { dimensionId, code, name, parentId, position } = row;
  const { validFrom, validTo, account, replaces } = row;
  return { dimensionId, position, code, name, parentId, validFrom, validTo, account, replaces };
}

const CELL_NAMES: Readonly<Record<string, string>> = {
  code: 'code',
  name: 'name',
  parentId: 'member above',
  validFrom: 'valid from',
  validTo: 'valid to',
  account: 'ledger account',
  replaces: 'replaces',
};

/** What the journal calls the properties of a member. */
export function memberName(name: string): (cell: string) => CellName {
  return (cell) => ({ label: `${name}, ${CELL_NAMES[cell] ?? cell}`, unit: 'text' });
}

/** A member of a dimension. */
export const memberThing: Thing = {
  async read(db, workspaceId, ids) {
    const rows = await store.memberRows(db, workspaceId);
    const wanted = new Set(ids);
    return new Map(
      rows
        .filter(({ id }) => wanted.has(String(id)))
        .map((row) => [String(row.id), memberCells(row)]),
    );
  },
  async write(db, { workspaceId }, changes) {
    const drops = changes.some(({ next }) => !next);
    const use = drops ? await store.memberUse(db, workspaceId) : undefined;
    for (const { id, now, next } of changes) {
      if (!next) {
        if (use?.has(Number(id)))
          throw conflict('Something refers to this member by now; it cannot be removed');
        await store.deleteMember(db, workspaceId, Number(id));
        continue;
      }
      // What is empty has no cell.
      const empty = { parentId: null, validFrom: null, validTo: null };
      const row = { ...empty, account: null, replaces: null, ...next } as unknown as Omit<
        store.MemberRow,
        'id' | 'workspaceId'
      >;
      if (now) await store.setMember(db, workspaceId, Number(id), row);
      else await store.insertMember(db, { workspaceId, ...row }, Number(id));
    }
  },
};

/** A combination that was made with its member; the others are made by what names them, and stay. */
export const combinationThing: Thing = {
  async read(db, workspaceId, ids) {
    const rows = await store.combinationsOf(db, workspaceId);
    return new Map(
      rows
        .filter(({ id }) => ids.includes(String(id)))
        .map(({ id, members }) => [String(id), { members: [...members] }]),
    );
  },
  async write(db, { workspaceId }, changes) {
    for (const { id, next } of changes) {
      if (next) {
        const members = next['members'] as number[];
        await store.restoreCombination(db, { workspaceId, id: Number(id), members });
        continue;
      }
      try {
        await store.deleteCombination(db, workspaceId, Number(id));
      } catch (error) {
        if (!isReferenced(error)) throw error;
        throw conflict('Sales, budgets or overrides name the new member by now; it stays');
      }
    }
  },
};

/** A dimension: its name, and with its members where it is taken out. */
export const dimensionThing: Thing = {
  async read(db, workspaceId, codes) {
    const cellsByCode = new Map<string, Cells>();
    for (const code of codes) {
      const row = await store.dimensionRow(db, workspaceId, code);
      if (row) cellsByCode.set(code, await dimensionCells(db, workspaceId, row));
    }
    return cellsByCode;
  },
  async write(db, { workspaceId }, changes) {
    for (const { id: code, now, next } of changes) {
      if (!now && next) {
        await restoreDimension(db, workspaceId, code, next);
        continue;
      }
      const row = await store.dimensionRow(db, workspaceId, code);
      if (row && !next) {
        const why = await whyDimensionStays(db, workspaceId, row);
        if (why !== undefined) throw conflict(why);
        await removeDimension(db, workspaceId, row);
      }
      if (row && typeof next?.['name'] === 'string') {
        await store.setDimensionName(db, workspaceId, row.id, next['name']);
      }
    }
  },
};

/** What the journal calls an assignment: its dimension, customer and first day. */
export function assignmentId(dimensionId: number, customer: string, from: string): string {
  return JSON.stringify([dimensionId, customer, from]);
}

/** The member that a customer belongs to from a day on, by its code. */
export const assignmentThing: Thing = {
  async read(db, workspaceId, ids) {
    const wanted = new Set(ids);
    const codes = new Map(
      (await store.memberRows(db, workspaceId)).map((row) => [row.id, row.code]),
    );
    const rows = await store.assignmentsOf(db, workspaceId);
    return new Map(
      rows
        .map((row) => [assignmentId(row.dimensionId, row.customer, row.from), row] as const)
        .filter(([id]) => wanted.has(id))
        .map(([id, { memberId }]) => [id, { member: codes.get(memberId) ?? '' }]),
    );
  },
  async write(db, { workspaceId }, changes) {
    const members = await store.memberRows(db, workspaceId);
    const gone: Parameters<typeof store.unassign>[2][number][] = [];
    const set: Parameters<typeof store.assign>[1][number][] = [];
    for (const { id, next } of changes) {
      const [dimensionId, customer, from] = JSON.parse(id) as [number, string, string];
      const row = { dimensionId, customer, from };
      if (!next) {
        gone.push(row);
        continue;
      }
      const memberNow = members.find(
        (member) => member.dimensionId === dimensionId && member.code === next['member'],
      );
      if (!memberNow) throw conflict(`The member that ${customer} belonged to is gone by now`);
      set.push({ workspaceId, ...row, memberId: memberNow.id });
    }
    await store.unassign(db, workspaceId, gone);
    await store.assign(db, set);
  },
};
