import type { JournalRoom } from '@dravex/contract';
import { journaled, type Recorder } from '../journal/service.ts';
import { mustPlan, type Actor } from '../people/actor.ts';
import type { Connections, Database } from '../platform/database.ts';
import type { LoadedPlan, Plans } from './plans.ts';

/**
 * A write of the journal that is made from the plan as the server holds it. The plan is read before
 * the workspace's lock is taken; under it only what was typed since is taken in.
 * @param work must not read the plan again once it has written
 * @throws HttpProblem 403 for who may not plan
 */
export async function changingPlan<T>(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  room: JournalRoom,
  work: (tx: Database, record: Recorder, loaded: LoadedPlan) => Promise<T>,
): Promise<T> {
  mustPlan(actor);
  await plans.current(actor.workspaceId);
  return journaled(connections, actor, room, async (tx, record) =>
    work(tx, record, await plans.current(actor.workspaceId, tx)),
  );
}
