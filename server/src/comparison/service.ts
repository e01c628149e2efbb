import type { ComparisonAddress } from '@dravex/contract';
import { compare, monthFrom, type Comparison } from '@dravex/core';
import { versionFacts } from '../budgets/service.ts';
import { checkFrame } from '../forecast/frame.ts';
import type { LoadedPlan, Plans } from '../forecast/plans.ts';
import type { Actor } from '../people/actor.ts';
import type { Connections } from '../platform/database.ts';

/** Actual against a kept version, over the closed part of the window an address names. */
export async function comparisonFor(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  address: ComparisonAddress,
): Promise<{ comparison: Comparison; loaded: LoadedPlan }> {
  const loaded = await plans.current(actor.workspaceId);
  checkFrame(loaded, address.rows, address.scope);
  const comparison = compare(
    loaded.actual,
    await versionFacts(connections, actor, loaded.plan, address.version),
    loaded.model.tree,
    {
      measure: address.measure,
      rows: address.rows,
      scope: address.scope,
      span: { from: monthFrom(address.from), to: monthFrom(address.to) },
    },
    monthFrom(loaded.plan.calendar.closedThrough),
  );
  return { comparison, loaded };
}
