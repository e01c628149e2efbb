/** Drivers added, changed and taken away. */
import type { DriverChange, NewDriver } from '@dravex/contract';
import {
  checkAssumption,
  checkDriver,
  compile,
  saidBySales,
  STREAM_WEIGHTS,
  type Driver,
  type Plan,
} from '@dravex/core';
import { changingPlan } from '../plan/changing-plan.ts';
import type { Plans } from '../plan/plans.ts';
import type { Actor } from '../people/actor.ts';
import type { Connections } from '../platform/database.ts';
import { badPlan, badRequest, conflict } from '../platform/errors.ts';
import { dropAdjustments } from './adjustments.ts';
import { dropAssumptions, mustDriver } from './assumptions.ts';
import { deleteDriver, isBuiltIn, putDriver } from './driver-store.ts';
import { driverCells, driverName } from './thing.ts';

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
  plans: Plans,
  actor: Actor,
  input: NewDriver,
): Promise<{ code: string }> {
  const { workspaceId } = actor;
  return changingPlan(connections, plans, actor, 'drivers', async (tx, record, { plan }) => {
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
  plans: Plans,
  actor: Actor,
  code: string,
  change: DriverChange,
): Promise<void> {
  const { workspaceId } = actor;
  await changingPlan(connections, plans, actor, 'drivers', async (tx, record, { plan }) => {
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
  const which = outside.length > 1 ? `${outside.length} inputs are` : 'An input is';
  throw conflict(`${which} outside these bounds: ${first.message}`);
}

/** Takes a driver of the planner's own away, with its assumptions. @throws HttpProblem 409 */
export async function dropDriver(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  code: string,
): Promise<void> {
  const { workspaceId } = actor;
  await changingPlan(connections, plans, actor, 'drivers', async (tx, record, { plan, model }) => {
    const driver = mustDriver(plan.drivers, code);
    if (isBuiltIn(code)) throw conflict(`${driver.name} is read by methods and stays`);
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
    const naming = { tree: model.tree, drivers: plan.drivers };
    const assumptionsOfDriver = plan.assumptions.filter((assumption) => assumption.driver === code);
    record.changed('driver', code, driverCells(driver), null, driverName(driver));
    await dropAssumptions(tx, actor, assumptionsOfDriver, naming, record);
    const laid = plan.adjustments.filter((adjustment) => adjustment.driver === code);
    await dropAdjustments(tx, actor, laid, naming, record);
    await deleteDriver(tx, workspaceId, code);
    record.say(`Deleted the driver ${driver.name} with ${assumptionsOfDriver.length} inputs`);
    return {};
  });
}
