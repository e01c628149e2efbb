/** What is typed over the forecast: spread, kept, dropped. */
import type { Conflict, DropOverrides, TypeOver } from '@dravex/contract';
import { forecastTotal, spreadOverride, type Model, type Plan } from '@dravex/core';
import type { Recorder } from '../journal/service.ts';
import type { Actor } from '../people/actor.ts';
import type { Connections } from '../platform/database.ts';
import { badRequest, changedMeanwhile, conflict, notFound } from '../platform/errors.ts';
import { pausesFor } from '../platform/pauses.ts';
import { changingPlan } from '../plan/changing-plan.ts';
import { checkFrame } from '../plan/frame.ts';
import type { Plans } from '../plan/plans.ts';
import { deleteOverrides, putOverrides } from './store.ts';
import { membersOf, overrideCells, overrideId, overrideName } from './thing.ts';

/** What looking for the streams of a scope costs, in cells. */
const LOOKED_AT = 50;
/** What writing a cell down costs, in cells of a table. */
const NOTED = 4;

/** Writes down that overrides are dropped. */
export async function dropAll(
  typed: readonly NonNullable<Plan['overrides']>[number][],
  { plan, tree }: Model,
  record: Recorder,
): Promise<void> {
  const members = membersOf(plan);
  const pause = pausesFor();
  for (const override of typed) {
    await pause(NOTED);
    const before = overrideCells(override);
    const name = overrideName(override, members.get(override.combination) ?? [], tree);
    record.changed('override', overrideId(override), before, null, name);
  }
}

/** Sums that were added up in another order are the same total. */
const sameTotal = (a: number | null, b: number | null): boolean =>
  a === b || (a !== null && b !== null && Math.abs(a - b) < 5e-3);

/**
 * Types totals over the forecast: each is spread over the open cells below it, as they stand.
 * @throws HttpProblem 409 with both values where a total is not what was seen
 */
export async function typeOver(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  { typed, why }: TypeOver,
): Promise<{ cells: number }> {
  const { workspaceId, personId } = actor;
  return changingPlan(connections, plans, actor, 'forecast', async (tx, record, loaded) => {
    const { model } = loaded;
    const { plan } = model;
    const { closedThrough, last } = plan.calendar;
    const errors = typed.flatMap(({ from, to }, index) =>
      from <= closedThrough || to > last
        ? [{ path: `typed.${index}.from`, message: `${from} to ${to} is not all open` }]
        : [],
    );
    if (errors.length > 0) throw badRequest(errors[0]?.message ?? '', errors);
    typed.forEach(({ scope }) => checkFrame(loaded, [], scope));
    const pause = pausesFor();
    const conflicts: Conflict[] = [];
    for (const [index, { saw, ...one }] of typed.entries()) {
      if (saw === undefined) continue;
      const now = forecastTotal(model, one);
      await pause(LOOKED_AT);
      if (sameTotal(now, saw) || sameTotal(now, one.total)) continue;
      conflicts.push({ path: `typed.${index}`, saw, now, by: '', at: '' });
    }
    if (conflicts.length > 0) throw changedMeanwhile(conflicts);
    const cells: ReturnType<typeof spreadOverride> = [];
    for (const one of typed) {
      const spread = spreadOverride(model, one);
      for (const cell of spread) cells.push(cell);
      await pause(spread.length + LOOKED_AT);
    }
    if (cells.length === 0) throw conflict('No forecast line is there; add one first');
    const before = new Map((plan.overrides ?? []).map((row) => [overrideId(row), row]));
    const rows = [...new Map(cells.map((row) => [overrideId(row), { ...row, why }])).values()];
    await putOverrides(tx, workspaceId, personId, rows);
    const members = membersOf(plan);
    for (const row of rows) {
      const old = before.get(overrideId(row));
      record.changed(
        'override',
        overrideId(row),
        old ? overrideCells(old) : null,
        overrideCells(row),
        overrideName(row, members.get(row.combination) ?? [], model.tree),
      );
      await pause(NOTED);
    }
    record.say(`Overrode ${rows.length} cells of the forecast`, why);
    return { cells: rows.length };
  });
}

/** Drops what was typed over the forecast. */
export function dropOverrides(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  { overrides }: DropOverrides,
): Promise<{ cells: number }> {
  const { workspaceId } = actor;
  return changingPlan(
    connections,
    plans,
    actor,
    'forecast',
    async (tx, record, { plan, model }) => {
      const wanted = overrides === 'all' ? undefined : new Set(overrides.map(overrideId));
      const gone = (plan.overrides ?? []).filter((row) => wanted?.has(overrideId(row)) ?? true);
      if (gone.length === 0) throw notFound('such override');
      await deleteOverrides(tx, workspaceId, gone);
      await dropAll(gone, model, record);
      record.say(`Removed the override of ${gone.length} cells of the forecast`);
      return { cells: gone.length };
    },
  );
}
