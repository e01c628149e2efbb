import type {
  Changes,
  DeleteStreams,
  DropOverrides,
  NewStreams,
  NewStreamSettings,
  ProposeStreams,
  SetMethod,
  MeasuredAddress,
  TableAddress,
  TypeOver,
  WorkspacePlan,
} from '@dravex/contract';
import {
  compile,
  evaluate,
  forecastTotal,
  MemberTree,
  METHODS,
  modelProblems,
  proposeStreams,
  measuredTable,
  type MeasuredQuery,
  type MeasuredTable,
  rollUp,
  spreadOverride,
  type Plan,
  type Stream,
  type StreamSettings,
  type Table,
  type TableQuery,
} from '@dravex/core';
import { versionById, versionFacts } from '../budgets/service.ts';
import { MemberCodes } from '../dimensions/codes.ts';
import { dimensionsOf, ensureCombinations } from '../dimensions/store.ts';
import { mustPlan, type Actor } from '../people/actor.ts';
import { addAssumptions } from '../drivers/service.ts';
import { journaled, type Recorder } from '../journal/service.ts';
import type { Connections, Database } from '../platform/database.ts';
import {
  badPlan,
  badRequest,
  changedMeanwhile,
  conflict,
  isTaken,
  notFound,
} from '../platform/errors.ts';
import { workspaceById } from '../workspaces/store.ts';
import { checkFrame, columnCount, mustBeReadable, windowOf } from './frame.ts';
import { changedSince, readPlan, type Plans } from './plans.ts';
import {
  deleteOverrides,
  deleteStreams,
  insertStreams,
  putOverrides,
  updateStream,
} from './store.ts';
import { overrideCells, overrideId, overrideName, streamCells, streamName } from './thing.ts';

/** The whole plan for the browser's worker. Both roles there are see everything. */
export async function planFor(plans: Plans, actor: Actor): Promise<WorkspacePlan> {
  const { name, locale, revision, plan } = await plans.current(actor.workspaceId);
  return { name, locale, revision, plan };
}

/** Makes streams for combinations named by codes, all or none. */
export async function createStreams(
  connections: Connections,
  actor: Actor,
  input: NewStreams,
): Promise<{ streams: number }> {
  mustPlan(actor);
  const { workspaceId } = actor;
  const codes = new MemberCodes(await dimensionsOf(connections.db, workspaceId));
  const errors: { path: string; message: string }[] = [];
  const wanted = input.streams.map(({ members: named }, index) => {
    const { members, problems } = codes.leaves((code) => named[code]);
    for (const { dimension, message } of problems) {
      errors.push({ path: `streams.${index}.members.${dimension}`, message });
    }
    return members;
  });
  if (errors.length > 0) throw badRequest(errors[0]?.message ?? '', errors.slice(0, 100));
  return journaled(connections, actor, 'forecast', async (tx, record) => {
    const combinations = await ensureCombinations(tx, workspaceId, wanted);
    const known = new Map(wanted.map((members, index) => [members.join(), combinations[index]]));
    const settings = input.streams.map(({ settings: given }, index) =>
      withCombinations(given, (named, path) => {
        const { members, problems } = codes.leaves((code) => named[code]);
        const id = problems.length > 0 ? undefined : known.get(members.join());
        if (id === undefined) {
          const message = problems[0]?.message ?? 'The stream that it reads is not among these';
          throw badRequest(message, [{ path: `streams.${index}.settings.${path}`, message }]);
        }
        return id;
      }),
    );
    const streams = combinations.map((combination, index) => ({
      combination,
      members: wanted[index] ?? [],
      method: input.streams[index]?.method ?? ('volumePrice' as const),
      settings: settings[index] ?? {},
    }));
    await addStreams(tx, workspaceId, streams, codes.tree, record);
    record.say(`Made ${wanted.length} streams`);
    return { streams: wanted.length };
  });
}

/** Settings with combinations in place of the members that name them. */
function withCombinations(
  { attached, formula, ...rest }: NewStreamSettings,
  idOf: (members: Readonly<Record<string, string>>, path: string) => number,
): StreamSettings {
  return {
    ...rest,
    ...(attached
      ? {
          attached: {
            combination: idOf(attached.members, 'attached.members'),
            from: attached.from,
            to: attached.to,
          },
        }
      : {}),
    ...(formula
      ? {
          formula: {
            ...formula,
            names: formula.names.map(({ members, ...name }, place) => ({
              ...name,
              combination: idOf(members, `formula.names.${place}.members`),
            })),
          },
        }
      : {}),
  };
}

/** Keeps new streams and writes them down. @throws HttpProblem 409 where there is one already */
async function addStreams(
  tx: Database,
  workspaceId: number,
  streams: readonly (Omit<Stream, 'id'> & { readonly members: readonly number[] })[],
  tree: MemberTree,
  record: Recorder,
): Promise<void> {
  const rows = streams.map(({ combination, method, settings }) => ({
    workspaceId,
    combinationId: combination,
    method,
    settings: settings ?? {},
  }));
  try {
    const ids = await insertStreams(tx, rows);
    streams.forEach((stream, index) => {
      const name = streamName(stream.members, tree);
      record.changed('stream', ids[index] ?? 0, null, streamCells(stream), name);
    });
  } catch (error) {
    if (isTaken(error)) throw conflict('One of these combinations has a stream already');
    throw error;
  }
}

/** Makes streams for whatever was sold lately and is not forecast, as the core proposes them. */
export function streamsFromSales(
  connections: Connections,
  actor: Actor,
  { combinations }: ProposeStreams,
): Promise<{ streams: number }> {
  const { workspaceId } = actor;
  return journaled(connections, actor, 'forecast', async (tx, record) => {
    const { plan } = await readPlan(tx, workspaceId);
    const wanted = combinations && new Set(combinations);
    const proposed = proposeStreams(plan).filter(
      ({ combination }) => wanted?.has(combination) ?? true,
    );
    if (wanted && proposed.length < wanted.size) {
      const strange = [...wanted].find((id) => !proposed.some((one) => one.combination === id));
      throw badRequest(
        `Combination ${strange} was not sold in the last twelve closed months, or is forecast already`,
        [{ path: 'combinations', message: `${strange} cannot be made a stream` }],
      );
    }
    if (proposed.length === 0) {
      throw conflict(
        'Everything that was sold in the last twelve closed months is forecast already',
      );
    }
    const members = new Map(plan.combinations.map((c) => [c.id, c.members]));
    const tree = new MemberTree(plan.dimensions);
    const streams = proposed.map(({ combination }) => ({
      combination,
      method: 'volumePrice' as const,
      members: members.get(combination) ?? [],
    }));
    await addStreams(tx, workspaceId, streams, tree, record);
    const assumptions = proposed.flatMap((stream) => stream.assumptions);
    await addAssumptions(tx, actor, assumptions, { tree, drivers: plan.drivers }, record);
    record.say(`Made ${streams.length} streams from what was sold`);
    return { streams: streams.length };
  });
}

/**
 * Problems of streams that make a method unfit to be set. What is missing can be typed later, and a
 * new product has no history.
 */
const UNFIT: ReadonlySet<string> = new Set(['circle', 'unknown-driver', 'method']);

/** The problems of streams that a plan would have, by what they say. */
function unfitFor(plan: Plan, ids: ReadonlySet<number>) {
  return modelProblems(evaluate(compile(plan))).filter(
    ({ code, where }) => UNFIT.has(code) && ids.has(Number(where['stream'])),
  );
}

/**
 * Forecasts streams by another method.
 * @throws HttpProblem 400 with everything that stands in the way, each with its stream
 */
export function setMethod(
  connections: Connections,
  actor: Actor,
  { streams, method, settings, overrides }: SetMethod,
): Promise<{ streams: number }> {
  const { workspaceId } = actor;
  return journaled(connections, actor, 'forecast', async (tx, record) => {
    const { plan } = await readPlan(tx, workspaceId);
    const wanted = new Set(streams);
    const chosen = plan.streams.filter(({ id }) => wanted.has(id));
    if (chosen.length < wanted.size) throw notFound('one of these streams');
    const next = plan.streams.map((one) =>
      wanted.has(one.id) ? { ...one, method, settings } : one,
    );
    const before = new Set(unfitFor(plan, wanted).map(({ message }) => message));
    const problems = unfitFor({ ...plan, streams: next }, wanted).filter(
      ({ message }) => !before.has(message),
    );
    if (problems.length > 0) {
      throw badPlan(problems.map((found) => ({ ...found, path: 'settings' })));
    }
    const tree = new MemberTree(plan.dimensions);
    const members = new Map(plan.combinations.map((c) => [c.id, c.members]));
    const own = new Set(chosen.map(({ combination }) => combination));
    const typed = (plan.overrides ?? []).filter(({ combination }) => own.has(combination));
    if (overrides === 'drop') dropAll(typed, plan, record);
    if (overrides === 'drop') await deleteOverrides(tx, workspaceId, typed);
    for (const stream of chosen) {
      const after = { ...stream, method, settings };
      await updateStream(tx, workspaceId, after);
      const name = streamName(members.get(stream.combination) ?? [], tree);
      record.changed('stream', stream.id, streamCells(stream), streamCells(after), name);
    }
    record.say(
      `${METHODS[method].name} for ${chosen.length === 1 ? tree.label(members.get(chosen[0]?.combination ?? 0) ?? []) : `${chosen.length} streams`}`,
    );
    return { streams: chosen.length };
  });
}

/**
 * Deletes streams. What is assumed for them stays, and what is typed over them rests until they are
 * back.
 * @throws HttpProblem 409 where another stream reads one of them
 */
export function removeStreams(
  connections: Connections,
  actor: Actor,
  { streams }: DeleteStreams,
): Promise<{ streams: number }> {
  const { workspaceId } = actor;
  return journaled(connections, actor, 'forecast', async (tx, record) => {
    const { plan } = await readPlan(tx, workspaceId);
    const wanted = new Set(streams);
    const gone = plan.streams.filter(({ id }) => wanted.has(id));
    if (gone.length < wanted.size) throw notFound('one of these forecast lines');
    const tree = new MemberTree(plan.dimensions);
    const members = new Map(plan.combinations.map((c) => [c.id, c.members]));
    const label = (combination: number): string => tree.label(members.get(combination) ?? []);
    const combinations = new Set(gone.map(({ combination }) => combination));
    for (const stream of plan.streams) {
      if (wanted.has(stream.id)) continue;
      const reads = METHODS[stream.method].reads?.(stream) ?? [];
      const read = reads.find(
        ({ combination }) => combination !== stream.combination && combinations.has(combination),
      );
      if (!read) continue;
      throw conflict(
        `${label(stream.combination)} follows ${label(read.combination)}; let it follow another one first`,
        'streams',
      );
    }
    await deleteStreams(
      tx,
      workspaceId,
      gone.map(({ id }) => id),
    );
    for (const stream of gone) {
      const name = streamName(members.get(stream.combination) ?? [], tree);
      record.changed('stream', stream.id, streamCells(stream), null, name);
    }
    const [first] = gone;
    record.say(
      gone.length === 1 && first
        ? `Deleted the forecast of ${label(first.combination)}`
        : `Deleted ${gone.length} forecast lines`,
    );
    return { streams: gone.length };
  });
}

/** Writes down that overrides are dropped. */
function dropAll(
  typed: readonly NonNullable<Plan['overrides']>[number][],
  plan: Plan,
  record: Recorder,
): void {
  const tree = new MemberTree(plan.dimensions);
  const members = new Map(plan.combinations.map((c) => [c.id, c.members]));
  for (const override of typed) {
    const before = overrideCells(override);
    const name = overrideName(override, members.get(override.combination) ?? [], tree);
    record.changed('override', overrideId(override), before, null, name);
  }
}

/** Sums that were added up in another order are the same total. */
const sameTotal = (a: number | null, b: number | null): boolean =>
  a === b || (a !== null && b !== null && Math.abs(a - b) < 5e-3);

/**
 * Types totals over the forecast: each is spread over the open cells below it, as they stand.
 * @throws HttpProblem 409 with both values where a total is not what was seen
 */
export async function typeOver(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  { typed, why }: TypeOver,
): Promise<{ cells: number }> {
  mustPlan(actor);
  const { workspaceId, personId } = actor;
  // Read before the lock is taken: under it only what was typed since is taken in.
  await plans.current(workspaceId);
  return journaled(connections, actor, 'forecast', async (tx, record) => {
    const loaded = await plans.current(workspaceId, tx);
    const { model } = loaded;
    const { plan } = model;
    const { closedThrough, last } = plan.calendar;
    const errors = typed.flatMap(({ from, to }, index) =>
      from <= closedThrough || to > last
        ? [{ path: `typed.${index}.from`, message: `${from} to ${to} is not all open` }]
        : [],
    );
    if (errors.length > 0) throw badRequest(errors[0]?.message ?? '', errors);
    typed.forEach(({ scope }) => checkFrame(loaded, [], scope));
    const conflicts = typed.flatMap(({ saw, ...one }, index) => {
      if (saw === undefined) return [];
      const now = forecastTotal(model, one);
      if (sameTotal(now, saw) || sameTotal(now, one.total)) return [];
      return [{ path: `typed.${index}`, saw, now, by: '', at: '' }];
    });
    if (conflicts.length > 0) throw changedMeanwhile(conflicts);
    const cells = typed.flatMap((one) => spreadOverride(model, one));
    if (cells.length === 0) throw conflict('No stream forecasts anything there; make one first');
    const before = new Map((plan.overrides ?? []).map((row) => [overrideId(row), row]));
    const rows = [...new Map(cells.map((row) => [overrideId(row), { ...row, why }])).values()];
    await putOverrides(tx, workspaceId, personId, rows);
    const members = new Map(plan.combinations.map((c) => [c.id, c.members]));
    for (const row of rows) {
      const old = before.get(overrideId(row));
      record.changed(
        'override',
        overrideId(row),
        old ? overrideCells(old) : null,
        overrideCells(row),
        overrideName(row, members.get(row.combination) ?? [], model.tree),
      );
    }
    record.say(`Typed over ${rows.length} cells of the forecast`, why);
    return { cells: rows.length };
  });
}

/** Drops what was typed over the forecast. */
export function dropOverrides(
  connections: Connections,
  actor: Actor,
  { overrides }: DropOverrides,
): Promise<{ cells: number }> {
  const { workspaceId } = actor;
  return journaled(connections, actor, 'forecast', async (tx, record) => {
    const { plan } = await readPlan(tx, workspaceId);
    const wanted = overrides === 'all' ? undefined : new Set(overrides.map(overrideId));
    const gone = (plan.overrides ?? []).filter((row) => wanted?.has(overrideId(row)) ?? true);
    if (gone.length === 0) throw notFound('such override');
    await deleteOverrides(tx, workspaceId, gone);
    dropAll(gone, plan, record);
    record.say(`Dropped ${gone.length} cells that were typed over the forecast`);
    return { cells: gone.length };
  });
}

/** What changed since a revision: small edits as they are now, or that all has to be read anew. */
export async function changesSince(
  { db }: Connections,
  { workspaceId }: Actor,
  since: number,
): Promise<Changes> {
  const workspace = await workspaceById(db, workspaceId);
  const { affected, edit, versions } = await changedSince(db, workspaceId, since);
  return {
    revision: workspace?.revision ?? since,
    whole: affected.has('plan'),
    put: edit.put,
    drop: [...edit.drop],
    adjustments: edit.adjustments,
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
  const facts =
    address.version === undefined
      ? loaded.forecast
      : await versionFacts(connections, actor, loaded.plan, address.version);
  const query: TableQuery = {
    measure: address.measure,
    rows: address.rows,
    columns: address.columns,
    scope: address.scope,
    span,
    grain: address.grain,
  };
  const table = rollUp(facts, loaded.model.tree, query, loaded.plan.calendar.fiscalStart);
  return { table, query, version: await versionName(connections, actor, address.version) };
}

/** What the numbers of a table are, for the columns of a file. */
async function versionName(
  { db }: Connections,
  { workspaceId }: Actor,
  version: number | undefined,
): Promise<string> {
  return version === undefined ? 'Forecast' : (await versionById(db, workspaceId, version)).name;
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
  const facts =
    address.version === undefined
      ? loaded.forecast
      : await versionFacts(connections, actor, loaded.plan, address.version);
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
  return {
    table: measuredTable(facts, loaded.market, model.tree, query, fiscalStart),
    query,
    version: await versionName(connections, actor, address.version),
  };
}
