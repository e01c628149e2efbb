import type { newLineSchema } from '@dravex/contract';
import { monthFrom, typeBudget, type BudgetCell, type TypedMeasure } from '@dravex/core';
import type { z } from 'zod';
import { MemberCodes } from '../dimensions/codes.ts';
import { nameCombinations } from '../dimensions/made.ts';
import { journaled } from '../journal/service.ts';
import { mustPlan, type Actor } from '../people/actor.ts';
import type { Plans } from '../plan/plans.ts';
import type { Connections } from '../platform/database.ts';
import { badRequest, conflict } from '../platform/errors.ts';
import { openVersion, writeCells } from './entries.ts';
import { cellsNow } from './store.ts';

/**
 * Adds a line that an open version does not plan yet: its units, revenue and cost divided exactly
 * over months that are alike.
 * @throws HttpProblem 400 for members that are not there and months outside of the version; 404; 409
 *   where the version plans it, or takes no more entries
 */
export async function addLine(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  versionId: number,
  { members: named, from, to, why, ...totals }: z.output<typeof newLineSchema>,
): Promise<{ scope: number[]; cells: number }> {
  mustPlan(actor);
  const { workspaceId } = actor;
  const { plan, model } = await plans.current(workspaceId);
  const unknown = Object.keys(named).find(
    (code) => !plan.dimensions.some((dimension) => dimension.code === code),
  );
  if (unknown !== undefined) {
    const message = `There is no dimension "${unknown}"`;
    throw badRequest(message, [{ path: `members.${unknown}`, message }]);
  }
  const { members, problems } = new MemberCodes(plan.dimensions).leaves((code) => named[code]);
  const errors = problems.map(({ dimension, message }) => ({
    path: `members.${dimension}`,
    message,
  }));
  if (errors.length > 0) throw badRequest(errors[0]?.message ?? '', errors);
  return journaled(connections, actor, 'budget', async (tx, record) => {
    const version = await openVersion(tx, workspaceId, versionId, [{ from, to }]);
    const [combination = 0] = await nameCombinations(
      tx,
      workspaceId,
      [members],
      model.tree,
      record,
    );
    const label = model.tree.label(members);
    const there = await cellsNow(tx, workspaceId, versionId, { combinations: [combination] });
    // What was entered once and taken back plans nothing.
    if (there.some(({ units, revenue, cost }) => units !== 0 || revenue !== 0 || cost)) {
      throw conflict(`${version.name} plans ${label} already; enter its numbers in the table`);
    }
    const months = Array.from({ length: monthFrom(to) - monthFrom(from) + 1 }, (_, at) => at);
    let cells: BudgetCell[] = months.map((at) => ({
      ...{ combination, month: monthFrom(from) + at, units: 0, revenue: 0, cost: null },
    }));
    const enter = (measure: TypedMeasure, total: number): void => {
      const changed = typeBudget(cells, { measure, total, basis: 'equal' });
      const byMonth = new Map(changed.map((cell) => [cell.month, cell]));
      cells = cells.map((cell) => byMonth.get(cell.month) ?? cell);
    };
    enter('units', totals.units);
    enter('revenue', totals.revenue);
    if (totals.cost !== null) enter('cost', totals.cost);
    await writeCells(
      tx,
      workspaceId,
      versionId,
      cells.map((cell) => ({ cell, old: undefined })),
      { name: version.name, tree: model.tree, members: new Map([[combination, members]]) },
      record,
    );
    record.say(`Added ${label} to ${version.name}`, why);
    return { scope: members, cells: cells.length };
  });
}
