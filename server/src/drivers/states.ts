/** What a driver was at earlier times, read from the journal, and how one of these is brought back. */
import type { DriverState } from '@dravex/contract';
import type { Adjustment } from '@dravex/core';
import { sql } from 'drizzle-orm';
import { changingPlan } from '../plan/changing-plan.ts';
import type { Plans } from '../plan/plans.ts';
import type { Cells } from '../journal/cells.ts';
import type { Json } from '../journal/tables.ts';
import type { ThingChange } from '../journal/thing.ts';
import type { Actor } from '../people/actor.ts';
import type { Connections, Database } from '../platform/database.ts';
import { badPlan, notFound } from '../platform/errors.ts';
import { mustDriver, problemsAt } from './assumptions.ts';
import { assumptionsOf } from './store.ts';
import { adjustmentName, adjustmentThing, assumptionNames, assumptionThing } from './thing.ts';

/** The assumptions and adjustments that a driver has or had, by the journal's ids. */
const changesOfDriver = (workspaceId: number, driver: string) => sql`(
  select c.thing, c.thing_id from journal_change c
    where c.workspace_id = ${workspaceId} and c.thing in ('assumption', 'adjustment')
      and c.cell = 'head'
      and coalesce(c.after->>'driver', c.before->>'driver') = ${driver}
  union select 'assumption', a.id::text from assumption a
    where a.workspace_id = ${workspaceId} and a.driver = ${driver}
  union select 'adjustment', a.id::text from adjustment a
    where a.workspace_id = ${workspaceId} and a.driver = ${driver})`;

/** The most states that are listed. */
const MOST = 200;

/** The changes that a driver's assumptions went through, the newest first. */
export async function statesOf(
  db: Database,
  workspaceId: number,
  driver: string,
): Promise<DriverState[]> {
  const { rows } = await db.execute<Omit<DriverState, 'at'> & { at: string }>(sql`
    select j.id, to_char(j.at at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.MS"Z"') as at,
      p.name as by, j.what, j.why, count(*)::int as changes
    from journal j
    join journal_change c on c.workspace_id = j.workspace_id and c.journal_id = j.id
    join person p on p.id = j.person_id
    where j.workspace_id = ${workspaceId} and (c.thing, c.thing_id) in ${changesOfDriver(workspaceId, driver)}
    group by j.id, j.at, p.name, j.what, j.why order by j.id desc limit ${MOST}`);
  return rows;
}

/** The cells that differ from a state, as they were in it: the first change since tells it. */
async function cellsAt(
  db: Database,
  workspaceId: number,
  driver: string,
  journalId: number,
  kind: 'assumption' | 'adjustment',
): Promise<Map<string, Map<string, Json>>> {
  const { rows } = await db.execute<{ thing: string; cell: string; before: Json }>(sql`
    select distinct on (c.thing_id, c.cell) c.thing_id as thing, c.cell, c.before
    from journal_change c
    where c.workspace_id = ${workspaceId} and c.thing = ${kind}
      and c.journal_id > ${journalId} and (c.thing, c.thing_id) in ${changesOfDriver(workspaceId, driver)}
    order by c.thing_id, c.cell, c.journal_id, c.place`);
  const things = new Map<string, Map<string, Json>>();
  for (const { thing, cell, before } of rows) {
    const cells = things.get(thing) ?? new Map<string, Json>();
    things.set(thing, cells.set(cell, before));
  }
  return things;
}

/** Makes things of a driver what they were after a record. @returns what became of each */
async function restore(
  tx: Database,
  actor: Actor,
  code: string,
  journalId: number,
  kind: 'assumption' | 'adjustment',
  record: number,
): Promise<ThingChange[]> {
  const thing = kind === 'assumption' ? assumptionThing : adjustmentThing;
  const then = await cellsAt(tx, actor.workspaceId, code, journalId, kind);
  const ids = [...then.keys()];
  const assumptionsNow = await thing.read(tx, actor.workspaceId, ids);
  const list = ids.map((id) => {
    const now = assumptionsNow.get(id) ?? null;
    const all: [string, Json][] = Object.entries({
      ...now,
      ...Object.fromEntries(then.get(id) ?? []),
    });
    const left = all.filter(([, value]) => value !== null);
    const next: Cells | null = left.length > 0 ? Object.fromEntries(left) : null;
    return { id, now, next };
  });
  await thing.write(tx, actor, list, record);
  return list;
}

/**
 * Brings a driver's assumptions back to what they were right after a record of the journal, as one
 * change that can be taken back itself.
 * @throws HttpProblem 404 for a record that did not change this driver, 400 where what was assumed
 *   then is outside the bounds of now
 */
export async function bringBack(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  code: string,
  journalId: number,
): Promise<{ changes: number }> {
  const { workspaceId } = actor;
  return changingPlan(connections, plans, actor, 'drivers', async (tx, record, loaded) => {
    const { plan, model } = loaded;
    const driver = mustDriver(plan.drivers, code);
    const state = (await statesOf(tx, workspaceId, code)).find(({ id }) => id === journalId);
    if (!state) throw notFound('such state of this driver');
    const naming = { tree: model.tree, drivers: plan.drivers };
    const touched = await restore(tx, actor, code, journalId, 'assumption', record.journalId);
    const laid = await restore(tx, actor, code, journalId, 'adjustment', record.journalId);
    const ids = touched.map(({ id }) => Number(id));
    const after = await assumptionsOf(tx, workspaceId, { ids });
    const problems = after.flatMap((row) => problemsAt('assumption', row, plan));
    if (problems.length > 0) throw badPlan(problems);
    const rows = new Map(after.map((row) => [row.id, row]));
    for (const { id, now, next } of touched) {
      const row = rows.get(Number(id)) ?? loaded.assumption(Number(id));
      if (!row) continue;
      record.changed(
        'assumption',
        id,
        now,
        next,
        assumptionNames(row, naming.tree, naming.drivers),
      );
    }
    for (const { id, now, next } of laid) {
      const row = (next ?? now)?.['head'] as unknown as Adjustment | undefined;
      if (!row) continue;
      record.changed('adjustment', id, now, next, adjustmentName(row, naming.tree, naming.drivers));
    }
    record.say(`Restored ${driver.name} to: ${state.what}`);
    return { changes: record.changes.length };
  });
}
