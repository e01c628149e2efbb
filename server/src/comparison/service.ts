import type { ComparisonAddress } from '@dravex/contract';
import { compare, monthFrom, type Comparison } from '@dravex/core';
import { versionById, versionFigures } from '../budgets/service.ts';
import { checkFrame, mustBeReadable, windowOf } from '../plan/frame.ts';
import type { LoadedPlan, Plans } from '../plan/plans.ts';
import type { Actor } from '../people/actor.ts';
import type { Connections } from '../platform/database.ts';

/** Actual against a kept version, over the closed part of the window an address names. */
export async function comparisonFor(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  address: ComparisonAddress,
): Promise<{ comparison: Comparison; loaded: LoadedPlan; version: string }> {
  const loaded = await plans.current(actor.workspaceId);
  checkFrame(loaded, address.rows, address.scope);
  const span = windowOf(loaded.plan.calendar, address);
  mustBeReadable(loaded, address.rows, address.scope, 3);
  const comparison = compare(
    loaded.figures('actual', address.origin),
    await versionFigures(connections, actor, loaded.plan, address.version),
    loaded.model.tree,
    {
      measure: address.measure,
      rows: address.rows,
      scope: address.scope,
      span,
    },
    monthFrom(loaded.plan.calendar.closedThrough),
  );
  const { name } = await versionById(connections.db, actor.workspaceId, address.version);
  return { comparison, loaded, version: name };
}
