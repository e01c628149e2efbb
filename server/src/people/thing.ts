import type { Role } from '@dravex/contract';
import type { CellName, Cells } from '../journal/cells.ts';
import type { Thing } from '../journal/thing.ts';
import { mustOwn } from './actor.ts';
import { keepAnOwner } from './owners.ts';
import * as store from './store.ts';

/** What the journal calls somebody's way into a workspace. */
export function membershipName(name: string): (cell: string) => CellName {
  return (cell) => ({ label: `${name}, ${cell === 'parts' ? 'part' : 'role'}`, unit: 'text' });
}

/** Somebody's way in as the journal keeps it; who holds nothing has no parts. */
export const membershipCells = (role: Role, parts: readonly number[]): Cells =>
  parts.length === 0 ? { role } : { role, parts: [...parts] };

/** Somebody's role in a workspace and what they hold; without one they are not in it. */
export const membershipThing: Thing = {
  async read(db, workspaceId, ids) {
    const rows = await store.peopleOf(db, workspaceId);
    return new Map(
      rows
        .filter(({ id }) => ids.includes(String(id)))
        .map(({ id, role, parts }) => [String(id), membershipCells(role, parts)]),
    );
  },
  async write(db, actor, changes) {
    // Whoever was an owner once does not take back what they did as one.
    mustOwn(actor);
    const { workspaceId } = actor;
    for (const { id, next } of changes) {
      if (next) {
        await store.setMembership(db, workspaceId, Number(id), next['role'] as Role);
        const parts = (next['parts'] as number[] | undefined) ?? [];
        await store.setParts(db, workspaceId, Number(id), parts);
      } else await store.dropMembership(db, workspaceId, Number(id));
    }
    await keepAnOwner(db, workspaceId);
  },
};
