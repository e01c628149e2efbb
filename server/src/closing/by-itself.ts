/** What happens on its day: the as-of date follows the real day, and months are closed. */

import { plansIn } from '@dravex/contract';
import { closingDay, dayInWords, monthFrom, monthText } from '@dravex/core';
import { z } from 'zod';
import { recorded } from '../journal/service.ts';
import { actorIn } from '../people/service.ts';
import type { Plans } from '../plan/plans.ts';
import { inTransaction, type Connections, type Database } from '../platform/database.ts';
import { HttpProblem } from '../platform/errors.ts';
import type { Queue } from '../platform/queue.ts';
import { moveAsOf } from '../workspaces/calendar.ts';
import { lockWorkspace, workspaceById } from '../workspaces/store.ts';
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
        record.say(`The as-of date is ${dayInWords(today)}, the real day`);
        await moveAsOf(tx, actor, record, today);
      });
    });
  }
}

/** The month whose day has come, where nothing waits to be taken in; undefined where there is none. */
async function dueMonth(db: Database, workspaceId: number): Promise<string | undefined> {
  const workspace = await workspaceById(db, workspaceId);
  if (!workspace) return undefined;
  const month = monthFrom(workspace.closedThrough.slice(0, 7)) + 1;
  const { rule, holidays } = await store.rulesOf(db, workspaceId);
  const due = closingDay(month, rule, new Set(holidays));
  if (due === null || workspace.asOf < due) return undefined;
  const { files, documents } = await store.waitingFor(db, workspaceId);
  return files + documents === 0 ? monthText(month) : undefined;
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
  const month = await dueMonth(connections.db, workspaceId);
  if (!actor || !plansIn(actor.role) || month === undefined) return;
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
      const month = await dueMonth(connections.db, one.workspaceId);
      if (month !== undefined) await queue.send(KIND, one, undefined);
    }
  };
  const timer = setInterval(() => void look().catch(() => undefined), everyMs);
  timer.unref();
  return () => clearInterval(timer);
}
