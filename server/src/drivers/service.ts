import type {
  Conflict,
  KeptAssumption,
  NewAssumptions,
  Typing,
  TypingResult,
} from '@dravex/contract';
import {
  addsOverStreams,
  checkAssumption,
  compile,
  DRIVERS,
  explainDriver,
  FRESH_ID,
  monthFrom,
  spreadTyped,
  typedAt,
  typeValues,
  type Assumption,
  type AssumptionRules,
  type MemberTree,
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
import { badPlan, badRequest, changedMeanwhile, notFound } from '../platform/errors.ts';
import * as store from './store.ts';
import { assumptionCells, assumptionNames } from './thing.ts';

/** Problems of one assumption, each with its path in the request. */
function problemsAt(
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
    return addAssumptions(tx, actor, rows, codes.tree, record);
  });
}

/** Keeps new assumptions and writes them down. @returns their ids, in the same order */
export async function addAssumptions(
  tx: Database,
  { workspaceId, personId }: Actor,
  rows: readonly Omit<Assumption, 'id'>[],
  tree: MemberTree,
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
      assumptionNames(row, tree),
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
function typingInWords(driver: string, { values, totals }: Typing, tree: MemberTree): string {
  const name = DRIVERS.find(({ code }) => code === driver)?.name ?? driver;
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
  if (!DRIVERS.some(({ code }) => code === driverCode)) throw notFound(`driver "${driverCode}"`);
  if (input.totals.length > 0 && !addsOverStreams(driverCode)) {
    throw badRequest('Totals of this driver are means and cannot be spread; type it at a scope');
  }
  return journaled(connections, actor, 'drivers', async (tx, record) => {
    const { plan } = await readPlan(tx, workspaceId);
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
      const names = assumptionNames(row, model.tree);
      record.changed('assumption', id, assumptionCells(row), cells, names);
    };
    for (const row of changed) note(row.id, row);
    for (const id of drop) note(id, null);
    const fresh = put.filter(({ id }) => id >= FRESH_ID);
    const ids = await addAssumptions(tx, actor, fresh, model.tree, record);
    record.say(typingInWords(driverCode, input, model.tree), input.why);
    const kept = await store.assumptionsOf(tx, workspaceId, {
      ids: [...changed.map(({ id }) => id), ...ids],
    });
    const journal = record.changes.length > 0 ? record.journalId : null;
    return { put: kept, drop: [...drop], revision: record.revision, journal };
  });
}
