import { plansIn, type Here, type UndoResult } from '@dravex/contract';
import { mustPlan, mustWrite, type Actor } from '../people/actor.ts';
import type { Connections, Database } from '../platform/database.ts';
import { conflict, HttpProblem, notFound, outOfSight } from '../platform/errors.ts';
import { sameJson, type Cells } from './cells.ts';
import { journaled, readRecord, type Recorder } from './service.ts';
import * as store from './store.ts';
import type { ThingChange } from './thing.ts';
import { kindOf, type Kind } from './things.ts';

type Direction = 'undo' | 'redo';

/** Brings the cells of a record to what they were before it (undo) or after it (redo). */
async function bring(
  tx: Database,
  actor: Actor,
  record: store.JournalRow,
  direction: Direction,
  written: Recorder,
): Promise<void> {
  const { workspaceId } = actor;
  const changes = await store.changesOf(tx, workspaceId, record.id);
  const byThing = new Map<string, store.ChangeRow[]>();
  for (const change of changes) {
    const others = byThing.get(change.thing);
    if (others) others.push(change);
    else byThing.set(change.thing, [change]);
  }
  // What was made last is taken back first: what lies below goes before what it lies below.
  const kinds = direction === 'undo' ? [...byThing].toReversed() : [...byThing];
  for (const [kind, idsOfKind] of kinds) {
    const { thing, theirs, stays } = kindOf(kind);
    if (stays) continue;
    if (!thing) throw new Error(`The journal names a thing "${kind}" that nobody can bring back`);
    const ids = [...new Set(idsOfKind.map(({ thingId }) => thingId))];
    if (direction === 'undo') ids.reverse();
    const cellsNow = await thing.read(tx, workspaceId, ids);
    const next = new Map<string, Record<string, Cells[string]>>(
      ids.map((id) => [id, { ...cellsNow.get(id) }]),
    );
    for (const change of idsOfKind) {
      const expected = direction === 'undo' ? change.after : change.before;
      const wanted = direction === 'undo' ? change.before : change.after;
      const now = cellsNow.get(change.thingId)?.[change.cell] ?? null;
      if (!sameJson(now, expected)) throw await changedMeanwhile(tx, change, record);
      const cells = next.get(change.thingId);
      if (cells) cells[change.cell] = wanted;
    }
    const list: ThingChange[] = ids.map((id) => {
      const left = Object.entries(next.get(id) ?? {}).filter(([, value]) => value !== null);
      const cells = left.length > 0 ? Object.fromEntries(left) : null;
      return { id, now: cellsNow.get(id) ?? null, next: cells };
    });
    if (!plansIn(actor.role)) {
      if (!theirs) mustPlan(actor);
      else await theirs(tx, actor, list);
    }
    await thing.write(tx, actor, list, written.journalId);
    const names = new Map(idsOfKind.map((change) => [`${change.thingId} ${change.cell}`, change]));
    for (const { id, now, next: cells } of list) {
      written.changed(kind as Kind, id, now, cells, (cell) => {
        const { label, unit } = names.get(`${id} ${cell}`) ?? {
          label: cell,
          unit: 'text' as const,
        };
        return { label, unit };
      });
    }
  }
}

/** Why it cannot be taken back, naming who changed it since. */
async function changedMeanwhile(
  tx: Database,
  change: store.ChangeRow,
  record: store.JournalRow,
): Promise<HttpProblem> {
  const since = await store.changedSince(tx, change, Math.max(record.id, record.undoneBy ?? 0));
  const whole =
    since ?? (await store.changedSince(tx, { ...change, cell: '' }, record.id)) ?? undefined;
  const who = whole ? `${whole.by} changed it since` : 'it was changed since';
  return conflict(
    `“${record.what}” cannot be undone: ${who} (${change.label}). Nothing was changed`,
  );
}

/** Whether a record was written in the room and the sitting from which it is asked about. */
function isInSight({ room, requestKey }: store.JournalRow, here: Here): boolean {
  if (here.sitting === undefined) return true;
  return (
    (here.room === undefined || here.room === room) &&
    requestKey?.startsWith(`${here.sitting}.`) === true
  );
}

async function run(
  connections: Connections,
  actor: Actor,
  direction: Direction,
  find: (tx: Database) => Promise<store.JournalRow | undefined>,
  nothing: string,
  here: Here = {},
): Promise<UndoResult> {
  mustWrite(actor);
  const record = await find(connections.db);
  const repeats = actor.requestKey !== undefined;
  if (!record && !repeats) throw conflict(nothing);
  if (record && !record.undoable) {
    throw conflict(`“${record.what}” cannot be undone; nothing was changed`);
  }
  if (record && !isInSight(record, here)) {
    const { id: journal, what, room, at } = record;
    const asks = { journal, what, room, at: at.toISOString() };
    throw outOfSight(asks, direction === 'undo' ? 'undone' : 'redone');
  }
  const kind = { kind: direction, ofId: record?.id ?? 0 };
  const result = await journaled(
    connections,
    actor,
    record?.room ?? 'workspace',
    async (tx, written) => {
      // Found again under the lock: another tab of the same person may have been faster.
      const current = await find(tx);
      if (!current || current.id !== record?.id) throw conflict(nothing);
      await bring(tx, actor, current, direction, written);
      const name = direction === 'undo' ? 'Undone' : 'Redone';
      written.say(`${name}: ${current.what}`);
      await store.setRecord(tx, actor.workspaceId, current.id, {
        undone: direction === 'undo',
        undoneBy: direction === 'undo' ? written.journalId : null,
      });
      return { id: written.journalId, revision: written.revision };
    },
    // Each kind says of what somebody has a part of whether it is theirs to bring back.
    { kind, may: mustWrite },
  );
  return {
    record: await readRecord(connections.db, actor, result.id),
    revision: result.revision,
  };
}

/** Takes back the actor's own last change. @throws HttpProblem 409 when somebody changed it since */
export function undo(connections: Connections, actor: Actor, here?: Here): Promise<UndoResult> {
  return run(
    connections,
    actor,
    'undo',
    (tx) => store.lastDone(tx, actor.workspaceId, actor.personId),
    'There is nothing of yours to undo',
    here,
  );
}

/** Does again what the actor took back last. */
export function redo(connections: Connections, actor: Actor, here?: Here): Promise<UndoResult> {
  return run(
    connections,
    actor,
    'redo',
    (tx) => store.lastUndone(tx, actor.workspaceId, actor.personId),
    'There is nothing of yours to redo',
    here,
  );
}

/** Takes back one particular change of the actor's own. */
export function takeBack(connections: Connections, actor: Actor, id: number): Promise<UndoResult> {
  return runOne(connections, actor, id, 'undo', 'This cannot be undone, or is undone already');
}

/** Does one particular change of the actor's own again, that is taken back. */
export function doAgain(connections: Connections, actor: Actor, id: number): Promise<UndoResult> {
  return runOne(connections, actor, id, 'redo', 'This cannot be redone, or is redone already');
}

async function runOne(
  connections: Connections,
  actor: Actor,
  id: number,
  direction: Direction,
  nothing: string,
): Promise<UndoResult> {
  const record = await store.recordById(connections.db, actor.workspaceId, id);
  if (!record) throw notFound('such record');
  if (record.personId !== actor.personId) {
    const { by } = await readRecord(connections.db, actor, id);
    throw new HttpProblem(403, 'This is not yours', `Only ${by} can do this`);
  }
  return run(
    connections,
    actor,
    direction,
    async (tx) => {
      const row = await store.recordById(tx, actor.workspaceId, id);
      const undone = direction === 'redo';
      return row?.kind === 'do' && row.undoable && row.undone === undone ? row : undefined;
    },
    nothing,
  );
}
