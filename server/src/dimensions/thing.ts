import type { CellName, Cells } from '../journal/cells.ts';
import type { Thing } from '../journal/thing.ts';
import { conflict } from '../platform/errors.ts';
import * as store from './store.ts';

/** A member taken apart: what can be changed on its own. */
export function memberCells(row: store.MemberRow): Cells {
  const { dimensionId, code, name, parentId, position, validFrom, validTo, account } = row;
  return { dimensionId, position, code, name, parentId, validFrom, validTo, account };
}

const CELL_NAMES: Readonly<Record<string, string>> = {
  code: 'code',
  name: 'name',
  parentId: 'member above',
  validFrom: 'valid from',
  validTo: 'valid to',
  account: 'ledger account',
};

/** What the journal calls the properties of a member. */
export function memberName(name: string): (cell: string) => CellName {
  return (cell) => ({ label: `${name}, ${CELL_NAMES[cell] ?? cell}`, unit: 'text' });
}

/** A member of a dimension. */
export const memberThing: Thing = {
  async read(db, workspaceId, ids) {
    const rows = await store.memberRows(db, workspaceId);
    return new Map(
      rows
        .filter(({ id }) => ids.includes(String(id)))
        .map((row) => [String(row.id), memberCells(row)]),
    );
  },
  async write(db, { workspaceId }, changes) {
    for (const { id, now, next } of changes) {
      if (!next) {
        const use = (await store.memberUse(db, workspaceId)).get(Number(id));
        if (use) throw conflict('Something refers to this member by now; it cannot be taken away');
        await store.deleteMember(db, workspaceId, Number(id));
        continue;
      }
      // What is empty has no cell.
      const empty = { parentId: null, validFrom: null, validTo: null, account: null };
      const row = { ...empty, ...next } as unknown as Omit<store.MemberRow, 'id' | 'workspaceId'>;
      if (now) await store.setMember(db, workspaceId, Number(id), row);
      else await store.insertMember(db, { workspaceId, ...row }, Number(id));
    }
  },
};
