/** Files that were brought in, and the sales lines of them. */
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type {
  ImportBatch,
  ImportPreview,
  Mapping,
  NewMapping,
  Remembered,
  RowProblem,
  SalesLines,
  SalesLinesAddress,
} from '@dravex/contract';
import { monthFrom } from '@dravex/core';
import type { Response } from 'express';
import { checkFrame, combinationsIn } from '../plan/frame.ts';
import type { Plans } from '../plan/plans.ts';
import { journaled } from '../journal/service.ts';
import type { Actor } from '../people/actor.ts';
import { toCsv } from '../platform/csv.ts';
import type { Connections, Database } from '../platform/database.ts';
import { badRequest, conflict, notFound } from '../platform/errors.ts';
import { workspaceById } from '../workspaces/store.ts';
import { noticeDeadJobs } from './apply.ts';
import { salesLines } from './read-lines.ts';
import * as store from './store.ts';
import { toBatch } from './batch.ts';
import { batchName, moveBatch, rememberedId, type BatchState } from './thing.ts';

/** Problems that come with a preview. */
const SHOWN_PROBLEMS = 200;
const SHOWN_GROUPS = 200;
const MOST_PROBLEMS = 10_000;

/** A batch with its problems and what it adds to each month. */
export async function previewOf(
  connections: Connections,
  { workspaceId }: Actor,
  id: number,
): Promise<ImportPreview> {
  const { db } = connections;
  await noticeDeadJobs(connections, workspaceId);
  const row = await store.batchById(db, workspaceId, id);
  if (!row) throw notFound('such import');
  const [counts, groups, problems, months, same, latest, workspace] = await Promise.all([
    store.problemCounts(db, workspaceId, id),
    store.problemGroups(db, workspaceId, id, SHOWN_GROUPS),
    store.problemsOf(db, workspaceId, id, SHOWN_PROBLEMS),
    store.batchMonths(db, workspaceId, id),
    store.batchLike(db, workspaceId, row),
    store.latestOfBatch(db, workspaceId, id),
    workspaceById(db, workspaceId),
  ]);
  return {
    ...toBatch(row),
    reading: row.reading,
    notes: row.notes,
    replace: [...row.replace],
    asOf: row.state === 'previewed' && latest && latest > (workspace?.asOf ?? '') ? latest : null,
    sameAs: same
      ? {
          id: same.id,
          fileName: same.fileName,
          state: same.state,
          createdAt: same.createdAt.toISOString(),
        }
      : null,
    problemCounts: counts,
    groups,
    problems,
    months,
  };
}

/** The files that were brought in and not put away again. */
export async function listBatches(
  connections: Connections,
  { workspaceId }: Actor,
): Promise<ImportBatch[]> {
  await noticeDeadJobs(connections, workspaceId);
  const rows = await store.batches(connections.db, workspaceId);
  return rows.filter(({ state, source }) => state !== 'putAway' && source !== 'hand').map(toBatch);
}

export async function listProblems(
  { db }: Connections,
  { workspaceId }: Actor,
  id: number,
): Promise<RowProblem[]> {
  if (!(await store.batchById(db, workspaceId, id))) throw notFound('such import');
  return store.problemsOf(db, workspaceId, id, MOST_PROBLEMS);
}

const PAGE = 5000;

/** Writes the rows that were left out as they stand in the file, with the reason before them. */
export async function writeLeftOut(
  { db }: Connections,
  { workspaceId }: Actor,
  id: number,
  response: Response,
): Promise<void> {
  const batch = await store.batchById(db, workspaceId, id);
  if (!batch) throw notFound('such import');
  async function* text(): AsyncGenerator<string> {
    yield `\uFEFF${toCsv([['row', 'why it was left out', ...(batch?.reading?.header ?? [])]])}`;
    let after = 0;
    for (;;) {
      const rows = await store.rowsOf(db, workspaceId, id, { taken: false, after, limit: PAGE });
      yield toCsv(
        rows.map(({ row, cells, problems }) => [
          row,
          problems.map(({ message }) => message).join('; '),
          ...cells,
        ]),
      );
      const last = rows.at(-1);
      if (!last || rows.length < PAGE) return;
      after = last.row;
    }
  }
  const name = batch.fileName.replace(/\.[^.]*$/, '');
  response.type('text/csv; charset=utf-8').attachment(`${name}, left out.csv`);
  await pipeline(Readable.from(text()), response);
}

/** Moves a batch to another state as one unit, with its rows and the summary. */
function move(
  connections: Connections,
  actor: Actor,
  id: number,
  to: BatchState,
  refuse: (from: BatchState) => string | undefined,
  say: (batch: store.BatchRow) => string,
): Promise<ImportBatch> {
  const { workspaceId } = actor;
  return journaled(connections, actor, 'actuals', async (tx: Database, record) => {
    const locked = await store.lockBatch(tx, workspaceId, id);
    const batch = locked && (await store.batchById(tx, workspaceId, id));
    if (!batch) throw notFound('such import');
    const reason = refuse(batch.state);
    if (reason !== undefined) throw conflict(reason);
    if (batch.job?.state === 'running')
      throw conflict('This file is being imported; stop that first');
    await moveBatch(tx, workspaceId, id, batch.state, to);
    record.say(say(batch));
    const name = batchName(batch.fileName);
    record.changed('import', id, { state: batch.state }, { state: to }, name);
    const moved = await store.batchById(tx, workspaceId, id);
    if (!moved) throw notFound('such import');
    return toBatch(moved);
  });
}

/** Takes the rows of an applied batch out again; it waits to be applied as before. */
export function takeBackBatch(
  connections: Connections,
  actor: Actor,
  id: number,
): Promise<ImportBatch> {
  return move(
    connections,
    actor,
    id,
    'previewed',
    (from) => (from === 'applied' ? undefined : 'These rows are not imported'),
    ({ good, fileName }) => `Undid the import of ${good} rows of ${fileName}`,
  );
}

/** Puts a previewed file away; applied ones stay. */
export async function putAwayBatch(
  connections: Connections,
  actor: Actor,
  id: number,
): Promise<void> {
  await move(
    connections,
    actor,
    id,
    'putAway',
    (from) => (from === 'applied' ? 'These rows are imported already' : undefined),
    ({ fileName }) => `Discarded ${fileName}`,
  );
}

/** The sales lines of a scope and a window, the largest first, with the sums of all of them. */
export async function listSalesLines(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  { scope, seller, ...address }: SalesLinesAddress,
): Promise<SalesLines> {
  const loaded = await plans.current(actor.workspaceId);
  checkFrame(loaded, [], scope);
  mustBeSpan(address);
  return salesLines(connections.db, actor.workspaceId, {
    ...address,
    whose: [{ combinations: combinationsIn(loaded, scope), seller }],
  });
}

/** @throws HttpProblem 400 where a window ends before it starts */
export function mustBeSpan(address: { readonly from: string; readonly to: string }): void {
  if (monthFrom(address.from) > monthFrom(address.to)) {
    throw badRequest('The window ends before it starts', [
      { path: 'to', message: 'it ends before it starts' },
    ]);
  }
}

export function listMappings({ db }: Connections, { workspaceId }: Actor): Promise<Mapping[]> {
  return store.mappings(db, workspaceId);
}

/** Keeps a way to read files under a name. */
export function keepMapping(
  connections: Connections,
  actor: Actor,
  mapping: NewMapping,
): Promise<Mapping> {
  return journaled(connections, actor, 'actuals', async (tx, record) => {
    const keptMappings = await store.mappings(tx, actor.workspaceId);
    const before = keptMappings.find(({ name }) => name === mapping.name);
    const id = await store.keepMapping(tx, actor.workspaceId, mapping);
    record.undoable = false;
    record.say(`Saved the mapping “${mapping.name}”`);
    const shown = (reading: unknown): { reading: string } => ({ reading: JSON.stringify(reading) });
    const name = (): { label: string; unit: 'text' } => ({ label: mapping.name, unit: 'text' });
    record.changed(
      'mapping',
      id,
      before ? shown(before.reading) : null,
      shown(mapping.reading),
      name,
    );
    return { id, ...mapping };
  });
}

export async function dropMapping(
  connections: Connections,
  actor: Actor,
  id: number,
): Promise<void> {
  await journaled(connections, actor, 'actuals', async (tx, record) => {
    const keptMapping = (await store.mappings(tx, actor.workspaceId)).find(
      (mapping) => mapping.id === id,
    );
    if (!keptMapping) throw notFound('such mapping');
    await store.dropMapping(tx, actor.workspaceId, id);
    record.undoable = false;
    record.say(`Deleted the mapping “${keptMapping.name}”`);
    record.changed('mapping', id, { name: keptMapping.name }, null, () => ({
      label: keptMapping.name,
      unit: 'text',
    }));
    return {};
  });
}

export function listRemembered({ db }: Connections, { workspaceId }: Actor): Promise<Remembered[]> {
  return store.remembered(db, workspaceId);
}

/** Forgets that a value is read as another one in files to come. */
export async function forgetRemembered(
  connections: Connections,
  actor: Actor,
  which: Omit<Remembered, 'to'>,
): Promise<void> {
  await journaled(connections, actor, 'actuals', async (tx, record) => {
    const keptRepair = (await store.remembered(tx, actor.workspaceId)).find(
      ({ kind, field, from }) =>
        kind === which.kind && field === which.field && from === which.from,
    );
    if (!keptRepair) throw notFound('such repair');
    await store.forget(tx, actor.workspaceId, which);
    record.say(`“${keptRepair.from}” is no longer read as “${keptRepair.to}”`);
    record.changed('remembered', rememberedId(keptRepair), { to: keptRepair.to }, null, () => ({
      label: `${keptRepair.field} “${keptRepair.from}”`,
      unit: 'text',
    }));
    return {};
  });
}
