import type { JournalRecord, JournalRoom } from '@dravex/contract';

import type { PoolClient } from 'pg';
import { Lines } from '../platform/turns.ts';
import { mustPlan, type Actor, type Right } from '../people/actor.ts';
import { inTransaction, type Connections, type Database } from '../platform/database.ts';
import { badRequest, conflict, HttpProblem, isTaken, notFound } from '../platform/errors.ts';
import type { RequestKey } from '../platform/request-key.ts';
import { lockWorkspace, raiseRevision } from '../workspaces/store.ts';
import { differences, type CellName, type Cells } from './cells.ts';
import * as store from './store.ts';
import type { Change } from './store.ts';
import type { Json } from './tables.ts';
import { changesPlan, kindOf, type Kind } from './things.ts';
import { CHANNEL } from './channels.ts';
import { tellingShare, type TellShare } from './progress.ts';

/** Writes down what one write changes; handed to the work that makes the change. */
export class Recorder {
  readonly #changes: Change[] = [];
  what = '';
  why = '';
  undoable = true;

  constructor(
    readonly journalId: number,
    readonly revision: number,
    private readonly tell: TellShare = () => undefined,
  ) {}

  /** Tells how far the work is, from 0 to 1; writing it down comes after it and is as long again. */
  worked(share: number): void {
    this.tell(share / 2);
  }

  /** Tells how far the changes are written down. */
  written(share: number): void {
    this.tell((1 + share) / 2);
  }

  /** Says in a sentence what was done. */
  say(what: string, why = ''): void {
    this.what = what;
    this.why = why;
  }

  /** Notes what became of a thing; cells that are the same are left out. */
  changed(
    thing: Kind,
    thingId: string | number,
    before: Cells | null,
    after: Cells | null,
    nameOf: (cell: string) => CellName,
  ): void {
    for (const change of differences(before, after)) {
      this.#changes.push({ thing, thingId: String(thingId), ...nameOf(change.cell), ...change });
    }
  }

  get changes(): readonly Change[] {
    return this.#changes;
  }
}

/** What an undo or redo adds to an ordinary record. */
export interface RecordKind {
  readonly kind: 'undo' | 'redo';
  readonly ofId: number;
}

/**
 * Does a write to a workspace as one unit: the work, its record in the journal, the raised revision,
 * the notice to everybody who looks, and the kept answer. Writers stand in line. A request that
 * was answered before is answered again and does nothing; a write that changes nothing leaves no
 * record.
 * @param options.may what is asked of the actor; to plan the workspace where it is left out
 * @throws HttpProblem 403 for who may not
 */
export function journaled<T>(
  connections: Connections,
  actor: Actor,
  room: JournalRoom,
  work: (tx: Database, record: Recorder, client: PoolClient) => Promise<T>,
  { kind, may = mustPlan }: { readonly kind?: RecordKind; readonly may?: Right } = {},
): Promise<T> {
  may(actor);
  const { workspaceId, personId, requestKey } = actor;
  const write = (): Promise<T> =>
    answeredOnce(connections, personId, requestKey, (tx, client) => {
      const tell = tellingShare(connections, actor);
      return recorded(tx, actor, room, (record) => work(tx, record, client), kind, tell);
    });
  // Writers of one server stand in line before they take a connection: the lock of the workspace is
  // for those of other servers. What is done in the background waits as long as it takes.
  const { lockWaitMs } = connections;
  if (lockWaitMs === 0) return write();
  const line = LINES.get(connections) ?? new Lines();
  LINES.set(connections, line);
  return line.take(workspaceId, write, lockWaitMs);
}

const LINES = new WeakMap<Connections, Lines>();

/** Does a part of a transaction as a write of the journal. */
export async function recorded<T>(
  tx: Database,
  actor: Actor,
  room: JournalRoom,
  work: (record: Recorder) => Promise<T>,
  kind?: RecordKind,
  tell?: TellShare,
): Promise<T> {
  const { workspaceId, personId, requestKey } = actor;
  const revision = await raiseRevision(tx, workspaceId);
  const journalId = await store.insertRecord(tx, {
    workspaceId,
    personId,
    room,
    what: '',
    revision,
    kind: kind?.kind ?? 'do',
    ofId: kind?.ofId ?? null,
    requestKey: requestKey?.key ?? null,
  });
  const record = new Recorder(journalId, revision, tell);
  const result = await work(record);
  await finish(tx, actor, room, record);
  return result;
}

/** Completes a record and tells everybody, in the transaction of the write. */
async function finish(
  tx: Database,
  { workspaceId, name }: Actor,
  room: JournalRoom,
  record: Recorder,
): Promise<void> {
  const { journalId, revision, what, why, undoable, changes } = record;
  if (changes.length === 0) {
    await store.deleteRecord(tx, workspaceId, journalId);
    return;
  }
  await store.insertChanges(tx, workspaceId, journalId, changes, (share) => record.written(share));
  const notice = { workspaceId, revision, journal: journalId, by: name, room };
  await store.finishRecord(
    tx,
    { workspaceId, id: journalId, what, why, undoable },
    changes.some(({ thing }) => changesPlan(kindOf(thing).affects)) ? revision : 0,
    [CHANNEL, JSON.stringify(notice)],
  );
}

/**
 * Does a write once, however often it is asked with the same key: the answer is kept in the
 * transaction of the write.
 * @throws HttpProblem 409 for a key that was used for something else
 */
export async function answeredOnce<T>(
  connections: Connections,
  personId: number,
  requestKey: RequestKey | undefined,
  work: (tx: Database, client: PoolClient) => Promise<T>,
): Promise<T> {
  const look = async (db: Database): Promise<{ answer: unknown } | undefined> => {
    if (!requestKey) return undefined;
    const row = await store.answerTo(db, personId, requestKey.key);
    if (row && row.fingerprint !== requestKey.fingerprint) {
      throw conflict('This idempotency key was used for another request; choose a new one');
    }
    return row;
  };
  try {
    return await inTransaction(connections, async (tx, client) => {
      const before = await look(tx);
      if (before) return before.answer as T;
      const result = await work(tx, client);
      if (requestKey) {
        const answer = (result ?? null) as Json;
        await store.insertAnswer(tx, { personId, ...requestKey, answer });
      }
      return result;
    });
  } catch (error) {
    // Two of the same request at once: the other one was first, and what it did stood in the way.
    const asked = requestKey && (isTaken(error) || error instanceof HttpProblem);
    const answerBefore = asked ? await look(connections.db) : undefined;
    if (answerBefore) return answerBefore.answer as T;
    throw error;
  }
}

export function readJournal(
  { db }: Connections,
  { workspaceId, personId }: Actor,
  which: { room?: JournalRoom | undefined; before?: number | undefined; limit: number },
): Promise<JournalRecord[]> {
  return store.recordsOf(db, workspaceId, personId, which);
}

/** @throws HttpProblem 404 */
export async function readRecord(
  db: Database,
  { workspaceId, personId }: Actor,
  id: number,
): Promise<JournalRecord> {
  const [record] = await store.recordsOf(db, workspaceId, personId, { id, limit: 1 });
  if (!record) throw notFound('such record');
  return record;
}

/** Says why one's own change was made; what was said stays. */
export async function sayWhy(
  connections: Connections,
  actor: Actor,
  id: number,
  why: string,
): Promise<JournalRecord> {
  mustPlan(actor);
  return inTransaction(connections, async (tx) => {
    await lockWorkspace(tx, actor.workspaceId);
    const record = await readRecord(tx, actor, id);
    if (!record.own) {
      throw new HttpProblem(403, 'This is not yours', `Only ${record.by} can say why`);
    }
    if (record.why !== '' && record.why !== why) {
      throw badRequest(`It has a reason already: “${record.why}”`);
    }
    await store.setRecord(tx, actor.workspaceId, id, { why });
    return { ...record, why };
  });
}
