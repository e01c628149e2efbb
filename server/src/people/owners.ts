import { conflict } from '../platform/errors.ts';
import type { Database } from '../platform/database.ts';
import { peopleOf } from './store.ts';

/**
 * Sees that somebody owns a workspace.
 * @param without somebody who will own it no longer
 * @throws HttpProblem 409 where nobody would be left
 */
export async function keepAnOwner(
  db: Database,
  workspaceId: number,
  without?: number,
): Promise<void> {
  const people = await peopleOf(db, workspaceId);
  if (people.some(({ id, role }) => role === 'owner' && id !== without)) return;
  throw conflict('A workspace needs an owner; make somebody else an owner first');
}
