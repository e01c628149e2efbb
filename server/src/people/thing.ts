import type { Role } from '@dravex/contract';
import type { CellName } from '../journal/cells.ts';
import type { Thing } from '../journal/thing.ts';
import * as store from './store.ts';

/** What the journal calls somebody's way into a workspace. */
export function membershipName(name: string): () => CellName {
  return () => ({ label: `${name}, role`, unit: 'text' });
}

/** Somebody's role in a workspace; without one they are not in it. */
export const membershipThing: Thing = {
  async read(db, workspaceId, ids) {
    const rows = await store.peopleOf(db, workspaceId);
    return new Map(
      rows
        .filter(({ id }) => ids.includes(String(id)))
        .map(({ id, role }) => [String(id), { role }]),
    );
  },
  async write(db, { workspaceId }, changes) {
    for (const { id, next } of changes) {
      if (next) await store.setMembership(db, workspaceId, Number(id), next['role'] as Role);
      else await store.dropMembership(db, workspaceId, Number(id));
    }
  },
};
