import type { Cells } from '../journal/cells.ts';
import type { Thing, ThingChange } from '../journal/thing.ts';
import { holdsPart } from '@dravex/contract';
import type { Actor } from '../people/actor.ts';
import type { Database } from '../platform/database.ts';
import { conflict } from '../platform/errors.ts';
import { rowOf, targetCells } from './cells.ts';
import { mustHold, ownPart } from './own-part.ts';
import * as store from './store.ts';

/**
 * Does a write of nodes, and sees that all of it was the actor's to do.
 * @throws HttpProblem 403
 */
async function withinPart(
  db: Database,
  actor: Actor,
  ids: readonly number[],
  write: () => Promise<void>,
): Promise<void> {
  if (!holdsPart(actor.role)) return write();
  const before = await store.allNodes(db, actor.workspaceId);
  await write();
  const now = await store.allNodes(db, actor.workspaceId);
  mustHold(await ownPart(db, actor, before), before, now, ids);
}

/** A node of a target tree. */
export const targetThing: Thing = {
  async read(db, workspaceId, ids) {
    const rows = await store.nodesById(db, workspaceId, ids.map(Number));
    return new Map(rows.map((row) => [String(row.id), targetCells(row)]));
  },
  write: (db, actor, changes) =>
    withinPart(
      db,
      actor,
      changes.map(({ id }) => Number(id)),
      () => writeNodes(db, actor, changes),
    ),
};

async function writeNodes(
  db: Database,
  { workspaceId }: Actor,
  changes: readonly ThingChange[],
): Promise<void> {
  // Those above and those below come and go in one statement, in whichever order they are named.
  const isThere = (cells: Cells | null): cells is Cells => cells?.['node'] !== undefined;
  const made = changes.flatMap(({ id, now, next }) =>
    isThere(next) && !now ? [{ ...rowOf(next), workspaceId, id: Number(id) }] : [],
  );
  await store.restoreNodes(db, made);
  for (const { id, now, next } of changes) {
    if (isThere(next) && now) await store.updateNode(db, workspaceId, Number(id), rowOf(next));
  }
  const gone = changes.flatMap(({ id, next }) => (isThere(next) ? [] : [Number(id)]));
  const below = await store.partsBeyond(db, workspaceId, gone);
  if (below > 0) {
    throw conflict(
      below === 1
        ? 'One part lies below it; remove it first'
        : `${below} parts lie below it; remove them first`,
    );
  }
  await store.deleteNodes(db, workspaceId, gone);
}
