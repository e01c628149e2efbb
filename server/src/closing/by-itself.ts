/** What happens on its day: the as-of date follows the real day, and months are closed. */

import { z } from 'zod';
import { recorded } from '../journal/service.ts';
import { actorIn } from '../people/service.ts';
import type { Plans } from '../plan/plans.ts';
import { inTransaction, type Connections } from '../platform/database.ts';
import { HttpProblem } from '../platform/errors.ts';
import type { Queue } from '../platform/queue.ts';
import { moveAsOf } from '../workspaces/calendar.ts';
import { lockWorkspace } from '../workspaces/store.ts';
import { readClosing } from './look.ts';
import { closeMonth } from './service.ts';
import * as store from './store.ts';

const KIND = 'close-on-its-day';
const LOOK_EVERY_MS = 60_000;
const jobSchema = z.object({ workspaceId: z.number(), personId: z.number() });

/** Moves the as-of dates that follow the real day. */
export async function followTheDay(connections: Connections): Promise<void> {
  for (const { workspaceId, personId, today } of await store.behindTheDay(connections.db)) {
    const actor = await actorIn(connections, workspaceId, personId);
    if (!actor) continue;
    await inTransaction(connections, async (tx) => {
      await lockWorkspace(tx, workspaceId);
      await recorded(tx, actor, 'workspace', async (record) => {
        record.undoable = false;
        record.say(`The as-of date is ${today}, the real day`);
        await moveAsOf(tx, actor, record, today);
      });
    });
  }
}

/**
 * Closes the next month of a workspace if its day has come and nothing stands in the way: it is
 * over, has sales, and no file or document waits to be taken in.
 */
export async function closeWhenDue(
  connections: Connections,
  plans: Plans,
  workspaceId: number,
  personId: number,
): Promise<void> {
  const actor = await actorIn(connections, workspaceId, personId);
  if (actor?.role !== 'planner') return;
  const { month, due, asOf, waiting } = await readClosing(connections, plans, actor);
  if (month === null || due === null || asOf < due) return;
  if (waiting.files + waiting.documents > 0) return;
  try {
    await closeMonth(connections, plans, actor, { month, sure: false, byItself: true });
  } catch (error) {
    // Somebody closed it meanwhile, or it has no sales: the page says so, and it is tried again.
    if (!(error instanceof HttpProblem)) throw error;
  }
}

/** Tells the queue how months are closed on their day, and looks for them. @returns how to end that */
export function defineClosing(
  connections: Connections,
  plans: Plans,
  queue: Queue,
  everyMs = LOOK_EVERY_MS,
): () => void {
  queue.define(KIND, async (data) => {
    const { workspaceId, personId } = jobSchema.parse(data);
    await closeWhenDue(connections, plans, workspaceId, personId);
  });
  const look = async (): Promise<void> => {
    await followTheDay(connections);
    for (const one of await store.closingByThemselves(connections.db)) {
      const { month, due, asOf } = await readClosing(connections, plans, one);
      if (month === null || due === null || asOf < due) continue;
      await queue.send(KIND, one, undefined);
    }
  };
  const timer = setInterval(() => void look().catch(() => undefined), everyMs);
  timer.unref();
  return () => clearInterval(timer);
}
