import type {
  ImportBatch,
  ImportPreview,
  RowProblem,
  SalesLines,
  SalesLinesAddress,
} from '@dravex/contract';
import { inScope, monthFrom } from '@dravex/core';
import { MemberCodes } from '../dimensions/codes.ts';
import { dimensionsOf } from '../dimensions/store.ts';
import { calendarOf } from '../forecast/calendar.ts';
import { checkFrame } from '../forecast/frame.ts';
import type { Plans } from '../forecast/plans.ts';
import { mustPlan, type Actor } from '../people/actor.ts';
import { answeredOnce, journaled, recorded } from '../journal/service.ts';
import type { Connections, Database } from '../platform/database.ts';
import { badRequest, conflict, notFound } from '../platform/errors.ts';
import { lockWorkspace, workspaceById } from '../workspaces/store.ts';
import { RowCheck, type CheckedLine } from './check-row.ts';
import { readSalesFile } from './read-file.ts';
import * as store from './store.ts';
import { batchName, moveBatch, type BatchState } from './thing.ts';

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
 * Reads and checks a file of sales lines as it comes. Good rows wait in staging, faulty ones are
 * listed; nothing counts before the batch is applied.
 */
export async function previewFile(
  connections: Connections,
  actor: Actor,
  fileName: string,
  chunks: AsyncIterable<Buffer>,
): Promise<ImportPreview> {
  mustPlan(actor);
  const { workspaceId, personId, requestKey } = actor;
  const workspace = await workspaceById(connections.db, workspaceId);
  if (!workspace) throw notFound('such workspace');
  const dimensions = await dimensionsOf(connections.db, workspaceId);

  const { id } = await answeredOnce(connections, personId, requestKey, async (tx, client) => {
    const file = await readSalesFile(chunks, dimensions);
    const check = new RowCheck({
      codes: new MemberCodes(dimensions),
      calendar: calendarOf(workspace),
      minorDigits: workspace.minorDigits,
      decimal: file.decimal,
      width: file.width,
    });
    const batchId = await store.insertBatch(tx, {
      workspaceId,
      fileName,
      state: 'previewed',
      rows: 0,
      good: 0,
      faulty: 0,
      createdBy: personId,
    });
    const problems: RowProblem[] = [];
    let rows = 0;
    let good = 0;
    async function* goodLines(): AsyncGenerator<CheckedLine[]> {
      for await (const batch of file.batches) {
        const lines: CheckedLine[] = [];
        for (const row of batch) {
          const checked = check.check(row);
          if (!Array.isArray(checked)) lines.push(checked);
          else if (problems.length < MOST_PROBLEMS) problems.push(...checked);
        }
        rows += batch.length;
        good += lines.length;
        yield lines;
      }
    }
    await store.stageLines(client, workspaceId, batchId, goodLines());
    if (rows === 0) throw badRequest('The file has a header and no rows; nothing was taken in');
    const dropped = [
      ...(await store.dropRepeated(tx, workspaceId, batchId)),
      ...(await store.dropAlreadyThere(tx, workspaceId, batchId)),
    ];
    const listed = [...problems, ...dropped].slice(0, MOST_PROBLEMS);
    await store.insertProblems(tx, workspaceId, batchId, listed);
    good -= dropped.length;
    await store.setBatch(tx, workspaceId, batchId, { rows, good, faulty: rows - good });
    // Only now: a long file does not keep other writers waiting while it is read.
    await lockWorkspace(tx, workspaceId);
    await recorded(tx, actor, 'actuals', (record) => {
      record.say(`Brought in ${fileName}: ${good} good rows, ${rows - good} faulty`);
      record.changed('import', batchId, null, { state: 'previewed' }, batchName(fileName));
      return Promise.resolve();
    });
    return { id: batchId };
  });
  return previewOf(connections, actor, id);
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
    store.batchMonths(db, workspaceId, id, row.state === 'applied' ? 'applied' : 'waiting'),
  ]);
  return { ...toBatch(row), problemCounts: counts, problems, months };
}

/** The files that were brought in and not put away again. */
export async function listBatches(
  { db }: Connections,
  { workspaceId }: Actor,
): Promise<ImportBatch[]> {
  const rows = await store.batches(db, workspaceId);
  return rows.filter(({ state }) => state !== 'putAway').map(toBatch);
}

export async function listProblems(
  { db }: Connections,
  { workspaceId }: Actor,
  id: number,
): Promise<RowProblem[]> {
  if (!(await store.batchById(db, workspaceId, id))) throw notFound('such import');
  return store.problemsOf(db, workspaceId, id, MOST_PROBLEMS);
}

/** Moves a batch to another state as one unit, with its lines and the summary. */
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
    await moveBatch(tx, workspaceId, id, batch.state, to);
    record.say(say(batch));
    const name = batchName(batch.fileName);
    record.changed('import', id, { state: batch.state }, { state: to }, name);
    const moved = await store.batchById(tx, workspaceId, id);
    if (!moved) throw notFound('such import');
    return toBatch(moved);
  });
}

const APPLIED = 'These sales lines were applied already';

/** Takes in the good rows of a previewed batch, all or none; the summary follows in the same transaction. */
export function applyBatch(
  connections: Connections,
  actor: Actor,
  id: number,
): Promise<ImportBatch> {
  return move(
    connections,
    actor,
    id,
    'applied',
    (from) => {
      if (from === 'putAway') return 'This file was put away; take that back first';
      return from === 'applied' ? APPLIED : undefined;
    },
    ({ good, fileName }) => `Applied ${good} sales lines of ${fileName}`,
  );
}

/** Takes the lines of an applied batch out again; it waits to be applied as before. */
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
    (from) => (from === 'applied' ? undefined : 'These sales lines were not applied'),
    ({ good, fileName }) => `Took back ${good} sales lines of ${fileName}`,
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
    (from) => (from === 'applied' ? APPLIED : undefined),
    ({ fileName }) => `Put ${fileName} away`,
  );
}

/** The sales lines of a scope and a window, the largest first, with the sums of all of them. */
export async function listSalesLines(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  address: SalesLinesAddress,
): Promise<SalesLines> {
  const loaded = await plans.current(actor.workspaceId);
  checkFrame(loaded, [], address.scope);
  if (monthFrom(address.from) > monthFrom(address.to)) {
    throw badRequest('The window ends before it starts', [
      { path: 'to', message: 'it ends before it starts' },
    ]);
  }
  const { combinations } = loaded.plan;
  const held = [...inScope(loaded.model.tree, combinations, address.scope)];
  const ids = held.map((index) => combinations[index]?.id ?? -1);
  return store.salesLines(connections.db, actor.workspaceId, {
    ...address,
    combinations: address.scope.length === 0 ? undefined : ids,
  });
}
