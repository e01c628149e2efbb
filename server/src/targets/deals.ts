/** Deals that were made: what sales documents were worth. */
import type { MadeDeals } from '@dravex/contract';
import { fiscalYearSpan, monthText } from '@dravex/core';
import { documentValues } from '../actuals/read-lines.ts';
import type { Actor } from '../people/actor.ts';
import type { Plans } from '../plan/plans.ts';
import type { Connections } from '../platform/database.ts';
import { layOut, objectiveOfSeen } from './reading.ts';
import { whoseOf } from './sales.ts';

/**
 * What the sales documents of a node were worth, in the year before and in this one so far; of a
 * team without a scope of its own those of its parts.
 * @throws HttpProblem 403, 404
 */
export async function madeDeals(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  fiscalYear: number,
  node: number,
): Promise<MadeDeals> {
  const { workspaceId } = actor;
  const objective = await objectiveOfSeen(connections.db, actor, fiscalYear, node);
  const { lines } = await layOut(connections, plans, actor, { fiscalYear, objective });
  const loaded = await plans.current(workspaceId);
  const whose = whoseOf(loaded, lines, node);
  const read = (year: number): Promise<number[]> => {
    const { from, to } = fiscalYearSpan(year, loaded.plan.calendar.fiscalStart);
    const months = { from: monthText(from), to: monthText(to) };
    return documentValues(connections.db, workspaceId, { ...months, whose });
  };
  const [lastYear, thisYear] = await Promise.all([read(fiscalYear - 1), read(fiscalYear)]);
  return { lastYear, thisYear };
}
