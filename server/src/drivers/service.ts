import type {
  Conflict,
  CopyScope,
  DriverChange,
  KeptAssumption,
  NewAssumptions,
  NewDriver,
  SetAssumption,
  Typing,
  TypingResult,
} from '@dravex/contract';
import {
  addsOverStreams,
  checkAssumption,
  checkDriver,
  copyScope,
  type CopiedScope,
  type Scope,
  saidBySales,
  compile,
  explainDriver,
  FRESH_ID,
  MemberTree,
  monthFrom,
  spreadTyped,
  typedAt,
  typeValues,
  type Assumption,
  type AssumptionRules,
  type Driver,
  type Model,
  type Plan,
  type Problem,
  type TypedValue,
} from '@dravex/core';
import { MemberCodes } from '../dimensions/codes.ts';
import { readPlan } from '../forecast/plans.ts';
import { mustPlan, type Actor } from '../people/actor.ts';
import { journaled, type Recorder } from '../journal/service.ts';
import type { Connections, Database } from '../platform/database.ts';
import { badPlan, badRequest, changedMeanwhile, conflict, notFound } from '../platform/errors.ts';
import { deleteDriver, isBuiltIn, putDriver } from './own.ts';
import * as store from './store.ts';
import { assumptionCells, assumptionNames, driverCells, driverName } from './thing.ts';

/** @throws HttpProblem 404 */
function mustDriver(drivers: readonly Driver[], code: string): Driver {
  const found = drivers.find((driver) => driver.code === code);
  if (!found) throw notFound(`driver "${code}"`);
  return found;
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
  actor: Actor,
  input: NewAssumptions,
): Promise<number[]> {
  return journaled(connections, actor, 'drivers', async (tx, record) => {
    const { workspaceId } = actor;
    const { plan } = await readPlan(tx, workspaceId);
    const codes = new MemberCodes(plan.dimensions);
    const problems: (Problem & { path: string })[] = [];
    const rows = input.assumptions.map(({ scope: named, ...rest }, index) => {
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
      return row;
    });
    if (problems.length > 0) throw badPlan(problems);
    record.say(`Brought in ${rows.length} assumptions`);
    return addAssumptions(tx, actor, rows, { tree: codes.tree, drivers: plan.drivers }, record);
  });
}

/** Keeps new assumptions and writes them down. @returns their ids, in the same order */
export async function addAssumptions(
  tx: Database,
  { workspaceId, personId }: Actor,
  rows: readonly Omit<Assumption, 'id'>[],
  { tree, drivers }: { readonly tree: MemberTree; readonly drivers: readonly Driver[] },
  record: Recorder,
): Promise<number[]> {
  const ids = await store.insertAssumptions(tx, workspaceId, personId, rows);
  rows.forEach((row, index) => {
    const id = ids[index] ?? 0;
    record.changed(
      'assumption',
      id,
      null,
      assumptionCells({ ...row, id }),
      assumptionNames(row, tree, drivers),
    );
  });
  return ids;
}

/** Why months of a grid cannot be typed into: unknown members, closed months, outside the horizon. */
function typingProblems(driver: string, input: Typing, plan: Plan): (Problem & { path: string })[] {
  const closed = monthFrom(plan.calendar.closedThrough);
  const problems: (Problem & { path: string })[] = [];
  const look = (path: string, { scope, month, value }: TypedValue): void => {
    const values: Record<string, number> = value === null ? {} : { [month]: value };
    const profile = { kind: 'months', values } as const;
    const typed = { driver, scope, from: month, to: month, profile, note: '' };
    problems.push(...problemsAt(path, typed, plan));
    if (monthFrom(month) <= closed) {
      const message = `${month} is closed; assumptions are typed for open months`;
      problems.push({ code: 'month-closed', message, where: { month }, path: `${path}.month` });
    }
  };
  input.values.forEach((typed, index) => look(`values.${index}`, typed));
  input.totals.forEach(({ scope, month, total }, index) =>
    look(`totals.${index}`, { scope, month, value: total }),
  );
  return problems;
}

/** Cells whose value is not what was seen: somebody else typed there meanwhile. */
function conflictsOf(driver: string, input: Typing, model: Model, kept: KeptRows): Conflict[] {
  const conflicts: Conflict[] = [];
  input.values.forEach(({ scope, month, saw, value }, index) => {
    if (saw === undefined) return;
    const typed = typedAt(driver, model.assumptions, scope, month);
    const now = typed?.value ?? null;
    if (now === saw || now === value) return;
    const { by = '', at = '' } = kept.get(typed?.assumption.id ?? 0) ?? {};
    conflicts.push({ path: `values.${index}`, saw, now, by, at });
  });
  input.totals.forEach(({ scope, month, saw, total }, index) => {
    if (saw === undefined) return;
    const { value: now } = explainDriver(model, { kind: 'driver', driver, scope, month });
    if (sameTotal(now, saw) || sameTotal(now, total)) return;
    // Nobody, where what was there has been taken back.
    const { by = '', at = '' } =
      [...kept.values()]
        .filter((row) => row.driver === driver)
        .toSorted((a, b) => a.at.localeCompare(b.at))
        .at(-1) ?? {};
    conflicts.push({ path: `totals.${index}`, saw, now, by, at });
  });
  return conflicts;
}

type KeptRows = ReadonlyMap<number, KeptAssumption>;

/** Totals of thousandths that were added up in another order are the same total. */
function sameTotal(a: number | null, b: number | null): boolean {
  return a === b || (a !== null && b !== null && Math.abs(a - b) < 5e-4);
}

/** What was typed, in a sentence. */
function typingInWords(name: string, { values, totals }: Typing, tree: MemberTree): string {
  const [first] = [...values, ...totals];
  const count = values.length + totals.length;
  if (!first || count > 1) return `Typed ${count} numbers of ${name}`;
  return `${totals.length > 0 ? 'Spread' : 'Typed'} ${name}, ${tree.label(first.scope)}, ${first.month}`;
}

/**
 * Takes in what was typed into a driver's grid, all or none. Totals are spread over the streams
 * below as they stand now; the result names every assumption as it is kept.
 * @throws HttpProblem 409 with both values where somebody else typed meanwhile
 */
export async function typeInto(
  connections: Connections,
  actor: Actor,
  driverCode: string,
  input: Typing,
): Promise<TypingResult> {
  mustPlan(actor);
  const { workspaceId, personId } = actor;
  return journaled(connections, actor, 'drivers', async (tx, record) => {
    const { plan } = await readPlan(tx, workspaceId);
    const { name } = mustDriver(plan.drivers, driverCode);
    if (input.totals.length > 0 && !addsOverStreams(driverCode)) {
      throw badRequest('Totals of this driver are means and cannot be spread; type it at a scope');
    }
    const problems = typingProblems(driverCode, input, plan);
    if (problems.length > 0) throw badPlan(problems);
    const model = compile(plan);
    const before = new Map(plan.assumptions.map((row) => [row.id, row]));
    const conflicts = conflictsOf(driverCode, input, model, before);
    if (conflicts.length > 0) throw changedMeanwhile(conflicts);
    const spread = input.totals.flatMap((total) => spreadTyped(model, driverCode, total));
    const typed = [...input.values, ...spread];
    const { put, drop } = typeValues(driverCode, model.assumptions, typed);
    await store.deleteAssumptions(tx, workspaceId, drop);
    const changed = put.filter(({ id }) => id < FRESH_ID);
    for (const row of changed) await store.updateAssumption(tx, workspaceId, personId, row);
    const note = (id: number, after: Assumption | null): void => {
      const row = before.get(id);
      if (!row) return;
      const cells = after && assumptionCells(after);
      const names = assumptionNames(row, model.tree, plan.drivers);
      record.changed('assumption', id, assumptionCells(row), cells, names);
    };
    for (const row of changed) note(row.id, row);
    for (const id of drop) note(id, null);
    const fresh = put.filter(({ id }) => id >= FRESH_ID);
    const naming = { tree: model.tree, drivers: plan.drivers };
    const ids = await addAssumptions(tx, actor, fresh, naming, record);
    record.say(typingInWords(name, input, model.tree), input.why);
    const kept = await store.assumptionsOf(tx, workspaceId, {
      ids: [...changed.map(({ id }) => id), ...ids],
    });
    const journal = record.changes.length > 0 ? record.journalId : null;
    return { put: kept, drop: [...drop], revision: record.revision, journal };
  });
}

/** What is wrong with a driver in a plan: its bounds, its formula, and circles that it closes. */
function mustFit(driver: Driver, plan: Plan): void {
  const others = plan.drivers.filter(({ code }) => code !== driver.code);
  const drivers = [...others, driver];
  const problems = [
    ...checkDriver(driver),
    ...compile({ ...plan, drivers, assumptions: [], streams: [] }).drivers.problems.filter(
      ({ where }) => where['driver'] === driver.code,
    ),
  ];
  if (problems.length === 0) return;
  throw badPlan(
    problems.map((problem) => ({ ...problem, path: String(problem.where['field'] ?? 'default') })),
  );
}

/** Adds a driver of the planner's own. @throws HttpProblem 400 or 409 */
export function addDriver(
  connections: Connections,
  actor: Actor,
  input: NewDriver,
): Promise<{ code: string }> {
  const { workspaceId } = actor;
  return journaled(connections, actor, 'drivers', async (tx, record) => {
    const { plan } = await readPlan(tx, workspaceId);
    if (plan.drivers.some(({ code }) => code === input.code)) {
      throw conflict(`There is a driver "${input.code}" already`, 'code');
    }
    mustFit(input, plan);
    await putDriver(tx, workspaceId, input);
    record.say(`Added the driver ${input.name}`);
    record.changed('driver', input.code, null, driverCells(input), driverName(input));
    return { code: input.code };
  });
}

/** Changes a driver. @throws HttpProblem 400 with everything that stands in the way */
export async function changeDriver(
  connections: Connections,
  actor: Actor,
  code: string,
  change: DriverChange,
): Promise<void> {
  const { workspaceId } = actor;
  await journaled(connections, actor, 'drivers', async (tx, record) => {
    const { plan } = await readPlan(tx, workspaceId);
    const before = mustDriver(plan.drivers, code);
    const fixed = (['name', 'unit', 'choices', 'formula'] as const).find(
      (field) => change[field] !== undefined,
    );
    if (isBuiltIn(code) && fixed) {
      const message = `${before.name} is read by methods as it is; only its bounds, step, default and history can be changed`;
      throw badRequest(message, [{ path: fixed, message }]);
    }
    const given = Object.fromEntries(
      Object.entries(change).filter(([, value]) => value !== undefined),
    );
    const after: Driver = { ...before, ...given };
    mustBeMeasured(after);
    mustFit(after, plan);
    mustHold(after, plan);
    await putDriver(tx, workspaceId, after);
    record.say(`Changed the driver ${after.name}`);
    record.changed('driver', code, driverCells(before), driverCells(after), driverName(after));
    return {};
  });
}

/** @throws HttpProblem 400 for a history of a driver of which sales lines tell it themselves */
function mustBeMeasured({ code, name, history }: Driver): void {
  if (!history || !saidBySales(code)) return;
  const message = `What ${name.toLowerCase()} was follows from the sales lines; it takes no other history`;
  throw badRequest(message, [{ path: 'history', message }]);
}

/** @throws HttpProblem 409 where an assumption lies outside the bounds that a driver shall have */
function mustHold(driver: Driver, plan: Plan): void {
  const outside = plan.assumptions
    .filter((assumption) => assumption.driver === driver.code)
    .flatMap((assumption) => checkAssumption(assumption, { ...plan, drivers: [driver] }));
  const [first] = outside;
  if (!first) return;
  const more = outside.length > 1 ? `, and ${outside.length - 1} more are` : ' is';
  throw conflict(`What is assumed${more} outside these bounds: ${first.message}`);
}

/** Takes a driver of the planner's own away, with its assumptions. @throws HttpProblem 409 */
export async function dropDriver(
  connections: Connections,
  actor: Actor,
  code: string,
): Promise<void> {
  const { workspaceId } = actor;
  await journaled(connections, actor, 'drivers', async (tx, record) => {
    const { plan } = await readPlan(tx, workspaceId);
    const driver = mustDriver(plan.drivers, code);
    if (isBuiltIn(code)) throw conflict(`${driver.name} is read by methods and stays`);
    const model = compile(plan);
    const formulas = plan.drivers.filter(({ code: other }) =>
      model.drivers.formulas.get(other)?.names.includes(code),
    );
    const streams = model.streams.filter(({ codes }) => codes.includes(code));
    if (formulas.length > 0 || streams.length > 0) {
      const readers = [
        ...formulas.map(({ name }) => `the formula of ${name}`),
        ...streams.slice(0, 3).map(({ combination }) => model.tree.label(combination.members)),
      ];
      throw conflict(
        `${driver.name} is read by ${readers.join(', ')}; let them read another one first`,
      );
    }
    const own = plan.assumptions.filter((assumption) => assumption.driver === code);
    record.changed('driver', code, driverCells(driver), null, driverName(driver));
    for (const row of own) {
      const names = assumptionNames(row, model.tree, plan.drivers);
      record.changed('assumption', row.id, assumptionCells(row), null, names);
    }
    await store.deleteAssumptions(
      tx,
      workspaceId,
      own.map(({ id }) => id),
    );
    await deleteDriver(tx, workspaceId, code);
    record.say(`Took the driver ${driver.name} away, with ${own.length} assumptions`);
    return {};
  });
}

/** Sets an assumption by its whole profile: a new one, or in place of one. */
export function setAssumption(
  connections: Connections,
  actor: Actor,
  code: string,
  { id, ...input }: SetAssumption,
): Promise<{ id: number }> {
  const { workspaceId, personId } = actor;
  return journaled(connections, actor, 'drivers', async (tx, record) => {
    const { plan } = await readPlan(tx, workspaceId);
    const driver = mustDriver(plan.drivers, code);
    const row = { ...input, driver: code };
    const problems = problemsAt('assumption', row, plan);
    if (problems.length > 0) throw badPlan(problems);
    const tree = new MemberTree(plan.dimensions);
    record.say(`Set ${driver.name}, ${tree.label(row.scope)}`, row.note);
    if (id === null) {
      const naming = { tree, drivers: plan.drivers };
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
  actor: Actor,
  code: string,
  id: number,
): Promise<void> {
  const { workspaceId } = actor;
  await journaled(connections, actor, 'drivers', async (tx, record) => {
    const { plan } = await readPlan(tx, workspaceId);
    const driver = mustDriver(plan.drivers, code);
    const before = plan.assumptions.find((one) => one.id === id && one.driver === code);
    if (!before) throw notFound('such assumption');
    const tree = new MemberTree(plan.dimensions);
    await store.deleteAssumptions(tx, workspaceId, [id]);
    const names = assumptionNames(before, tree, plan.drivers);
    record.changed('assumption', id, assumptionCells(before), null, names);
    record.say(`Took an assumption of ${driver.name} away, ${tree.label(before.scope)}`);
    return {};
  });
}

/**
 * Copies what is assumed for one scope, and below it, to another that pins the same dimensions.
 * @throws HttpProblem 400 for scopes of other dimensions, or where there is nothing to copy
 */
export function copyAssumptions(
  connections: Connections,
  actor: Actor,
  { from, into, drivers, why }: CopyScope,
): Promise<{ copied: number; replaced: number }> {
  return journaled(connections, actor, 'drivers', async (tx, record) => {
    const { workspaceId } = actor;
    const { plan } = await readPlan(tx, workspaceId);
    const tree = new MemberTree(plan.dimensions);
    for (const [path, scope] of Object.entries({ from, into })) {
      const strange = scope.find((member) => !tree.has(member));
      if (strange !== undefined) {
        const message = `There is no member ${strange}`;
        throw badRequest(message, [{ path, message }]);
      }
    }
    const known = drivers ?? plan.drivers.map(({ code }) => code);
    for (const code of known) mustDriver(plan.drivers, code);
    const { put, drop } = copied(plan.assumptions, tree, from, into, known);
    if (put.length === 0) {
      const message = `Nothing is assumed for ${tree.label(from)} itself`;
      throw badRequest(message, [{ path: 'from', message }]);
    }
    const problems = put.flatMap((row, index) => problemsAt(`assumptions.${index}`, row, plan));
    if (problems.length > 0) throw badPlan(problems);
    const rows = new Map(plan.assumptions.map((row) => [row.id, row]));
    for (const id of drop) {
      const row = rows.get(id);
      if (!row) continue;
      const names = assumptionNames(row, tree, plan.drivers);
      record.changed('assumption', id, assumptionCells(row), null, names);
    }
    await store.deleteAssumptions(tx, workspaceId, drop);
    await addAssumptions(tx, actor, put, { tree, drivers: plan.drivers }, record);
    record.say(
      `Copied ${put.length} assumptions of ${tree.label(from)} to ${tree.label(into)}`,
      why,
    );
    return { copied: put.length, replaced: drop.length };
  });
}

function copied(
  assumptions: readonly Assumption[],
  tree: MemberTree,
  from: Scope,
  into: Scope,
  drivers: readonly string[],
): CopiedScope {
  try {
    return copyScope(assumptions, tree, from, into, new Set(drivers));
  } catch (error) {
    if (!(error instanceof RangeError)) throw error;
    throw badRequest(error.message, [{ path: 'into', message: error.message }]);
  }
}
