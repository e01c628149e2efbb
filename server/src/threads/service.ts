import {
  keptThreadSchema,
  MOST_COMMENTS,
  type Say,
  type Thread,
  type ThreadPlace,
} from '@dravex/contract';
import { sourceNamed, versionIn } from '@dravex/core';
import { and, eq, isNull } from 'drizzle-orm';
import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import { versionById } from '../budgets/versions.ts';
import { putNamed } from '../journal/named.ts';
import type { Cells } from '../journal/cells.ts';
import { journaled, type Recorder } from '../journal/service.ts';
import type { Actor } from '../people/actor.ts';
import { person } from '../people/tables.ts';
import { checkFrame } from '../plan/frame.ts';
import type { Plans } from '../plan/plans.ts';
import type { Connections, Database } from '../platform/database.ts';
import { badRequest, notFound } from '../platform/errors.ts';
import { threadsWhere } from './store.ts';
import { thread } from './tables.ts';
import { THREAD } from './thing.ts';

const atPlace = ({ room, source, against, measure, scope, from, to }: ThreadPlace) =>
  and(
    ...[eq(thread.room, room), eq(thread.source, source), eq(thread.measure, measure)],
    against === null ? isNull(thread.against) : eq(thread.against, against),
    ...[eq(thread.scope, [...scope]), eq(thread.from, from), eq(thread.to, to)],
  );

/** A scope is a set: the order in which it was named tells no numbers apart. */
const inOrder = <P extends ThreadPlace>(place: P): P => ({
  ...place,
  scope: place.scope.toSorted((a, b) => a - b),
});

/**
 * Says something of a number: in the thread of its place, which is open again then, or in a new one.
 * @throws HttpProblem 400 for a member that is not there or a thread that is full; 404 for a version
 *   that is not there
 */
export async function comment(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  { text, resolved, ...asked }: Say,
): Promise<Thread> {
  const place = inOrder(asked);
  checkFrame(await plans.current(actor.workspaceId), [], place.scope);
  for (const side of [place.source, place.against]) {
    const source = side === null ? undefined : sourceNamed(side);
    const version = source && versionIn(source);
    if (version) await versionById(connections.db, actor.workspaceId, version.id);
  }
  return journaled(connections, actor, 'budget', async (tx, record) => {
    const [before] = await threadsWhere(tx, actor.workspaceId, atPlace(place));
    if (before && before.comments.length >= MOST_COMMENTS) {
      throw badRequest(
        `This has ${MOST_COMMENTS} comments already; resolve it and go on elsewhere`,
      );
    }
    const [who] = await tx
      .select({ name: person.name })
      .from(person)
      .where(eq(person.id, actor.personId));
    const said = { by: who?.name ?? '', at: new Date().toISOString(), text };
    const comments = [...(before?.comments ?? []), said];
    const next = { ...place, id: before?.id ?? randomUUID(), comments, resolved };
    await keep(tx, actor, before, next, record);
    record.say(`Commented: ${text.slice(0, 80)}`);
    return next;
  });
}

/** Marks a thread as resolved, or opens it again. @throws HttpProblem 404 */
export function resolve(
  connections: Connections,
  actor: Actor,
  id: string,
  resolved: boolean,
): Promise<Thread> {
  return journaled(connections, actor, 'budget', async (tx, record) => {
    const found = await threadsWhere(tx, actor.workspaceId, eq(thread.name, id));
    const [now] = found;
    if (!now) throw notFound('such thread');
    const next = { ...now, resolved };
    await keep(tx, actor, now, next, record);
    record.say(resolved ? 'Resolved a comment' : 'Opened a comment again');
    return next;
  });
}

async function keep(
  tx: Database,
  actor: Actor,
  before: Thread | undefined,
  next: Thread,
  record: Recorder,
): Promise<void> {
  await putNamed(tx, THREAD, actor, next.id, next);
  record.changed('thread', next.id, cellsOf(before), cellsOf(next), (cell) => ({
    label: `Comment, ${cell}`,
    unit: 'text',
  }));
}

/** A thread as undo keeps it. */
function cellsOf(of: Thread | undefined): Cells | null {
  return of ? z.record(z.string(), z.json()).parse(keptThreadSchema.strip().parse(of)) : null;
}
