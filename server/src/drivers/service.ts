import type {
  Conflict,
  CopyScope,
  DriverChange,
  KeptAdjustment,
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
  changeProblems,
  refuseValue,
  STREAM_WEIGHTS,
  typedThere,
  typeInto as coreTypeInto,
  type Adjustment,
  type Assumption,
  type AssumptionRules,
  type Driver,
  type Model,
  type Plan,
  type Problem,
} from '@dravex/core';
import { MemberCodes } from '../dimensions/codes.ts';
import { readPlan, type LoadedPlan, type Plans } from '../forecast/plans.ts';
import { mustPlan, type Actor } from '../people/actor.ts';
import { journaled, type Recorder } from '../journal/service.ts';
import type { Connections, Database } from '../platform/database.ts';
import { badPlan, badRequest, changedMeanwhile, conflict, notFound } from '../platform/errors.ts';
import { deleteDriver, isBuiltIn, putDriver } from './own.ts';
import * as store from './store.ts';
import {
  adjustmentCells,
  adjustmentName,
  assumptionCells,
  assumptionNames,
  driverCells,
  driverName,
} from './thing.ts';

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

/** Why a grid cannot take what is typed: unknown members, closed months, values outside the bounds. */
function typingProblems(
  driver: Driver,
  input: Typing,
  model: Model,
): (Problem & { path: string })[] {
  const { calendar } = model.plan;
  const closed = monthFrom(calendar.closedThrough);
  const problems: (Problem & { path: string })[] = [];
  const place = (path: string, scope: Scope, month: string): boolean => {
    const strange = scope.find((member) => !model.tree.has(member));
    if (strange !== undefined) {
      const message = `There is no member ${strange}`;
      const at = scope.indexOf(strange);
      problems.push({ code: 'unknown-member', message, where: {}, path: `${path}.scope.${at}` });
    }
    const at = monthFrom(month);
    const open = at > closed && at <= monthFrom(calendar.last);
    if (!open) {
      const message =
        at <= closed
          ? `${month} is closed; assumptions are typed for open months`
          : `${month} is outside the horizon, ${calendar.first} to ${calendar.last}`;
      problems.push({ code: 'month-closed', message, where: { month }, path: `${path}.month` });
    }
    return strange === undefined && open;
  };
  const value = (path: string, number: number | null): void => {
    const refusal = number === null ? undefined : refuseValue(driver, number);
    if (refusal) problems.push({ ...refusal, path });
  };
  input.values.forEach((typed, index) => {
    place(`values.${index}`, typed.scope, typed.month);
    value(`values.${index}.value`, typed.value);
  });
  input.totals.forEach((typed, index) => place(`totals.${index}`, typed.scope, typed.month));
  const placed = input.changes.filter((typed, index) =>
    place(`changes.${index}`, typed.scope, typed.month),
  );
  for (const { place: at, ...problem } of changeProblems(model, driver.code, placed)) {
    const index = input.changes.indexOf(placed[at] ?? { ...EMPTY_CHANGE });
    problems.push({ ...problem, path: `changes.${index}.by` });
  }
  return problems;
}
const EMPTY_CHANGE: Typing['changes'][number] = { scope: [], month: '', kind: 'plus', by: 0 };

/** Cells whose value is not what was seen: somebody else typed there meanwhile. */
function conflictsOf(driver: string, input: Typing, loaded: LoadedPlan): Conflict[] {
  const { model } = loaded;
  const conflicts: Conflict[] = [];
  input.values.forEach(({ scope, month, saw, value }, index) => {
    if (saw === undefined) return;
    const typed = typedThere(model, driver, scope, month);
    const now = typed?.value ?? null;
    if (now === saw || now === value) return;
    const row =
      loaded.adjustment(typed?.adjustment ?? 0) ?? loaded.assumption(typed?.assumption ?? 0);
    const { by = '', at = '' } = row ?? {};
    conflicts.push({ path: `values.${index}`, saw, now, by, at });
  });
  const shown = (path: string, scope: Scope, month: string, saw: number | null, total?: number) => {
    const { value: now } = explainDriver(model, { kind: 'driver', driver, scope, month });
    const finest = total === undefined ? 1e-12 : 5e-4;
    if (sameNumber(now, saw, finest)) return;
    if (total !== undefined && sameNumber(now, total, finest)) return;
    // Nobody, where what was there has been taken back.
    const { by = '', at = '' } =
      [...loaded.plan.assumptions, ...loaded.plan.adjustments]
        .filter((row) => row.driver === driver)
        .toSorted((a, b) => a.at.localeCompare(b.at))
        .at(-1) ?? {};
    conflicts.push({ path, saw, now, by, at });
  };
  input.totals.forEach(({ scope, month, saw, total }, index) => {
    if (saw !== undefined) shown(`totals.${index}`, scope, month, saw, total);
  });
  input.changes.forEach(({ scope, month, saw }, index) => {
    if (saw !== undefined) shown(`changes.${index}`, scope, month, saw);
  });
  return conflicts;
}

/** Numbers that were added up in another order are the same; totals are kept in thousandths. */
function sameNumber(a: number | null, b: number | null, finest: number): boolean {
  if (a === null || b === null) return a === b;
  return Math.abs(a - b) <= Math.max(finest, 1e-9 * Math.abs(a));
}

/** What was typed, in a sentence. */
function typingInWords(
  { name, kind }: Driver,
  { values, totals, changes }: Typing,
  tree: MemberTree,
): string {
  const [first] = [...values, ...totals, ...changes];
  const count = values.length + totals.length + changes.length;
  if (!first || count > 1) return `Typed ${count} numbers of ${name}`;
  const where = `${name}, ${tree.label(first.scope)}, ${first.month}`;
  const [changed] = changes;
  if (!changed) return `${totals.length > 0 ? 'Spread' : 'Typed'} ${where}`;
  const points =
    kind === 'percent' ? `${Number((changed.by * 100).toPrecision(12))} pt` : changed.by;
  const by = changed.kind === 'times' ? `× ${changed.by}` : `+ ${points}`;
  return `Changed each value of ${where} by ${by}`;
}

/**
 * Takes in what was typed into a driver's grid, all or none: totals are spread over the streams below
 * as they stand now, changes are laid over whatever holds. The edit is made from the model that the
 * server holds; the result names every row as it is kept.
 * @throws HttpProblem 409 with both values where somebody else typed meanwhile
 */
export async function typeInto(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  driverCode: string,
  input: Typing,
): Promise<TypingResult> {
  mustPlan(actor);
  const { workspaceId, personId } = actor;
  // Read before the lock is taken: under it only what was typed since is taken in.
  await plans.current(workspaceId);
  return journaled(connections, actor, 'drivers', async (tx, record) => {
    const loaded = await plans.current(workspaceId, tx);
    const { model } = loaded;
    const { drivers } = model.plan;
    const driver = mustDriver(drivers, driverCode);
    if (input.totals.length > 0 && !addsOverStreams(driver)) {
      throw badRequest('Totals of this driver are means and cannot be spread; type it at a scope');
    }
    const problems = typingProblems(driver, input, model);
    if (problems.length > 0) throw badPlan(problems);
    const conflicts = conflictsOf(driverCode, input, loaded);
    if (conflicts.length > 0) throw changedMeanwhile(conflicts);
    const edit = coreTypeInto(model, driverCode, input);
    const beyond = edit.put.flatMap((row) => problemsAt('values', row, model.plan));
    if (beyond.length > 0) throw badPlan(beyond);
    const naming = { tree: model.tree, drivers };
    await store.deleteAssumptions(tx, workspaceId, edit.drop);
    const changed = edit.put.filter(({ id }) => id < FRESH_ID);
    for (const row of changed) await store.updateAssumption(tx, workspaceId, personId, row);
    const note = (id: number, after: Assumption | null): void => {
      const row = loaded.assumption(id);
      if (!row) return;
      const cells = after && assumptionCells(after);
      const names = assumptionNames(row, model.tree, drivers);
      record.changed('assumption', id, assumptionCells(row), cells, names);
    };
    for (const row of changed) note(row.id, row);
    for (const id of edit.drop) note(id, null);
    const fresh = edit.put.filter(({ id }) => id >= FRESH_ID);
    const ids = await addAssumptions(tx, actor, fresh, naming, record);
    const { put: laid = [], drop: lifted = [] } = edit.adjustments ?? {};
    await dropAdjustments(
      tx,
      actor,
      lifted.flatMap((id) => loaded.adjustment(id) ?? []),
      naming,
      record,
    );
    const moved = laid.filter(({ id }) => id < FRESH_ID);
    for (const row of moved) {
      const { by: _, at: __, ...before } = loaded.adjustment(row.id) ?? { ...row, by: '', at: '' };
      await store.setAdjustment(tx, workspaceId, personId, row);
      const name = adjustmentName(row, model.tree, drivers);
      record.changed('adjustment', row.id, adjustmentCells(before), adjustmentCells(row), name);
    }
    const added = laid.filter(({ id }) => id >= FRESH_ID);
    const laidIds = [
      ...moved.map(({ id }) => id),
      ...(await addAdjustments(tx, actor, added, naming, record)),
    ];
    record.say(typingInWords(driver, input, model.tree), input.why);
    const put = await store.assumptionsOf(tx, workspaceId, {
      ids: [...changed.map(({ id }) => id), ...ids],
    });
    const journal = record.changes.length > 0 ? record.journalId : null;
    const adjustments = {
      put: await store.adjustmentsOf(tx, workspaceId, { ids: laidIds }),
      drop: [...lifted],
    };
    return { put, drop: [...edit.drop], adjustments, revision: record.revision, journal };
  });
}

interface Naming {
  readonly tree: MemberTree;
  readonly drivers: readonly Driver[];
}

/** Keeps new adjustments and writes them down. @returns their ids, in the same order */
async function addAdjustments(
  tx: Database,
  { workspaceId, personId }: Actor,
  rows: readonly Adjustment[],
  { tree, drivers }: Naming,
  record: Recorder,
): Promise<number[]> {
  const ids = await store.insertAdjustments(tx, workspaceId, personId, rows);
  rows.forEach((row, index) => {
    const id = ids[index] ?? 0;
    const name = adjustmentName(row, tree, drivers);
    record.changed('adjustment', id, null, adjustmentCells({ ...row, id }), name);
  });
  return ids;
}

/** Drops adjustments and writes that down. */
async function dropAdjustments(
  tx: Database,
  { workspaceId }: Actor,
  rows: readonly KeptAdjustment[],
  { tree, drivers }: Naming,
  record: Recorder,
): Promise<void> {
  await store.deleteAdjustments(
    tx,
    workspaceId,
    rows.map(({ id }) => id),
  );
  for (const { by: _, at: __, ...row } of rows) {
    const name = adjustmentName(row, tree, drivers);
    record.changed('adjustment', row.id, adjustmentCells(row), null, name);
  }
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
    mustWeigh(input, plan);
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
    const fixed = (['name', 'unit', 'choices', 'formula', 'nature', 'weight'] as const).find(
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
    mustWeigh(after, plan);
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

/** @throws HttpProblem 400 for a weight that is no driver, or the driver itself */
function mustWeigh({ code, name, weight }: Driver, plan: Plan): void {
  if (!weight || (STREAM_WEIGHTS as readonly string[]).includes(weight)) return;
  if (weight !== code && plan.drivers.some((other) => other.code === weight)) return;
  const message =
    weight === code
      ? `${name} cannot be weighted by itself`
      : `There is no driver "${weight}" to weigh ${name} by`;
  throw badRequest(message, [{ path: 'weight', message }]);
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
    const naming = { tree: model.tree, drivers: plan.drivers };
    const laid = plan.adjustments.filter((adjustment) => adjustment.driver === code);
    await dropAdjustments(tx, actor, laid, naming, record);
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
