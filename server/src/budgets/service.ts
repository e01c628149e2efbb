import type { NewVersion, VersionCells } from '@dravex/contract';
import {
  fiscalYearOf,
  fiscalYearSpan,
  figuresFromRows,
  inColumns,
  keepForecast,
  keepSubscribers,
  keptSubscriberFigures,
  monthFrom,
  monthText,
  movementColumns,
  plannedMovements,
  type Figures,
  type KeptSubscribers,
  type BudgetCell,
  type Plan,
  type SubscriberFigures,
  type VersionAt,
} from '@dravex/core';
import { nameCombinations } from '../dimensions/made.ts';
import type { LoadedPlan, Plans } from '../plan/plans.ts';
import { mustPlan, type Actor } from '../people/actor.ts';
import { journaled } from '../journal/service.ts';
import type { Connections, Database } from '../platform/database.ts';
import { badRequest, conflict, isTaken } from '../platform/errors.ts';
import { readCells, type FileCell } from './read-cells.ts';
import * as store from './store.ts';
import { versionAt } from './versions.ts';
import { insertSubscribers, subscribersOf, typedSums } from './subscriber-store.ts';
import { versionCells, versionNames } from './thing.ts';

/** The cells of a version as they are, or were at a moment. @throws HttpProblem 400, 404 */
export async function cellsOf(
  { db }: Connections,
  { workspaceId }: Actor,
  versionId: number,
  at?: string,
): Promise<VersionCells> {
  await versionAt(db, workspaceId, { id: versionId, at });
  const cells = await store.cellsNow(db, workspaceId, versionId, { at });
  const touched = cells.flatMap(({ entries }, place) => (entries > 0 ? [place] : []));
  const subscribers = await subscribersOf(db, workspaceId, versionId, at);
  if (!subscribers) return { ...inColumns(cells), touched };
  const typed = new Set(
    (await typedSums(db, workspaceId, versionId, at)).map(
      (sum) => `${sum.combination} ${sum.month}`,
    ),
  );
  const typedSubscribers = subscribers.combination.flatMap((id, place) =>
    typed.has(`${id} ${subscribers.month[place] ?? ''}`) ? [place] : [],
  );
  return { ...inColumns(cells), touched, subscribers, typedSubscribers };
}

/** A version laid out over a plan, for tables and comparisons. @throws HttpProblem 404 */
export async function versionFigures(
  { db }: Pick<Connections, 'db'>,
  { workspaceId }: Pick<Actor, 'workspaceId'>,
  plan: Plan,
  version: VersionAt,
): Promise<Figures> {
  const { id } = await versionAt(db, workspaceId, version);
  const { at } = version;
  return figuresFromRows(plan, await store.cellsNow(db, workspaceId, id, { at }));
}

/** The subscriptions that were kept with a version, laid out over a plan; undefined without any. */
export async function versionSubscribers(
  { db }: Pick<Connections, 'db'>,
  { workspaceId }: Pick<Actor, 'workspaceId'>,
  { model }: Pick<LoadedPlan, 'model'>,
  { id, at }: VersionAt,
): Promise<SubscriberFigures | undefined> {
  const kept = await subscribersOf(db, workspaceId, id, at);
  return kept && keptSubscriberFigures(model, kept);
}

/** @throws HttpProblem 400 for months outside the plan */
export function checkMonths(
  { plan }: LoadedPlan,
  { from, to }: { from: string; to: string },
): void {
  const { first, last } = plan.calendar;
  for (const [path, month] of Object.entries({ from, to })) {
    if (month < first || month > last) {
      const message = `${month} is outside the horizon, ${first} to ${last}`;
      throw badRequest(message, [{ path, message }]);
    }
  }
}

type Ensure = (members: readonly (readonly number[])[]) => Promise<number[]>;

/** The fiscal year that months are, whole; of a year without a budget they become it. */
function wholeYear({ from, to }: { from: string; to: string }, fiscalStart: number): number | null {
  const year = fiscalYearOf(monthFrom(to), fiscalStart);
  const whole = fiscalYearSpan(year, fiscalStart);
  return monthText(whole.from) === from && monthText(whole.to) === to ? year : null;
}

/** Keeps cells, and subscriptions, as a new version. @throws HttpProblem 409 for a name that is taken */
export async function keep<T>(
  connections: Connections,
  { plan: { calendar }, model }: LoadedPlan,
  actor: Actor,
  input: NewVersion,
  say: string,
  holds: (
    ensure: Ensure,
    tx: Database,
  ) => Promise<{ readonly cells: readonly BudgetCell[]; readonly subscribers?: KeptSubscribers }>,
  answer: (id: number) => T,
): Promise<T> {
  const { workspaceId, personId } = actor;
  return journaled(connections, actor, 'budget', async (tx, record) => {
    const year = wholeYear(input, calendar.fiscalStart);
    const budgetOf = (await store.budgetOfYear(tx, workspaceId, year)) ? null : year;
    const id = await insertNamed(tx, {
      workspaceId,
      name: input.name,
      fromMonth: `${input.from}-01`,
      toMonth: `${input.to}-01`,
      note: input.note,
      budgetOf,
      createdBy: personId,
    });
    const ensure: Ensure = (members) =>
      nameCombinations(tx, workspaceId, members, model.tree, record);
    const { cells, subscribers } = await holds(ensure, tx);
    await store.insertCells(tx, workspaceId, id, cells);
    if (subscribers) await insertSubscribers(tx, workspaceId, id, subscribers);
    const now = versionCells({ name: input.name, note: input.note, state: 'open', budgetOf });
    record.changed('version', id, null, now, versionNames(input.name));
    record.say(say);
    return answer(id);
  });
}

/** @throws HttpProblem 409 for a name that is taken */
async function insertNamed(
  tx: Database,
  row: Parameters<typeof store.insertVersion>[1],
): Promise<number> {
  try {
    return await store.insertVersion(tx, row);
  } catch (error) {
    if (!isTaken(error)) throw error;
    throw conflict(`There is a version "${row.name}" already; choose another name`, 'name');
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
  const { rows, missing } = keepForecast(loaded.forecast, span, loaded.plan.currency.minorDigits);
  if (rows.length === 0) throw badRequest('The forecast has nothing in these months to keep');
  return keep(
    connections,
    loaded,
    actor,
    input,
    `Kept the forecast as ${input.name}`,
    () => Promise.resolve({ cells: rows, subscribers: keepSubscribers(loaded.model, span) }),
    (id) => ({ id, missing }),
  );
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
  const cells = await readCells(bytes, plan.dimensions, plan.currency.minorDigits);
  const months = cells.map(({ month }) => month);
  const input = {
    name,
    from: monthText(months.reduce((a, b) => Math.min(a, b))),
    to: monthText(months.reduce((a, b) => Math.max(a, b))),
    note: '',
  };
  checkMonths(loaded, input);
  return keep(
    connections,
    loaded,
    actor,
    input,
    `Imported ${name} from a file`,
    async (ensure) => {
      const ids = await ensure(cells.map(({ members }) => members));
      const placed = cells.map(({ members: _, ...cell }: FileCell, index) => ({
        ...cell,
        combination: ids[index] ?? 0,
      }));
      const planned = placed.flatMap(({ planned: one, combination, month }) =>
        one ? [{ ...one, combination, month }] : [],
      );
      return { cells: placed, subscribers: movementColumns(plannedMovements(planned).rows) };
    },
    (id) => ({ id }),
  );
}
