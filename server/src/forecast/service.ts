import type { Changes, NewStreams, TableAddress, WorkspacePlan } from '@dravex/contract';
import {
  MemberTree,
  monthFrom,
  proposeStreams,
  rollUp,
  type Stream,
  type Table,
  type TableQuery,
} from '@dravex/core';
import { versionFacts } from '../budgets/service.ts';
import { MemberCodes } from '../dimensions/codes.ts';
import { dimensionsOf, ensureCombinations } from '../dimensions/store.ts';
import { mustPlan, type Actor } from '../people/actor.ts';
import { addAssumptions } from '../drivers/service.ts';
import { assumptionsOf } from '../drivers/store.ts';
import { journaled, type Recorder } from '../journal/service.ts';
import { thingsSince } from '../journal/store.ts';
import type { Connections, Database } from '../platform/database.ts';
import { badRequest, conflict, isTaken } from '../platform/errors.ts';
import { workspaceById } from '../workspaces/store.ts';
import { checkFrame } from './frame.ts';
import { readPlan, type Plans } from './plans.ts';
import { insertStreams } from './store.ts';
import { streamCells, streamName } from './thing.ts';

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
    const streams = combinations.map((combination, index) => ({
      combination,
      members: wanted[index] ?? [],
      method: input.streams[index]?.method ?? ('volumePrice' as const),
    }));
    await addStreams(tx, workspaceId, streams, codes.tree, record);
    record.say(`Made ${wanted.length} streams`);
    return { streams: wanted.length };
  });
}

/** Keeps new streams and writes them down. @throws HttpProblem 409 where there is one already */
async function addStreams(
  tx: Database,
  workspaceId: number,
  streams: readonly (Omit<Stream, 'id'> & { readonly members: readonly number[] })[],
  tree: MemberTree,
  record: Recorder,
): Promise<void> {
  const rows = streams.map(({ combination, method }) => ({
    workspaceId,
    combinationId: combination,
    method,
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
): Promise<{ streams: number }> {
  const { workspaceId } = actor;
  return journaled(connections, actor, 'forecast', async (tx, record) => {
    const { plan } = await readPlan(tx, workspaceId);
    const proposed = proposeStreams(plan);
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
    await addAssumptions(tx, actor, assumptions, tree, record);
    record.say(`Made ${streams.length} streams from what was sold`);
    return { streams: streams.length };
  });
}

/** What changed since a revision: small edits as they are now, or that all has to be read anew. */
export async function changesSince(
  { db }: Connections,
  { workspaceId }: Actor,
  since: number,
): Promise<Changes> {
  const workspace = await workspaceById(db, workspaceId);
  const things = await thingsSince(db, workspaceId, since);
  const of = (...kinds: string[]): string[] => [
    ...new Set(things.filter(({ thing }) => kinds.includes(thing)).map(({ thingId }) => thingId)),
  ];
  const ids = of('assumption').map(Number);
  const put = await assumptionsOf(db, workspaceId, { ids });
  const there = new Set(put.map(({ id }) => id));
  return {
    revision: workspace?.revision ?? since,
    whole: of('import', 'stream', 'workspace').length > 0,
    put,
    drop: ids.filter((id) => !there.has(id)),
    versions: [...new Set(of('version', 'cell').map((id) => Number(id.split(':')[0])))],
    targets: of('target').length > 0,
  };
}

/** The table an address asks for: of the forecast line, or of a kept version. */
export async function tableFor(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  address: TableAddress,
): Promise<{ table: Table; query: TableQuery }> {
  const loaded = await plans.current(actor.workspaceId);
  checkFrame(loaded, address.rows, address.scope, address.columns);
  const facts =
    address.version === undefined
      ? loaded.forecast
      : await versionFacts(connections, actor, loaded.plan, address.version);
  const query: TableQuery = {
    measure: address.measure,
    rows: address.rows,
    columns: address.columns,
    scope: address.scope,
    span: { from: monthFrom(address.from), to: monthFrom(address.to) },
    grain: address.grain,
  };
  const table = rollUp(facts, loaded.model.tree, query, loaded.plan.calendar.fiscalStart);
  return { table, query };
}
