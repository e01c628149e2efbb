/** Assumptions: brought in, set, dropped and copied, each as one change of the journal. */
import type { CopyScope, NewAssumptions, SetAssumption } from '@dravex/contract';
import {
  checkAssumption,
  copyScope,
  crowded,
  MOST_AT_SCOPE,
  scopeKey,
  type Assumption,
  type AssumptionSet,
  type AssumptionRules,
  type CopiedScope,
  type Driver,
  type MemberTree,
  type Problem,
  type Scope,
  type SetForScopes,
} from '@dravex/core';
import { MemberCodes } from '../dimensions/codes.ts';
import { changingPlan } from '../plan/changing-plan.ts';
import type { Plans } from '../plan/plans.ts';
import type { Recorder } from '../journal/service.ts';
import type { Actor } from '../people/actor.ts';
import type { Connections, Database } from '../platform/database.ts';
import { badPlan, badRequest, notFound } from '../platform/errors.ts';
import { pausesFor } from '../platform/pauses.ts';
import { addAdjustments, dropAdjustments, type Naming } from './adjustments.ts';
import * as store from './store.ts';
import { assumptionCells, assumptionNames } from './thing.ts';

/** Taking in an input, in cells of a table. */
const INPUT_IS_AS_LONG_AS = 10;

/** The driver of a code. @throws HttpProblem 404 */
export function mustDriver(drivers: readonly Driver[], code: string): Driver {
  const driver = drivers.find((driver) => driver.code === code);
  if (!driver) throw notFound(`driver "${code}"`);
  return driver;
}

/** Problems of one assumption, each with its path in the request. */
export function problemsAt(
  path: string,
  assumption: Omit<Assumption, 'id'>,
  rules: AssumptionRules,
): (Problem & { path: string })[] {
  return checkAssumption(assumption, rules).map((problem) => ({
    ...problem,
    path: `${path}.${String(problem.where['field'] ?? '')}`,
  }));
}

/** Brings in assumptions that name members by code, all or none. */
export async function createAssumptions(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  input: NewAssumptions,
): Promise<number[]> {
  return changingPlan(connections, plans, actor, 'drivers', async (tx, record, { plan, model }) => {
    const codes = new MemberCodes(plan.dimensions);
    const problems: (Problem & { path: string })[] = [];
    const rows: Omit<Assumption, 'id'>[] = [];
    const pause = pausesFor();
    for (const [index, { scope: named, ...rest }] of input.assumptions.entries()) {
      const path = `assumptions.${index}`;
      const scope = Object.entries(named).flatMap(([dimension, code]) => {
        const id = codes.find(dimension, code);
        if (id !== undefined) return [id];
        const message = `There is no member "${code}" in "${dimension}"`;
        const place = `${path}.scope.${dimension}`;
        problems.push({ code: 'unknown-member', message, where: {}, path: place });
        return [];
      });
      const row = { ...rest, scope };
      problems.push(...problemsAt(path, row, plan));
      rows.push(row);
      await pause(INPUT_IS_AS_LONG_AS);
    }
    if (problems.length > 0) throw badPlan(problems);
    record.say(`Added ${rows.length} inputs`);
    const naming = { tree: codes.tree, drivers: plan.drivers, standing: model.assumptions };
    return addAssumptions(tx, actor, rows, naming, record);
  });
}

/** A new assumption at whose scope more would stand than may. */
function crowdedBy(
  rows: readonly Omit<Assumption, 'id'>[],
  standing: AssumptionSet,
): Omit<Assumption, 'id'> | undefined {
  const counts = new Map<string, number>();
  return rows.find(({ driver, scope }) => {
    const key = `${driver} ${scopeKey(scope)}`;
    const before = counts.get(key) ?? [...standing.at(driver, scope)].length;
    counts.set(key, before + 1);
    return before >= MOST_AT_SCOPE;
  });
}

/**
 * Keeps new assumptions and writes them down.
 * @returns their ids, in the same order
 * @throws HttpProblem 400 for more than stand at one scope
 */
export async function addAssumptions(
  tx: Database,
  { workspaceId, personId }: Actor,
  rows: readonly Omit<Assumption, 'id'>[],
  { tree, drivers, standing }: Naming & { readonly standing: AssumptionSet },
  record: Recorder,
): Promise<number[]> {
  const ids = await store.insertAssumptions(tx, workspaceId, personId, rows);
  const full = crowdedBy(rows, standing);
  if (full) throw badPlan([crowded(mustDriver(drivers, full.driver).name, tree.label(full.scope))]);
  record.worked(1);
  const pause = pausesFor();
  for (const [index, row] of rows.entries()) {
    const id = ids[index] ?? 0;
    record.changed(
      'assumption',
      id,
      null,
      assumptionCells({ ...row, id }),
      assumptionNames(row, tree, drivers),
    );
    await pause(INPUT_IS_AS_LONG_AS);
  }
  return ids;
}

/** Drops assumptions and writes that down. */
export async function dropAssumptions(
  tx: Database,
  { workspaceId }: Actor,
  rows: readonly Assumption[],
  { tree, drivers }: Naming,
  record: Recorder,
): Promise<void> {
  await store.deleteAssumptions(
    tx,
    workspaceId,
    rows.map(({ id }) => id),
  );
  for (const row of rows) {
    const names = assumptionNames(row, tree, drivers);
    record.changed('assumption', row.id, assumptionCells(row), null, names);
  }
}

/** Sets an assumption by its whole profile: a new one, or in place of one. */
export function setAssumption(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  code: string,
  { id, ...input }: SetAssumption,
): Promise<{ id: number }> {
  const { workspaceId, personId } = actor;
  return changingPlan(connections, plans, actor, 'drivers', async (tx, record, loaded) => {
    const { plan, model } = loaded;
    const { tree } = model;

    const driver = mustDriver(plan.drivers, code);
    const row = { ...input, driver: code };
    const problems = problemsAt('assumption', row, plan);
    if (problems.length > 0) throw badPlan(problems);
    record.say(`Set ${driver.name}, ${tree.label(row.scope)}`, row.note);
    if (id === null) {
      const naming = { tree, drivers: plan.drivers, standing: model.assumptions };
      const [made = 0] = await addAssumptions(tx, actor, [row], naming, record);
      return { id: made };
    }
    const before = plan.assumptions.find((one) => one.id === id && one.driver === code);
    if (!before) throw notFound('such assumption');
    await store.updateAssumption(tx, workspaceId, personId, { ...row, id });
    const names = assumptionNames(row, tree, plan.drivers);
    record.changed(
      'assumption',
      id,
      assumptionCells(before),
      assumptionCells({ ...row, id }),
      names,
    );
    return { id };
  });
}

/** Takes an assumption away. @throws HttpProblem 404 */
export async function dropAssumption(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  code: string,
  id: number,
): Promise<void> {
  await changingPlan(connections, plans, actor, 'drivers', async (tx, record, loaded) => {
    const { plan, model } = loaded;
    const { tree } = model;

    const driver = mustDriver(plan.drivers, code);
    const before = plan.assumptions.find((one) => one.id === id && one.driver === code);
    if (!before) throw notFound('such assumption');
    await dropAssumptions(tx, actor, [before], { tree, drivers: plan.drivers }, record);
    record.say(`Removed an input of ${driver.name}, ${tree.label(before.scope)}`);
    return {};
  });
}

/**
 * Copies what is assumed for one scope, and below it, to another that pins the same dimensions.
 * @throws HttpProblem 400 for scopes of other dimensions, or where there is nothing to copy
 */
export function copyAssumptions(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  { from, into, drivers, why }: CopyScope,
): Promise<{ copied: number; replaced: number }> {
  return changingPlan(connections, plans, actor, 'drivers', async (tx, record, loaded) => {
    const { plan, model } = loaded;
    const { tree } = model;
    for (const [path, scope] of Object.entries({ from, into })) {
      const strange = scope.find((member) => !tree.has(member));
      if (strange !== undefined) {
        const message = `There is no member ${strange}`;
        throw badRequest(message, [{ path, message }]);
      }
    }
    const codes = drivers ?? plan.drivers.map(({ code }) => code);
    for (const code of codes) mustDriver(plan.drivers, code);
    const copies = copiesOf(plan, tree, from, into, codes);
    const copied = copies.assumptions.put.length + copies.adjustments.put.length;
    if (copied === 0) {
      const message = `There are no inputs for ${tree.label(from)} itself`;
      throw badRequest(message, [{ path: 'from', message }]);
    }
    const { put } = copies.assumptions;
    const problems = put.flatMap((row, index) => problemsAt(`assumptions.${index}`, row, plan));
    if (problems.length > 0) throw badPlan(problems);
    const naming = { tree, drivers: plan.drivers, standing: model.assumptions };
    const gone = copies.assumptions.drop.flatMap((id) => loaded.assumption(id) ?? []);
    const lifted = copies.adjustments.drop.flatMap((id) => loaded.adjustment(id) ?? []);
    await dropAssumptions(tx, actor, gone, naming, record);
    await dropAdjustments(tx, actor, lifted, naming, record);
    await addAssumptions(tx, actor, put, naming, record);
    await addAdjustments(tx, actor, copies.adjustments.put, naming, record);
    const what = copied === 1 ? '1 input' : `${copied} inputs`;
    record.say(`Copied ${what} of ${tree.label(from)} to ${tree.label(into)}`, why);
    return { copied, replaced: gone.length + lifted.length };
  });
}

function copiesOf(
  kept: SetForScopes,
  tree: MemberTree,
  from: Scope,
  into: Scope,
  drivers: readonly string[],
): CopiedScope {
  try {
    return copyScope(kept, tree, from, into, new Set(drivers));
  } catch (error) {
    if (!(error instanceof RangeError)) throw error;
    throw badRequest(error.message, [{ path: 'into', message: error.message }]);
  }
}
