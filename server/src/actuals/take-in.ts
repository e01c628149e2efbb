/** Takes a file in as far as a preview: reads, checks and keeps its rows; nothing of it counts yet. */
import { createHash } from 'node:crypto';
import { figureColumn, type ImportField, type ImportKind, type TableLook } from '@dravex/contract';
import { likeness, plainHeading } from '@dravex/core';
import { tellings } from '../dimensions/rules.ts';
import { dimensionsOf } from '../dimensions/store.ts';
import { shownFields, type UnderstoodTable } from '../exchange/reading.ts';
import { answeredOnce, recorded } from '../journal/service.ts';
import { mustPlan, type Actor } from '../people/actor.ts';
import type { Connections, Database } from '../platform/database.ts';
import { badRequest } from '../platform/errors.ts';
import { Turns } from '../platform/turns.ts';
import { lockWorkspace } from '../workspaces/store.ts';
import * as store from './store.ts';
import { rowSinkFor } from './row-sink.ts';
import { rulesFor, withTable, type SentTable } from './sent-table.ts';
import { batchName } from './thing.ts';

/** How alike a header must be to that of a kept mapping. */
const ALIKE = 0.8;
const KIND_NAMES: Readonly<Record<ImportKind, string>> = {
  sales: 'sales lines',
  facts: 'measured facts',
  ledger: 'ledger history',
  subscribers: 'subscribers',
};
/** Rows that come with a look. */
const SHOWN_ROWS = 30;

/** Says how a file would be read, and keeps nothing of it. */
export async function lookAt(
  { db }: Connections,
  actor: Actor,
  sent: SentTable,
): Promise<TableLook> {
  mustPlan(actor);
  const { fields } = await rulesFor(db, actor.workspaceId, sent.kind);
  return withTable(db, actor, sent, async ({ reading, detected, missing, sample }, sheets) => {
    const kept = await store.mappings(db, actor.workspaceId);
    const alike = kept
      .filter(({ kind }) => kind === sent.kind)
      .map((mapping) => ({ mapping, like: likeness(mapping.header, reading.header) }))
      .sort((a, b) => b.like - a.like)[0];
    const lacking = await missingFor(db, actor.workspaceId, { reading, missing });
    return {
      reading,
      sheets: [...sheets],
      detected: [...detected],
      fields: shownFields(fields),
      missing: lacking.map(({ key }) => key),
      rows: sample.slice(0, SHOWN_ROWS).map(({ row, cells }) => ({ row, cells: [...cells] })),
      mapping:
        alike && alike.like >= ALIKE ? { id: alike.mapping.id, name: alike.mapping.name } : null,
    };
  });
}

/**
 * @param said whether somebody said which column holds what
 * @throws HttpProblem 400 naming the fields that no column holds
 */
function mustBeComplete(
  { reading, missing }: Pick<UnderstoodTable, 'reading' | 'missing'>,
  fields: readonly ImportField[],
  kind: ImportKind,
  said: boolean,
): void {
  const names = new Set(fields.flatMap((field) => field.names.map(plainHeading)));
  const named = reading.header.some((heading) => names.has(plainHeading(heading)));
  if (!named && !said) {
    throw badRequest(
      `Row ${reading.headerRow} is no header of ${KIND_NAMES[kind]}: it should name ${fields
        .filter(({ need }) => need !== 'maybe')
        .map(({ label }) => label.toLowerCase())
        .join(', ')}; nothing was imported`,
    );
  }
  // Who does not say how a table is to be read expects both quantity and amount to be found.
  const strict = !said && reading.shape === 'long' && figureColumn(reading) === undefined;
  const lacks = [
    ...missing.filter(({ need }) => need === 'always'),
    ...(strict
      ? fields.filter(({ need, key }) => need === 'amount' && reading.columns[key] === null)
      : missing.filter(({ need }) => need === 'amount').slice(0, 1)),
  ].map(({ label }) => label.toLowerCase());
  if (lacks.length === 0) return;
  throw badRequest(
    `The header lacks ${lacks.map((name) => `"${name}"`).join(' and ')}; say which column holds it, or add the column and upload the file again`,
    lacks.map((name) => ({ path: name, message: 'no column holds this' })),
  );
}

/**
 * What a file lacks. It need not name dimensions whose members follow from the others by a rule, or
 * from its customers.
 */
async function missingFor(
  db: Database,
  workspaceId: number,
  { reading, missing }: Pick<UnderstoodTable, 'reading' | 'missing'>,
): Promise<readonly ImportField[]> {
  const told = await tellings(db, workspaceId, await dimensionsOf(db, workspaceId));
  const lacking = missing.filter(({ key }) => !told.has(key));
  if (reading.columns['customer'] === null || reading.columns['customer'] === undefined) {
    return lacking;
  }
  const assigned = await store.assignedMembers(db, workspaceId);
  return lacking.filter(({ key }) => !assigned.has(key));
}

/**
 * Reads and checks a file as it comes. Its good rows are kept without counting, the others stand
 * beside them with their reasons.
 * @returns the id of the batch
 */
export async function previewTable(
  connections: Connections,
  actor: Actor,
  sent: SentTable<ImportKind>,
): Promise<number> {
  mustPlan(actor);
  const { id } = await UPLOADS.take(() => take(connections, actor, sent));
  return id;
}

/** Files that are read at once by a server process; the others wait, and so do their senders. */
const UPLOADS = new Turns(4);

function take(
  connections: Connections,
  actor: Actor,
  sent: SentTable<ImportKind>,
): Promise<{ id: number }> {
  const { workspaceId, personId, requestKey } = actor;
  const { fileName, kind } = sent;
  return answeredOnce(connections, personId, requestKey, (tx, client) => {
    const bytes = hashed(sent.chunks);
    const { db } = connections;
    return withTable(db, actor, { ...sent, chunks: bytes.chunks }, async (table) => {
      const missing = await missingFor(db, workspaceId, table);
      const { fields } = await rulesFor(db, workspaceId, kind);
      mustBeComplete({ ...table, missing }, fields, kind, sent.reading?.columns !== undefined);
      const { reading } = table;
      const batchId = await store.insertBatch(tx, {
        workspaceId,
        kind,
        fileName,
        state: 'previewed',
        rows: 0,
        good: 0,
        faulty: 0,
        reading,
        createdBy: personId,
      });
      const repairs = await store.remembered(db, workspaceId);
      const sink = await rowSinkFor(db, {
        client,
        workspaceId,
        batchId,
        kind,
        fileName,
        reading,
        replace: repairs.filter((repair) => repair.kind === kind),
        combinations: db,
      });
      let rows = 0;
      try {
        for await (const batch of table.rows) {
          rows += batch.length;
          await sink.take(batch);
        }
      } catch (error) {
        await sink.cancel();
        throw error;
      }
      const { good, faulty } = await sink.finish(tx);
      if (rows === 0) throw badRequest('The file has a header and no rows; nothing was imported');
      const notes = sink.notes();
      const fingerprint = bytes.hash();
      const outcome = { rows: good + faulty, good, faulty, notes, fingerprint };
      await store.setBatch(tx, workspaceId, batchId, outcome);
      // Only now: a long file does not keep other writers waiting while it is read.
      await lockWorkspace(tx, workspaceId);
      await recorded(tx, actor, 'actuals', (record) => {
        record.say(`Checked ${fileName}: ${good} rows can be imported, ${faulty} excluded`);
        record.changed('import', batchId, null, { state: 'previewed' }, batchName(fileName));
        return Promise.resolve();
      });
      return { id: batchId };
    });
  });
}

/** Hashes bytes as they pass. */
function hashed(chunks: AsyncIterable<Buffer>): {
  chunks: AsyncIterable<Buffer>;
  hash(): string;
} {
  const hash = createHash('sha256');
  async function* passing(): AsyncGenerator<Buffer> {
    for await (const chunk of chunks) {
      hash.update(chunk);
      yield chunk;
    }
  }
  return { chunks: passing(), hash: () => hash.digest('hex') };
}
