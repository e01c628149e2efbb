import type { ImportBatch, ImportPreview, RowProblem } from '@dravex/contract';
import { MemberCodes } from '../dimensions/codes.ts';
import { dimensionsOf } from '../dimensions/store.ts';
import { calendarOf } from '../forecast/calendar.ts';
import { mustPlan, type Actor } from '../people/actor.ts';
import { inTransaction, type Connections } from '../platform/database.ts';
import { badRequest, conflict, isTaken, notFound } from '../platform/errors.ts';
import { raiseRevision, workspaceById } from '../workspaces/store.ts';
import { RowCheck, type CheckedLine } from './check-row.ts';
import { readSalesFile } from './read-file.ts';
import * as store from './store.ts';

/** Problems that are kept with a batch; a file with more of them is wrong as a whole. */
const MOST_PROBLEMS = 10_000;
/** Problems that come with a preview. */
const SHOWN_PROBLEMS = 200;

function toBatch(row: store.BatchRow): ImportBatch {
  return {
    id: row.id,
    fileName: row.fileName,
    state: row.state,
    rows: row.rows,
    good: row.good,
    faulty: row.faulty,
    createdAt: row.createdAt.toISOString(),
    createdBy: row.createdByName,
    appliedAt: row.appliedAt?.toISOString() ?? null,
  };
}

/**
 * Reads and checks a file of sales lines. Good rows wait in staging, faulty ones are listed;
 * nothing counts before the batch is applied.
 */
export async function previewFile(
  connections: Connections,
  actor: Actor,
  fileName: string,
  bytes: Buffer,
): Promise<ImportPreview> {
  mustPlan(actor);
  const { workspaceId } = actor;
  const workspace = await workspaceById(connections.db, workspaceId);
  if (!workspace) throw notFound('such workspace');
  const dimensions = await dimensionsOf(connections.db, workspaceId);
  const file = await readSalesFile(bytes, dimensions);
  const check = new RowCheck({
    codes: new MemberCodes(dimensions),
    calendar: calendarOf(workspace),
    minorDigits: workspace.minorDigits,
    decimal: file.decimal,
    width: file.width,
  });

  const batchId = await inTransaction(connections, async (tx, client) => {
    const id = await store.insertBatch(tx, {
      workspaceId,
      fileName,
      state: 'previewed',
      rows: 0,
      good: 0,
      faulty: 0,
      createdBy: actor.personId,
    });
    const problems: RowProblem[] = [];
    let rows = 0;
    let good = 0;
    async function* goodLines(): AsyncGenerator<CheckedLine> {
      for await (const row of file.rows) {
        rows += 1;
        const checked = check.check(row);
        if (!Array.isArray(checked)) {
          good += 1;
          yield checked;
        } else if (problems.length < MOST_PROBLEMS) problems.push(...checked);
      }
    }
    await store.stageLines(client, workspaceId, id, goodLines());
    if (rows === 0) throw badRequest('The file has a header and no rows; nothing was taken in');
    const repeated = await store.dropAlreadyThere(tx, workspaceId, id);
    await store.insertProblems(
      tx,
      workspaceId,
      id,
      [...problems, ...repeated].slice(0, MOST_PROBLEMS),
    );
    good -= repeated.length;
    await store.setBatch(tx, workspaceId, id, { rows, good, faulty: rows - good });
    return id;
  });
  return previewOf(connections, actor, batchId);
}

/** A batch with its problems and what it adds to each month. */
export async function previewOf(
  { db }: Connections,
  { workspaceId }: Actor,
  id: number,
): Promise<ImportPreview> {
  const row = await store.batchById(db, workspaceId, id);
  if (!row) throw notFound('such import');
  const [counts, problems, months] = await Promise.all([
    store.problemCounts(db, workspaceId, id),
    store.problemsOf(db, workspaceId, id, SHOWN_PROBLEMS),
    store.stagedMonths(db, workspaceId, id),
  ]);
  return { ...toBatch(row), problemCounts: counts, problems, months };
}

export async function listBatches(
  { db }: Connections,
  { workspaceId }: Actor,
): Promise<ImportBatch[]> {
  return (await store.batches(db, workspaceId)).map(toBatch);
}

export async function listProblems(
  { db }: Connections,
  { workspaceId }: Actor,
  id: number,
): Promise<RowProblem[]> {
  if (!(await store.batchById(db, workspaceId, id))) throw notFound('such import');
  return store.problemsOf(db, workspaceId, id, MOST_PROBLEMS);
}

/** Takes in the good rows of a previewed batch, all or none; the summary follows in the same transaction. */
export async function applyBatch(
  connections: Connections,
  actor: Actor,
  id: number,
): Promise<ImportBatch> {
  mustPlan(actor);
  const { workspaceId } = actor;
  try {
    await inTransaction(connections, async (tx) => {
      await raiseRevision(tx, workspaceId);
      const batch = await store.lockBatch(tx, workspaceId, id);
      if (!batch) throw notFound('such import');
      if (batch.state === 'applied') throw conflict('These sales lines were applied already');
      if (batch.good === 0) throw badRequest('No row of this file can be taken in');
      if ((await store.stagedCount(tx, workspaceId, id)) !== batch.good) {
        throw conflict('The checked rows of this file are gone; upload it again');
      }
      await store.applyStaged(tx, workspaceId, id);
      await store.setBatch(tx, workspaceId, id, { state: 'applied', appliedAt: new Date() });
    });
  } catch (error) {
    if (!isTaken(error)) throw error;
    throw conflict(
      'Some of these document lines were taken in by another import meanwhile; upload the file again to see which',
    );
  }
  const row = await store.batchById(connections.db, workspaceId, id);
  if (!row) throw notFound('such import');
  return toBatch(row);
}

/** Puts a previewed file away; applied ones stay. */
export async function discardBatch(
  connections: Connections,
  actor: Actor,
  id: number,
): Promise<void> {
  mustPlan(actor);
  await inTransaction(connections, async (tx) => {
    const batch = await store.lockBatch(tx, actor.workspaceId, id);
    if (!batch) throw notFound('such import');
    if (batch.state === 'applied') throw conflict('These sales lines were applied already');
    await store.deleteBatch(tx, actor.workspaceId, id);
  });
}
