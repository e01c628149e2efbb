import type { NewAssumptions, Typing, TypingResult } from '@dravex/contract';
import {
  addsOverStreams,
  AssumptionSet,
  checkAssumption,
  compile,
  DRIVERS,
  FRESH_ID,
  monthFrom,
  spreadTyped,
  typeValues,
  type Assumption,
  type AssumptionRules,
  type Plan,
  type Problem,
  type TypedValue,
} from '@dravex/core';
import { MemberCodes } from '../dimensions/codes.ts';
import { readPlan } from '../forecast/plans.ts';
import { mustPlan, type Actor } from '../people/actor.ts';
import { inTransaction, type Connections } from '../platform/database.ts';
import { badPlan, badRequest, notFound } from '../platform/errors.ts';
import { raiseRevision } from '../workspaces/store.ts';
import * as store from './store.ts';

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
  mustPlan(actor);
  const { workspaceId, personId } = actor;
  return inTransaction(connections, async (tx) => {
    await raiseRevision(tx, workspaceId);
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
    return store.insertAssumptions(tx, workspaceId, personId, rows);
  });
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

/**
 * Takes in what was typed into a driver's grid, all or none. Totals are spread over the streams
 * below as they stand now; the result names every assumption as it is kept.
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
  return inTransaction(connections, async (tx) => {
    const revision = await raiseRevision(tx, workspaceId);
    const { plan } = await readPlan(tx, workspaceId);
    const problems = typingProblems(driverCode, input, plan);
    if (problems.length > 0) throw badPlan(problems);
    const model = input.totals.length > 0 ? compile(plan) : undefined;
    const spread = input.totals.flatMap((total) =>
      model ? spreadTyped(model, driverCode, total) : [],
    );
    const { put, drop } = typeValues(driverCode, new AssumptionSet(plan.assumptions), [
      ...input.values,
      ...spread,
    ]);
    await store.deleteAssumptions(tx, workspaceId, drop);
    const changed = put.filter(({ id }) => id < FRESH_ID);
    for (const row of changed) await store.updateAssumption(tx, workspaceId, personId, row);
    const fresh = put.filter(({ id }) => id >= FRESH_ID);
    const ids = await store.insertAssumptions(tx, workspaceId, personId, fresh);
    const kept = await store.assumptionsOf(tx, workspaceId, {
      ids: [...changed.map(({ id }) => id), ...ids],
    });
    return { put: kept, drop, revision };
  });
}
