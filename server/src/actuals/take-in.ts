/** Takes a file in as far as a preview: reads, checks and keeps its rows; nothing of it counts yet. */
import { createHash } from 'node:crypto';
import {
  importFields,
  type ImportField,
  type ImportKind,
  type ImportNotes,
  type ReadingChoice,
  type RowProblem,
  type TableLook,
} from '@dravex/contract';
import { likeness, plainHeading, type Cell } from '@dravex/core';
import { MemberCodes } from '../dimensions/codes.ts';
import { CombinationIds, dimensionsOf } from '../dimensions/store.ts';
import { customsOf, understand, type UnderstoodTable } from '../exchange/reading.ts';
import type { Replacements } from '../exchange/row-reader.ts';
import { openTableFile } from '../exchange/table-file.ts';
import { calendarOf } from '../forecast/calendar.ts';
import { answeredOnce, recorded } from '../journal/service.ts';
import { mustPlan, type Actor } from '../people/actor.ts';
import type { Connections, Database } from '../platform/database.ts';
import { badRequest, notFound } from '../platform/errors.ts';
import { lockWorkspace, workspaceById } from '../workspaces/store.ts';
import { SalesCheck, type CheckedLine, type SalesRules } from './sales-check.ts';
import { Staging } from './staging.ts';
import * as store from './store.ts';
import { batchName } from './thing.ts';

/** A file as it is sent, and what its sender says of it. */
export interface SentTable {
  readonly fileName: string;
  readonly kind: ImportKind;
  readonly reading: ReadingChoice | undefined;
  readonly chunks: AsyncIterable<Buffer>;
}

/** How alike a header must be to that of a kept mapping. */
const ALIKE = 0.8;
/** Rows that come with a look. */
const SHOWN_ROWS = 30;

async function workspaceOf(db: Database, workspaceId: number) {
  const workspace = await workspaceById(db, workspaceId);
  if (!workspace) throw notFound('such workspace');
  const dimensions = await dimensionsOf(db, workspaceId);
  return { workspace, dimensions, calendar: calendarOf(workspace) };
}

/** Opens a file, understands it, and lets go of it when the work is done. */
async function withTable<T>(
  db: Database,
  { workspaceId }: Actor,
  { fileName, kind, reading, chunks }: SentTable,
  work: (table: UnderstoodTable, sheets: readonly string[]) => Promise<T>,
): Promise<T> {
  const { workspace, dimensions } = await workspaceOf(db, workspaceId);
  const file = await openTableFile(chunks, reading ?? {});
  try {
    const fields = importFields(kind, dimensions);
    const customs = customsOf(workspace.locale);
    const table = await understand(file, fileName, fields, reading ?? {}, customs);
    return await work(table, file.sheets);
  } finally {
    await file.close();
  }
}

/** Says how a file would be read, and keeps nothing of it. */
export async function lookAt(
  { db }: Connections,
  actor: Actor,
  sent: SentTable,
): Promise<TableLook> {
  mustPlan(actor);
  const { dimensions } = await workspaceOf(db, actor.workspaceId);
  const fields = importFields(sent.kind, dimensions);
  return withTable(db, actor, sent, async ({ reading, detected, missing, sample }, sheets) => {
    const kept = await store.mappings(db, actor.workspaceId);
    const alike = kept
      .filter(({ kind }) => kind === sent.kind)
      .map((mapping) => ({ mapping, like: likeness(mapping.header, reading.header) }))
      .sort((a, b) => b.like - a.like)[0];
    return {
      reading,
      sheets: [...sheets],
      detected: [...detected],
      fields: fields.map(({ key, label, need, content }) => ({ key, label, need, content })),
      missing: missing.map(({ key }) => key),
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
  { reading, missing }: UnderstoodTable,
  fields: readonly ImportField[],
  said: boolean,
): void {
  const names = new Set(fields.flatMap((field) => field.names.map(plainHeading)));
  const named = reading.header.some((heading) => names.has(plainHeading(heading)));
  if (!named && !said) {
    throw badRequest(
      `Row ${reading.headerRow} is no header of sales lines: it should name ${fields
        .filter(({ need }) => need !== 'maybe')
        .map(({ label }) => label.toLowerCase())
        .join(', ')}; nothing was taken in`,
    );
  }
  // Who does not say how a table is to be read expects both quantity and amount to be found.
  const strict = !said && reading.shape === 'long';
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

/** Values that are read as others, by field, as the row reader wants them. */
export function toReplacements(
  list: readonly { field: string; from: string; to: string; row?: number | undefined }[],
): Pick<SalesRules, 'replace' | 'replaceInRow'> {
  const replace = new Map<string, Map<string, string>>();
  const inRow = new Map<number, Map<string, string>>();
  for (const { field, from, to, row } of list) {
    if (row === undefined) replace.set(field, (replace.get(field) ?? new Map()).set(from, to));
    else inRow.set(row, (inRow.get(row) ?? new Map()).set(field, to));
  }
  const fields: Replacements = replace;
  return { replace: fields, ...(inRow.size > 0 ? { replaceInRow: inRow } : {}) };
}

/** What rows of sales lines are checked against. */
export async function salesRules(
  db: Database,
  workspaceId: number,
  reading: SalesRules['reading'],
  document: string,
  replace: Parameters<typeof toReplacements>[0],
): Promise<SalesRules> {
  const { workspace, dimensions, calendar } = await workspaceOf(db, workspaceId);
  return {
    reading,
    fields: importFields('sales', dimensions),
    codes: new MemberCodes(dimensions),
    calendar,
    minorDigits: workspace.minorDigits,
    currency: workspace.currencyCode,
    document,
    usualPrice: await store.usualPrices(db, workspaceId, calendar.closedThrough),
    ...toReplacements(replace),
  };
}

/** Checks rows and keeps them, good or not. */
export async function checkAndKeep(
  check: SalesCheck,
  staging: Staging,
  rows: readonly { row: number; cells: readonly Cell[]; part?: number }[],
): Promise<void> {
  const lines: CheckedLine[] = [];
  for (const { row, cells, part: only } of rows) {
    const parts = only === undefined ? check.reader.partsOf(cells) : [only];
    for (const part of parts) {
      const checked = check.check(cells, row, part);
      if (Array.isArray(checked)) await staging.aside(cells, row, part, checked, false);
      else {
        lines.push(checked);
        if (check.unusual) await staging.aside(cells, row, part, [check.unusual], true);
      }
    }
  }
  await staging.take(lines);
}

/** A line that was taken out again, as a row that was left out. */
function asRow(
  workspaceId: number,
  batchId: number,
  rules: SalesRules,
  line: Awaited<ReturnType<typeof store.dropRepeated>>[number],
  problem: Pick<RowProblem, 'code' | 'message'>,
) {
  const { reading, codes, minorDigits } = rules;
  const money = (minor: string): number => Number(minor) / 10 ** minorDigits;
  const values: Record<string, Cell> = {
    date: line.date,
    quantity: Number(line.quantity),
    'net amount': money(line.net_amount),
    cost: money(line.cost),
    document: line.document,
    'line number': line.line_number,
    customer: line.customer ?? '',
    seller: line.seller ?? '',
  };
  codes.dimensions.forEach(({ code }, place) => {
    values[code] = codes.tree.member(line.members[place] ?? 0).code;
  });
  const cells: Cell[] = reading.header.map(() => '');
  for (const [field, column] of Object.entries(reading.columns)) {
    if (column !== null) cells[column] = values[field] ?? '';
  }
  const own = { row: line.row, field: 'document', value: line.document, ...problem };
  return { workspaceId, batchId, row: line.row, part: -1, taken: false, cells, problems: [own] };
}

/** Leaves lines out that stand in the file twice or count already. @returns how many */
export async function dropDoubles(
  tx: Database,
  workspaceId: number,
  batchId: number,
  rules: SalesRules,
  maybeRepeated: boolean,
): Promise<number> {
  const repeated = maybeRepeated ? await store.dropRepeated(tx, workspaceId, batchId) : [];
  const others = await store.hasOtherLines(tx, workspaceId, batchId);
  const there = others ? await store.dropAlreadyThere(tx, workspaceId, batchId) : [];
  const rows = [
    ...repeated.map((line) =>
      asRow(workspaceId, batchId, rules, line, {
        code: 'repeated-line',
        message: `Line ${line.line_number} of ${line.document} stands in row ${line.first} already`,
      }),
    ),
    ...there.map((line) =>
      asRow(workspaceId, batchId, rules, line, {
        code: 'already-there',
        message: `Line ${line.line_number} of ${line.document} was taken in before`,
      }),
    ),
  ];
  for (let start = 0; start < Math.min(rows.length, 100_000); start += 2000) {
    await store.insertRows(tx, rows.slice(start, start + 2000));
  }
  return rows.length;
}

/**
 * Reads and checks a file of sales lines as it comes. Its good rows are kept without counting, the
 * others stand beside them with their reasons.
 */
export async function previewSales(
  connections: Connections,
  actor: Actor,
  sent: SentTable,
): Promise<number> {
  mustPlan(actor);
  const { workspaceId, personId, requestKey } = actor;
  const { fileName, kind } = sent;
  const { id } = await answeredOnce(connections, personId, requestKey, (tx, client) => {
    const bytes = hashed(sent.chunks);
    return withTable(connections.db, actor, { ...sent, chunks: bytes.chunks }, async (table) => {
      const { dimensions } = await workspaceOf(connections.db, workspaceId);
      mustBeComplete(table, importFields(kind, dimensions), sent.reading?.columns !== undefined);
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
      const known = await store.remembered(connections.db, workspaceId);
      const replace = known.filter((repair) => repair.kind === kind);
      const document = `${fileName.slice(0, 80)} (${batchId})`;
      const rules = await salesRules(connections.db, workspaceId, reading, document, replace);
      const check = new SalesCheck(rules);
      const combinations = new CombinationIds(connections.db, workspaceId);
      const staging = new Staging(client, workspaceId, batchId, combinations);
      let rows = 0;
      try {
        for await (const batch of table.rows) {
          rows += batch.length;
          await checkAndKeep(check, staging, batch);
        }
        await staging.finish();
      } catch (error) {
        await staging.cancel();
        throw error;
      }
      if (rows === 0) throw badRequest('The file has a header and no rows; nothing was taken in');
      const dropped = await dropDoubles(tx, workspaceId, batchId, rules, staging.maybeRepeated);
      if (dropped > 0) await store.sumBatch(tx, workspaceId, batchId);
      else await staging.keepSums(tx);
      const good = staging.good - dropped;
      const faulty = staging.faulty + dropped;
      const notes: ImportNotes = check.notes();
      const fingerprint = bytes.hash();
      const found = { rows: good + faulty, good, faulty, notes, fingerprint };
      await store.setBatch(tx, workspaceId, batchId, found);
      // Only now: a long file does not keep other writers waiting while it is read.
      await lockWorkspace(tx, workspaceId);
      await recorded(tx, actor, 'actuals', (record) => {
        record.say(`Brought in ${fileName}: ${good} good rows, ${faulty} left out`);
        record.changed('import', batchId, null, { state: 'previewed' }, batchName(fileName));
        return Promise.resolve();
      });
      return { id: batchId };
    });
  });
  return id;
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
