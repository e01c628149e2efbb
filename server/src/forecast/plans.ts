import type { WorkspacePlan } from '@dravex/contract';
import {
  actualFacts,
  compile,
  evaluate,
  forecastFacts,
  type Driver,
  type FactColumns,
  type Facts,
  type Model,
} from '@dravex/core';
import { actualColumns } from '../actuals/read-lines.ts';
import { measures, observations } from '../facts/store.ts';
import { combinationsOf, dimensionsOf } from '../dimensions/store.ts';
import { driversOf } from '../drivers/own.ts';
import { assumptionsOf } from '../drivers/store.ts';
import { inTransaction, type Connections, type Database } from '../platform/database.ts';
import { notFound } from '../platform/errors.ts';
import { workspaceById } from '../workspaces/store.ts';
import { calendarOf } from './calendar.ts';
import { overridesOf, streamsOf } from './store.ts';

/** A workspace's plan with its computed model. */
export interface LoadedPlan extends WorkspacePlan {
  readonly model: Model;
  /** The plan's sales by combination and month. */
  readonly actual: Facts;
  /** Actuals of closed months and the forecast of open ones. */
  readonly forecast: Facts;
}

/** Reads everything the core needs, as one moment of the database. */
export async function readPlan(db: Database, workspaceId: number): Promise<WorkspacePlan> {
  const workspace = await workspaceById(db, workspaceId);
  if (!workspace) throw notFound('such workspace');
  const dimensions = await dimensionsOf(db, workspaceId);
  const combinations = await combinationsOf(db, workspaceId);
  const assumptions = await assumptionsOf(db, workspaceId);
  const streams = await streamsOf(db, workspaceId);
  const forecast = new Set(streams.map(({ combination }) => combination));
  // What is typed over a stream that is gone rests until the stream is back.
  const overrides = (await overridesOf(db, workspaceId)).filter(({ combination }) =>
    forecast.has(combination),
  );
  const drivers = await driversOf(db, workspaceId);
  const actuals = await actualColumns(db, workspaceId);
  const facts = await historyFacts(db, workspaceId, drivers, workspace);
  return {
    name: workspace.name,
    locale: workspace.locale,
    revision: workspace.revision,
    plan: {
      calendar: calendarOf(workspace),
      currency: { code: workspace.currencyCode, minorDigits: workspace.minorDigits },
      dimensions,
      combinations,
      drivers,
      assumptions,
      streams,
      actuals,
      overrides,
      facts,
    },
  };
}

/** The measured facts that drivers take their history from, over the closed months. */
async function historyFacts(
  db: Database,
  workspaceId: number,
  drivers: readonly Driver[],
  { firstMonth, closedThrough }: { firstMonth: string; closedThrough: string },
): Promise<FactColumns[]> {
  const wanted = new Set(
    drivers.flatMap(({ history }) => (history ? [history.measure, history.per] : [])),
  );
  if (wanted.size === 0) return [];
  const natures = new Map(
    (await measures(db, workspaceId)).map(({ code, nature }) => [code, nature]),
  );
  const rows = await observations(db, workspaceId, firstMonth, closedThrough);
  const found = new Map<string, { months: string[]; values: number[]; row: (typeof rows)[0] }>();
  for (const row of rows) {
    if (!wanted.has(row.measure)) continue;
    const key = JSON.stringify([row.measure, row.members]);
    const own = found.get(key) ?? { months: [], values: [], row };
    found.set(key, own);
    own.months.push(row.month);
    own.values.push(row.value);
  }
  return [...found.values()].map(({ months, values, row: { measure, members } }) => ({
    measure,
    nature: natures.get(measure) ?? 'flow',
    scope: members,
    months,
    values,
  }));
}

/** The most workspaces whose plan is kept in memory. */
const KEPT = 8;

/** Plans by workspace, kept while their revision is the newest. */
export class Plans {
  readonly #kept = new Map<number, LoadedPlan>();

  constructor(private readonly connections: Connections) {}

  /** The plan as it is now. @throws HttpProblem 404 */
  async current(workspaceId: number): Promise<LoadedPlan> {
    const workspace = await workspaceById(this.connections.db, workspaceId);
    if (!workspace) throw notFound('such workspace');
    const known = this.#kept.get(workspaceId);
    if (known?.revision === workspace.revision) return known;
    const loaded = await inTransaction(this.connections, async (tx) => {
      await tx.execute('set transaction isolation level repeatable read, read only');
      return readPlan(tx, workspaceId);
    });
    const model = evaluate(compile(loaded.plan));
    const actual = actualFacts(loaded.plan);
    const plan = { ...loaded, model, actual, forecast: forecastFacts(model, actual) };
    this.#kept.delete(workspaceId);
    this.#kept.set(workspaceId, plan);
    const [oldest] = this.#kept.keys();
    if (this.#kept.size > KEPT && oldest !== undefined) this.#kept.delete(oldest);
    return plan;
  }
}
