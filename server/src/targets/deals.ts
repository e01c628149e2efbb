/** Deals that were made: what sales documents were worth. */
import type { MadeDeals } from '@dravex/contract';
import { fiscalYearSpan, inScope, monthText } from '@dravex/core';
import { documentValues } from '../actuals/read-lines.ts';
import type { Actor } from '../people/actor.ts';
import type { Plans } from '../plan/plans.ts';
import type { Connections } from '../platform/database.ts';
import { notFound } from '../platform/errors.ts';
import { layOut } from './reading.ts';
import { nodesOf } from './store.ts';
import { objectiveAbove } from './tree.ts';

/**
 * What the sales documents of a node were worth, in the year before and in this one so far; of a
 * team without a scope of its own those of everything above it.
 * @throws HttpProblem 404
 */
export async function madeDeals(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  fiscalYear: number,
  node: number,
): Promise<MadeDeals> {
  const { workspaceId } = actor;
  const rows = await nodesOf(connections.db, workspaceId, fiscalYear);
  const objective = objectiveAbove(rows, node)?.id;
  if (objective === undefined) throw notFound('such node in this year');
  const { lines } = await layOut(connections, plans, actor, { fiscalYear, objective });
  const holder = lines.find(({ entry }) => entry.id === node)?.holder;
  const { plan, model } = await plans.current(workspaceId);
  const scope = holder?.scope ?? [];
  const held = [...inScope(model.tree, plan.combinations, scope)];
  const read = (year: number): Promise<number[]> => {
    const { from, to } = fiscalYearSpan(year, plan.calendar.fiscalStart);
    return documentValues(connections.db, workspaceId, {
      from: monthText(from),
      to: monthText(to),
      combinations:
        scope.length === 0 ? undefined : held.map((index) => plan.combinations[index]?.id ?? -1),
      seller: holder?.seller ?? undefined,
      customer: holder?.account ?? undefined,
    });
  };
  const [lastYear, thisYear] = await Promise.all([read(fiscalYear - 1), read(fiscalYear)]);
  return { lastYear, thisYear };
}
