/** How far kept forecasts were from what happened. */
import type { AccuracyAddress } from '@dravex/contract';
import {
  figuresFromRows,
  measuringAccuracy,
  monthFrom,
  type AccuracyTable,
  type KeptForecast,
} from '@dravex/core';
import { cellsNow } from '../budgets/store.ts';
import type { Actor } from '../people/actor.ts';
import { checkFrame, mustBeReadable, windowOf } from '../plan/frame.ts';
import type { LoadedPlan, Plans } from '../plan/plans.ts';
import type { Connections } from '../platform/database.ts';
import { inTurns } from '../platform/pauses.ts';
import * as store from './store.ts';

/** Forecasts kept at closes, which never change, by workspace and version. */
const figuresByVersion = new WeakMap<LoadedPlan, Map<number, KeptForecast>>();

/** Measures the forecasts kept at closes. @throws HttpProblem 400 for dimensions nobody has */
export async function accuracyFor(
  { db }: Connections,
  plans: Plans,
  { workspaceId }: Actor,
  address: AccuracyAddress,
): Promise<AccuracyTable> {
  const loaded = await plans.current(workspaceId);
  const { plan, model } = loaded;
  checkFrame(loaded, address.rows, address.scope);
  const span = windowOf(plan.calendar, address);
  mustBeReadable(loaded, address.rows, address.scope, address.leads.length * 6);
  const kept = figuresByVersion.get(loaded) ?? new Map<number, KeptForecast>();
  figuresByVersion.set(loaded, kept);
  const closes = await store.closes(db, workspaceId);
  for (const { version, month } of closes) {
    if (kept.has(version)) continue;
    const rows = await cellsNow(db, workspaceId, version);
    kept.set(version, { closed: monthFrom(month), figures: figuresFromRows(plan, rows) });
  }
  return inTurns(
    measuringAccuracy(
      loaded.figures('actual', address.origin),
      closes.flatMap(({ version }) => kept.get(version) ?? []),
      model.tree,
      { ...address, span },
      monthFrom(plan.calendar.closedThrough),
    ),
  );
}
