import type { NewStreams, TableAddress, WorkspacePlan } from '@dravex/contract';
import { forecastFacts, monthFrom, rollUp, type Table, type TableQuery } from '@dravex/core';
import { versionFacts } from '../budgets/service.ts';
import { MemberCodes } from '../dimensions/codes.ts';
import { dimensionsOf, ensureCombinations } from '../dimensions/store.ts';
import { mustPlan, type Actor } from '../people/actor.ts';
import { inTransaction, type Connections } from '../platform/database.ts';
import { badRequest, conflict, isTaken } from '../platform/errors.ts';
import { raiseRevision } from '../workspaces/store.ts';
import { checkFrame } from './frame.ts';
import type { Plans } from './plans.ts';
import { insertStreams } from './store.ts';

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
): Promise<number> {
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
  try {
    await inTransaction(connections, async (tx) => {
      await raiseRevision(tx, workspaceId);
      const ids = await ensureCombinations(tx, workspaceId, wanted);
      const rows = ids.map((combinationId, index) => ({
        workspaceId,
        combinationId,
        method: input.streams[index]?.method ?? ('volumePrice' as const),
      }));
      await insertStreams(tx, rows);
    });
  } catch (error) {
    if (isTaken(error)) throw conflict('One of these combinations has a stream already');
    throw error;
  }
  return wanted.length;
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
      ? forecastFacts(loaded.model)
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
