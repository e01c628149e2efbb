import type { neededAddressSchema } from '@dravex/contract';
import { monthFrom, revenueNeeded, type NotNeeded, type RevenueNeeded } from '@dravex/core';
import type { z } from 'zod';
import type { Actor } from '../people/actor.ts';
import { checkFrame, combinationsIn } from '../plan/frame.ts';
import type { Plans } from '../plan/plans.ts';
import type { Connections } from '../platform/database.ts';
import { badRequest } from '../platform/errors.ts';
import { cellsNow } from './store.ts';
import { versionById } from './versions.ts';

/** Why no revenue can be said, and what to do. */
const WHY: Readonly<Record<NotNeeded, string>> = {
  'no-revenue': 'The version plans no revenue here; choose other months or another filter',
  'no-cost':
    'Of some of these sales no cost is planned, so their margin is not known; enter their cost first, or filter them out',
  'no-margin':
    'Cost of sales takes all the revenue here, so no revenue leaves a profit; change prices or costs first',
  'no-need': 'The costs and the profit together are nothing to earn; enter more',
};

/** The revenue that a part of a version needs for a profit. @throws HttpProblem 400, 404 */
export async function readRevenueNeeded(
  { db }: Connections,
  plans: Plans,
  { workspaceId }: Actor,
  versionId: number,
  { scope, from, to, ...wanted }: z.output<typeof neededAddressSchema>,
): Promise<RevenueNeeded> {
  const loaded = await plans.current(workspaceId);
  checkFrame(loaded, [], scope);
  await versionById(db, workspaceId, versionId);
  const only = { combinations: combinationsIn(loaded, scope) };
  const months = { from: monthFrom(from), to: monthFrom(to) };
  const cells = await cellsNow(db, workspaceId, versionId, { ...only, ...months });
  const found = revenueNeeded(cells, wanted);
  if (typeof found === 'string') throw badRequest(WHY[found]);
  return found;
}
