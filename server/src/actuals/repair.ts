/** Repairs what a preview shows: values read as others, signs turned, rows left out. */
import type { Repair } from '@dravex/contract';
import { journaled } from '../journal/service.ts';
import type { Actor } from '../people/actor.ts';
import type { Connections, Database } from '../platform/database.ts';
import { badRequest, conflict, notFound } from '../platform/errors.ts';
import * as store from './store.ts';
import { rowSinkFor } from './row-sink.ts';
import { batchName } from './thing.ts';

/** Rows that are checked together. */
const AT_A_TIME = 2000;

type Wanted = Required<Repair>;

/**
 * Changes how a file that is not applied yet is read, and checks again what that touches.
 * @throws HttpProblem 409 for a file that is applied
 */
export function repairBatch(
  connections: Connections,
  actor: Actor,
  id: number,
  wanted: Wanted,
): Promise<{ id: number }> {
  const { workspaceId } = actor;
  return journaled(connections, actor, 'actuals', async (tx, record, client) => {
    const locked = await store.lockBatch(tx, workspaceId, id);
    const batch = locked && (await store.batchById(tx, workspaceId, id));
    if (!batch?.reading) throw notFound('such file');
    if (batch.state !== 'previewed') {
      throw conflict('This file is imported; undo the import before you correct it');
    }
    if (batch.job?.state === 'running' || batch.job?.state === 'waiting') {
      throw conflict('This file is being imported; stop that first');
    }
    const before = { good: batch.good, faulty: batch.faulty };
    const { turn, leaveOut, replace, again } = wanted;
    if (turn.length > 0 && batch.kind !== 'sales') {
      throw badRequest('Only the amounts of sales lines have a sign to turn');
    }

    const turned = new Set(batch.reading.turn);
    for (const field of new Set(turn)) {
      await store.turnSign(tx, workspaceId, id, field);
      if (!turned.delete(field)) turned.add(field);
    }
    const reading = { ...batch.reading, turn: [...turned] };

    const out = leaveOut.length === 0 ? 0 : await leaveRowsOut(tx, workspaceId, id, leaveOut);

    for (const { remember, row, ...repair } of replace) {
      if (remember && row === undefined) {
        await store.remember(tx, workspaceId, { kind: batch.kind, ...repair });
      }
    }
    const kept = [
      ...batch.replace.filter(
        (old) =>
          !replace.some((r) => r.field === old.field && r.from === old.from && r.row === old.row),
      ),
      ...replace.map(({ remember: _, ...repair }) => repair),
    ];
    let gained = 0;
    if (replace.length > 0 || again.length > 0) {
      const sink = await rowSinkFor(tx, {
        client,
        workspaceId,
        batchId: id,
        kind: batch.kind,
        fileName: batch.fileName,
        reading,
        replace: [
          ...(await store.remembered(tx, workspaceId)).filter(({ kind }) => kind === batch.kind),
          ...kept,
        ],
        combinations: tx,
      });
      const rows = await store.pullRows(tx, workspaceId, id, [...replace, ...again]);
      for (let start = 0; start < rows.length; start += AT_A_TIME) {
        await sink.take(rows.slice(start, start + AT_A_TIME));
      }
      gained = (await sink.finish(tx)).good;
    }
    if (batch.kind === 'sales') await store.sumBatch(tx, workspaceId, id);
    const good = batch.good - out + gained;
    const faulty = batch.rows - good;
    const notes = batch.notes && {
      ...batch.notes,
      turned: [...turned],
      ...(batch.kind === 'sales' ? await store.countedLines(tx, workspaceId, id) : {}),
    };
    await store.setBatch(tx, workspaceId, id, { reading, notes, replace: kept, good, faulty });
    record.undoable = false;
    record.say(
      `Corrected ${batch.fileName}: ${good} rows can be imported, ${faulty} excluded` +
        (turn.length > 0 ? `; the sign of ${turn.join(' and ')} reversed` : ''),
    );
    const after = { good, faulty, ...(turn.length > 0 ? { turned: [...turned].join(', ') } : {}) };
    record.changed('import', id, before, after, batchName(batch.fileName));
    return { id };
  });
}

/** Leaves rows out that were taken and are worth a look. @returns how many */
async function leaveRowsOut(
  tx: Database,
  workspaceId: number,
  id: number,
  codes: readonly string[],
): Promise<number> {
  const rows = await store.rowsOf(tx, workspaceId, id, { taken: true, limit: 1_000_000 });
  const out = rows.filter(({ problems }) => problems.some(({ code }) => codes.includes(code)));
  const numbers = out.map(({ row }) => row);
  await store.deleteLines(tx, workspaceId, id, numbers);
  await store.setTaken(tx, workspaceId, id, numbers, false);
  return out.length;
}
