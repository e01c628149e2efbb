/** What is typed into a driver's grid: checked, compared with what was seen, and kept. */
import type { Conflict, Typing, TypingResult } from '@dravex/contract';
import {
  addsOverStreams,
  changeProblems,
  explainDriver,
  FRESH_ID,
  monthFrom,
  refuseValue,
  typedThere,
  typingInto,
  type Assumption,
  type Driver,
  type MemberTree,
  type Model,
  type Problem,
  type Scope,
} from '@dravex/core';
import { changingPlan } from '../plan/changing-plan.ts';
import type { LoadedPlan, Plans } from '../plan/plans.ts';
import type { Actor } from '../people/actor.ts';
import type { Connections } from '../platform/database.ts';
import { badPlan, badRequest, changedMeanwhile } from '../platform/errors.ts';
import { afterOthers, inTurns, pausesFor } from '../platform/pauses.ts';
import { addAdjustments, dropAdjustments } from './adjustments.ts';
import { addAssumptions, mustDriver, problemsAt } from './assumptions.ts';
import * as store from './store.ts';
import { adjustmentCells, adjustmentName, assumptionCells, assumptionNames } from './thing.ts';

/** What looking for a number that stands there costs, in cells of a table. */
const LOOKED_AT = 50;

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
          ? `${month} is closed; drivers are entered for open months`
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
async function conflictsOf(driver: string, input: Typing, loaded: LoadedPlan): Promise<Conflict[]> {
  const { model } = loaded;
  const pause = pausesFor();
  const conflicts: Conflict[] = [];
  let latest: { readonly by?: string; readonly at?: string } | undefined;
  for (const [index, { scope, month, saw, value }] of input.values.entries()) {
    if (saw === undefined) continue;
    await pause(LOOKED_AT);
    const typed = typedThere(model, driver, scope, month);
    const now = typed?.value ?? null;
    if (now === saw || now === value) continue;
    const row =
      loaded.adjustment(typed?.adjustment ?? 0) ?? loaded.assumption(typed?.assumption ?? 0);
    const { by = '', at = '' } = row ?? {};
    conflicts.push({ path: `values.${index}`, saw, now, by, at });
  }
  const shown = (path: string, scope: Scope, month: string, saw: number | null, total?: number) => {
    const { value: now } = explainDriver(model, { kind: 'driver', driver, scope, month });
    const finest = total === undefined ? 1e-12 : 5e-4;
    if (sameNumber(now, saw, finest)) return;
    if (total !== undefined && sameNumber(now, total, finest)) return;
    // Nobody, where what was there has been taken back.
    latest ??=
      [...loaded.plan.assumptions, ...loaded.plan.adjustments]
        .filter((row) => row.driver === driver)
        .toSorted((a, b) => a.at.localeCompare(b.at))
        .at(-1) ?? {};
    const { by = '', at = '' } = latest;
    conflicts.push({ path, saw, now, by, at });
  };
  for (const [index, { scope, month, saw, total }] of input.totals.entries()) {
    await pause(LOOKED_AT);
    if (saw !== undefined) shown(`totals.${index}`, scope, month, saw, total);
  }
  for (const [index, { scope, month, saw }] of input.changes.entries()) {
    await pause(LOOKED_AT);
    if (saw !== undefined) shown(`changes.${index}`, scope, month, saw);
  }
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
  const { workspaceId, personId } = actor;
  return changingPlan(connections, plans, actor, 'drivers', async (tx, record, loaded) => {
    const { model } = loaded;
    const { drivers } = model.plan;
    const driver = mustDriver(drivers, driverCode);
    if (input.totals.length > 0 && !addsOverStreams(driver)) {
      throw badRequest('Totals of this driver are means and cannot be spread; type it at a scope');
    }
    const problems = typingProblems(driver, input, model);
    if (problems.length > 0) throw badPlan(problems);
    await afterOthers();
    const conflicts = await conflictsOf(driverCode, input, loaded);
    if (conflicts.length > 0) throw changedMeanwhile(conflicts);
    await afterOthers();
    const edit = await inTurns(typingInto(model, driverCode, input));
    await afterOthers();
    const beyond = edit.put.flatMap((row) => problemsAt('values', row, model.plan));
    if (beyond.length > 0) throw badPlan(beyond);
    const naming = { tree: model.tree, drivers, standing: model.assumptions };
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
