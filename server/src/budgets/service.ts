import type { NewVersion, Version, VersionCells } from '@dravex/contract';
import {
  factsFromRows,
  forecastFacts,
  keepForecast,
  monthFrom,
  monthText,
  type Facts,
  type BudgetCell,
  type Plan,
} from '@dravex/core';
import { ensureCombinations } from '../dimensions/store.ts';
import type { LoadedPlan, Plans } from '../forecast/plans.ts';
import { mustPlan, type Actor } from '../people/actor.ts';
import { inTransaction, type Connections } from '../platform/database.ts';
import { badRequest, conflict, isTaken, notFound } from '../platform/errors.ts';
import { raiseRevision } from '../workspaces/store.ts';
import { readCells, type FileCell } from './read-cells.ts';
import * as store from './store.ts';

export function listVersions({ db }: Connections, { workspaceId }: Actor): Promise<Version[]> {
  return store.versions(db, workspaceId);
}

/** @throws HttpProblem 404 */
export async function cellsOf(
  { db }: Connections,
  { workspaceId }: Actor,
  versionId: number,
): Promise<VersionCells> {
  const cells = await store.versionCells(db, workspaceId, versionId);
  if (!cells) throw notFound('such version');
  return cells;
}

/** A version laid out over a plan, for tables and comparisons. @throws HttpProblem 404 */
export async function versionFacts(
  connections: Connections,
  actor: Actor,
  plan: Plan,
  versionId: number,
): Promise<Facts> {
  const cells = await cellsOf(connections, actor, versionId);
  const rows = cells.combination.map((combination, i) => ({
    combination,
    month: monthFrom(cells.month[i] ?? ''),
    units: cells.units[i] ?? 0,
    revenue: cells.revenue[i] ?? 0,
    cost: cells.cost[i] ?? null,
  }));
  return factsFromRows(plan, rows);
}

/** @throws HttpProblem 400 for months outside the plan */
function checkMonths({ plan }: LoadedPlan, { from, to }: { from: string; to: string }): void {
  const { first, last } = plan.calendar;
  for (const [path, month] of Object.entries({ from, to })) {
    if (month < first || month > last) {
      const message = `${month} is outside the horizon, ${first} to ${last}`;
      throw badRequest(message, [{ path, message }]);
    }
  }
}

async function keep(
  connections: Connections,
  actor: Actor,
  input: NewVersion,
  toRows: (
    ensure: (members: readonly (readonly number[])[]) => Promise<number[]>,
  ) => Promise<readonly BudgetCell[]>,
): Promise<number> {
  const { workspaceId, personId } = actor;
  try {
    return await inTransaction(connections, async (tx) => {
      await raiseRevision(tx, workspaceId);
      const id = await store.insertVersion(tx, {
        workspaceId,
        name: input.name,
        fromMonth: `${input.from}-01`,
        toMonth: `${input.to}-01`,
        note: input.note,
        createdBy: personId,
      });
      const rows = await toRows((members) => ensureCombinations(tx, workspaceId, members));
      await store.insertCells(tx, workspaceId, id, rows);
      return id;
    });
  } catch (error) {
    if (isTaken(error)) {
      throw conflict(`There is a version "${input.name}" already; choose another name`, 'name');
    }
    throw error;
  }
}

/**
 * Keeps the forecast as it stands under a name, each cell rounded to the cent; closed months with
 * their actuals.
 * @returns the version's id, and how many cells had to be left out because an input is missing
 */
export async function keepVersion(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  input: NewVersion,
): Promise<{ id: number; missing: number }> {
  mustPlan(actor);
  const loaded = await plans.current(actor.workspaceId);
  checkMonths(loaded, input);
  const span = { from: monthFrom(input.from), to: monthFrom(input.to) };
  const { rows, missing } = keepForecast(
    forecastFacts(loaded.model),
    span,
    loaded.plan.currency.minorDigits,
  );
  if (rows.length === 0) throw badRequest('The forecast has nothing in these months to keep');
  const id = await keep(connections, actor, input, () => Promise.resolve(rows));
  return { id, missing };
}

/** Takes in a version's cells from a file, all or none; its span is that of the file. */
export async function importVersion(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  name: string,
  bytes: Buffer,
): Promise<{ id: number }> {
  mustPlan(actor);
  const loaded = await plans.current(actor.workspaceId);
  const { plan } = loaded;
  const cells = readCells(bytes, plan.dimensions, plan.currency.minorDigits);
  const months = cells.map(({ month }) => month);
  const input = {
    name,
    from: monthText(months.reduce((a, b) => Math.min(a, b))),
    to: monthText(months.reduce((a, b) => Math.max(a, b))),
    note: '',
  };
  checkMonths(loaded, input);
  const id = await keep(connections, actor, input, async (ensure) => {
    const ids = await ensure(cells.map(({ members }) => members));
    return cells.map(({ members: _, ...cell }: FileCell, index) => ({
      ...cell,
      combination: ids[index] ?? 0,
    }));
  });
  return { id };
}
