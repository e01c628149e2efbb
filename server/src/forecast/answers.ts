/** What is read of the forecast: the plan, what changed of it, and its tables. */
import {
  readsAllOf,
  type Changes,
  type MeasuredAddress,
  type TableAddress,
  type WorkspacePlan,
} from '@dravex/contract';
import {
  measuredTable,
  rollUp,
  MEASURES,
  subscriberFigures,
  withKept,
  type Figures,
  type MeasuredQuery,
  type MeasuredTable,
  type Span,
  type Table,
  type TableQuery,
} from '@dravex/core';
import { readRecordedMonths } from '../facts/subscribers.ts';
import { withWeeks } from '../actuals/weeks.ts';
import { versionFigures, versionSubscribers } from '../budgets/service.ts';
import { versionById } from '../budgets/versions.ts';
import type { Actor } from '../people/actor.ts';
import { keptMonths } from '../closing/store.ts';
import type { Connections, Database } from '../platform/database.ts';
import { Shared } from '../platform/shared.ts';
import { workspaceById } from '../workspaces/store.ts';
import { checkFrame, columnCount, mustBeReadable, windowOf } from '../plan/frame.ts';
import { changedSince, type LoadedPlan, type Plans } from '../plan/plans.ts';

/**
 * The whole plan for the browser's worker. Whoever has a part of the targets gets what one needs to
 * read them: the calendar, the currency and the names of members; no number of anything.
 */
export async function planFor(plans: Plans, { workspaceId, role }: Actor): Promise<WorkspacePlan> {
  const { name, locale, revision, plan, loaded } = await plans.current(workspaceId);
  const { calendar, currency, dimensions } = plan;
  const nothing = { combination: [], month: [], units: [], revenue: [], cost: [] };
  const shown = readsAllOf(role)
    ? plan
    : {
        ...{ calendar, currency, dimensions, actuals: nothing },
        ...{ drivers: [], combinations: [], streams: [], assumptions: [], adjustments: [] },
      };
  return { name, locale, revision, closedMonths: loaded.closedMonths, plan: shown };
}

/** What changed since a revision: small edits as they are now, or that all has to be read anew. */
export async function changesSince(
  { lasting: { db } }: Connections,
  { workspaceId }: Actor,
  since: number,
): Promise<Changes> {
  const workspace = await workspaceById(db, workspaceId);
  const revision = workspace?.revision ?? since;
  // Everybody who looks hears of a write at once, and asks the same: it is read once for all.
  const shared = SHARED.get(db) ?? new Shared<Changes>();
  SHARED.set(db, shared);
  return shared.of(`${workspaceId} ${since} ${revision}`, () =>
    changesUpTo(db, workspaceId, since, revision),
  );
}

/** Answers that many ask for at the same time, of each database. */
const SHARED = new WeakMap<Database, Shared<Changes>>();

async function changesUpTo(
  db: Database,
  workspaceId: number,
  since: number,
  revision: number,
): Promise<Changes> {
  const { affected, edit, versions } = await changedSince(db, workspaceId, since);
  return {
    revision,
    whole: affected.has('plan'),
    put: edit.put,
    drop: [...edit.drop],
    adjustments: edit.adjustments,
    overrides: edit.overrides,
    versions: [...versions],
    targets: affected.has('target'),
  };
}

/** The table an address asks for: of the forecast line, or of a kept version. */
export async function tableFor(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  address: TableAddress,
): Promise<{ table: Table; query: TableQuery; version: string }> {
  const loaded = await plans.current(actor.workspaceId);
  checkFrame(loaded, address.rows, address.scope, address.columns);
  const span = windowOf(loaded.plan.calendar, address);
  const wide = columnCount(loaded, address.columns, span, address.grain, 1);
  mustBeReadable(loaded, address.rows, address.scope, wide);
  const figures =
    address.version === undefined
      ? await forecastLine(connections, actor, loaded, { ...address, span })
      : await versionFigures(connections, actor, loaded.plan, {
          id: address.version,
          at: address.at,
        });
  const query: TableQuery = {
    measure: address.measure,
    rows: address.rows,
    columns: address.columns,
    scope: address.scope,
    span,
    grain: address.grain,
  };
  const table = rollUp(figures, loaded.model.tree, query, loaded.plan.calendar.fiscalStart);
  return { table, query, version: await versionName(connections, actor, address) };
}

/** The forecast line, with its weeks and what was kept of closed months where an address wants them. */
export async function forecastLine(
  connections: Connections,
  { workspaceId }: Pick<Actor, 'workspaceId'>,
  loaded: LoadedPlan,
  address: Pick<TableAddress, 'origin' | 'grain' | 'closed'> & { readonly span: Span },
): Promise<Figures> {
  const line = loaded.figures('forecast', address.origin);
  const figures = await withWeeks(connections, workspaceId, loaded, line, address);
  return address.closed === 'kept'
    ? withKept(figures, loaded.plan, await keptMonths(connections.db, workspaceId))
    : figures;
}

/** What the numbers of a table are, for the columns of a file. */
async function versionName(
  { db }: Connections,
  { workspaceId }: Actor,
  { version, closed, at }: Pick<TableAddress, 'version' | 'closed' | 'at'>,
): Promise<string> {
  if (version !== undefined) {
    const { name } = await versionById(db, workspaceId, version);
    return at === undefined ? name : `${name} at ${at}`;
  }
  return closed === 'kept' ? 'Forecast kept at close' : 'Forecast';
}

/** The table of several measures that an address asks for. */
export async function measuredFor(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  address: MeasuredAddress,
): Promise<{ table: MeasuredTable; query: MeasuredQuery; version: string }> {
  const loaded = await plans.current(actor.workspaceId);
  const { measures, rows, columns, scope, grain, order } = address;
  checkFrame(loaded, rows, scope, columns === 'measures' ? 'time' : columns);
  const span = windowOf(loaded.plan.calendar, address);
  const wide = columnCount(loaded, columns, span, grain, measures.length);
  const lines = columns === 'measures' ? 1 : measures.length;
  mustBeReadable(loaded, rows, scope, wide, lines);
  const figures =
    address.version === undefined
      ? await forecastLine(connections, actor, loaded, { ...address, span })
      : await versionFigures(connections, actor, loaded.plan, {
          id: address.version,
          at: address.at,
        });
  const query: MeasuredQuery = {
    measures,
    rows,
    columns,
    scope,
    grain,
    span,
    empty: address.empty === 'yes',
    order,
  };
  const { model, plan } = loaded;
  const { fiscalStart } = plan.calendar;
  const kept =
    address.version === undefined
      ? undefined
      : await versionSubscribers(connections, actor, loaded, {
          id: address.version,
          at: address.at,
        });
  const subscribed = measures.some((code) => MEASURES[code].making.kind === 'subscription');
  const recorded = subscribed ? await readRecordedMonths(connections, actor) : undefined;
  const subscribers = () =>
    address.version === undefined ? subscriberFigures(model, recorded) : kept;
  return {
    table: measuredTable(figures, loaded.market, model.tree, query, fiscalStart, subscribers),
    query,
    version: await versionName(connections, actor, address),
  };
}
