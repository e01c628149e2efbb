/** Tables in XLSX workbooks, read by the row from a file on disk. */
import { createWriteStream } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { Cell } from '@dravex/core';
import ExcelJS from 'exceljs';
import yauzl from 'yauzl';
import { badRequest, HttpProblem } from '../platform/errors.ts';
import type { RawRow } from './raw-row.ts';

const LARGEST_WORKBOOK = 200 * 1024 ** 2;
/** What a workbook may be when it is unpacked; more is an attack or no planner's file. */
const LARGEST_UNPACKED = 1024 ** 3;
const LARGEST_PART_OF_TEXT = 256 * 1024 ** 2;
const MOST_PARTS = 2000;
/** A part that shrinks to less than this share of itself holds nothing but repetition. */
const HIGHEST_RATIO = 400;
/** Below this size the ratio does not matter. */
const HARMLESS = 32 * 1024 ** 2;
const ROWS_AT_ONCE = 2000;
const MOST_COLUMNS = 16_384;

/** A workbook on disk for as long as it is read. */
export interface Workbook {
  readonly sheets: readonly string[];
  rows(sheet: string): AsyncGenerator<RawRow[]>;
  close(): Promise<void>;
}

/** Says what a file that is no workbook is. */
export function refuseOldWorkbook(): never {
  throw badRequest(
    'The workbook is protected by a password, or in the old binary format; save it as XLSX without a password and upload it again',
  );
}

/**
 * Checks every part of the zip against the limits before anything of it is unpacked: by what its
 * directory declares, and yauzl holds parts to what they declare when they are read.
 */
function checkParts(path: string): Promise<{ names: string[]; workbook: string }> {
  return new Promise((resolve, reject) => {
    const refuse = (message: string): void => reject(badRequest(message));
    yauzl.open(path, { lazyEntries: true, validateEntrySizes: true }, (error, zip) => {
      if (error || !zip) {
        refuse('The workbook cannot be unpacked: it is damaged or not complete; upload it again');
        return;
      }
      const names: string[] = [];
      let unpacked = 0;
      let workbook = '';
      zip.on('error', () =>
        refuse('The workbook cannot be unpacked: it is damaged or not complete; upload it again'),
      );
      zip.on('entry', (entry: yauzl.Entry) => {
        names.push(entry.fileName);
        unpacked += entry.uncompressedSize;
        const ratio = entry.uncompressedSize / Math.max(1, entry.compressedSize);
        const bomb =
          unpacked > LARGEST_UNPACKED ||
          names.length > MOST_PARTS ||
          (entry.fileName.endsWith('sharedStrings.xml') &&
            entry.uncompressedSize > LARGEST_PART_OF_TEXT) ||
          (entry.uncompressedSize > HARMLESS && ratio > HIGHEST_RATIO);
        if (bomb) {
          refuse(
            'The workbook unpacks to far more than it should hold; it was not opened. Save the sheet as CSV instead',
          );
          zip.close();
          return;
        }
        if (entry.isEncrypted()) {
          refuse(
            'The workbook is protected by a password; save it without one and upload it again',
          );
          zip.close();
          return;
        }
        zip.openReadStream(entry, (failed, stream) => {
          if (failed || !stream) {
            refuse('The workbook cannot be unpacked: it is damaged; upload it again');
            return;
          }
          const parts: Buffer[] = [];
          const keep = entry.fileName === 'xl/workbook.xml';
          stream.on('data', (part: Buffer) => {
            if (keep) parts.push(part);
          });
          stream.on('error', () =>
            refuse('The workbook cannot be unpacked: it is damaged; upload it again'),
          );
          stream.on('end', () => {
            if (keep) workbook = Buffer.concat(parts).toString('utf8');
            zip.readEntry();
          });
        });
      });
      zip.on('end', () => resolve({ names, workbook }));
      zip.readEntry();
    });
  });
}

const ENTITIES: Readonly<Record<string, string>> = {
  amp: '&',
  lt: '<',
  gt: '>',
  quot: '"',
  apos: "'",
};

/** The names of the sheets in the order of the workbook. */
function sheetNames(workbook: string): string[] {
  return [...workbook.matchAll(/<(?:\w+:)?sheet\s[^>]*?\bname="([^"]*)"/g)].map(([, name = '']) =>
    name.replace(/&(\w+);/g, (whole, entity: string) => ENTITIES[entity] ?? whole),
  );
}

/**
 * Writes an upload to disk and opens it as a workbook.
 * @throws HttpProblem 400 or 413 for what is none, or is too much
 */
export async function openWorkbook(chunks: AsyncIterable<Buffer>): Promise<Workbook> {
  const folder = await mkdtemp(join(tmpdir(), 'dravex-workbook-'));
  const close = (): Promise<void> => rm(folder, { recursive: true, force: true });
  try {
    const path = join(folder, 'upload.xlsx');
    let size = 0;
    async function* limited(): AsyncGenerator<Buffer> {
      for await (const chunk of chunks) {
        size += chunk.length;
        if (size > LARGEST_WORKBOOK) {
          throw new HttpProblem(
            413,
            'This is too large',
            'The workbook is larger than 200 MB; save the sheet as CSV and upload that',
          );
        }
        yield chunk;
      }
    }
    await pipeline(Readable.from(limited()), createWriteStream(path));
    const { names, workbook } = await checkParts(path);
    const sheets = sheetNames(workbook);
    if (!names.includes('xl/workbook.xml') || sheets.length === 0) {
      throw badRequest('The file is packed, but no XLSX workbook; save it as XLSX or CSV');
    }
    return { sheets, rows: (sheet) => sheetRows(path, sheet), close };
  } catch (error) {
    await close();
    throw error;
  }
}

async function* sheetRows(path: string, sheet: string): AsyncGenerator<RawRow[]> {
  const reader = new ExcelJS.stream.xlsx.WorkbookReader(path, {
    entries: 'ignore',
    sharedStrings: 'cache',
    hyperlinks: 'ignore',
    styles: 'cache',
    worksheets: 'emit',
  });
  let rows: RawRow[] = [];
  try {
    for await (const worksheet of reader) {
      // The name is there, and missing in the types.
      const wanted = (worksheet as unknown as { name: string }).name === sheet;
      for await (const row of worksheet) {
        if (!wanted) continue;
        const cells = cellsOf(row);
        if (cells.length === 0) continue;
        rows.push({ row: row.number, cells });
        if (rows.length === ROWS_AT_ONCE) {
          yield rows;
          rows = [];
        }
      }
    }
  } catch (error) {
    if (error instanceof HttpProblem) throw error;
    throw badRequest(
      'The workbook cannot be read: it is damaged; save it anew and upload it again',
    );
  }
  if (rows.length > 0) yield rows;
}

/** What stands in the cells of a row, from the first column on; nothing for an empty row. */
function cellsOf(row: ExcelJS.Row): Cell[] {
  const cells: Cell[] = [];
  let any = false;
  row.eachCell({ includeEmpty: false }, (cell, column) => {
    if (column > MOST_COLUMNS) return;
    const value = toCell(cell.value);
    if (value === '') return;
    any = true;
    while (cells.length < column - 1) cells.push('');
    cells[column - 1] = value;
  });
  return any ? cells : [];
}

/** What a cell shows: of a formula its result, of a date its day, of rich text the text. */
function toCell(value: ExcelJS.CellValue | undefined): Cell {
  if (value === null || value === undefined) return '';
  // The reader makes a formula's error to no number and forgets which one it was.
  if (typeof value === 'number') return Number.isNaN(value) ? '#ERROR!' : value;
  if (typeof value === 'string') return value.trim();
  if (typeof value === 'boolean') return value ? 'true' : 'false';
  if (value instanceof Date) {
    return Number.isNaN(value.getTime()) ? '' : value.toISOString().slice(0, 10);
  }
  if ('error' in value) return value.error;
  if ('richText' in value)
    return value.richText
      .map(({ text }) => text)
      .join('')
      .trim();
  if ('formula' in value || 'sharedFormula' in value) {
    return value.result === undefined ? '#NO RESULT!' : toCell(value.result);
  }
  if ('text' in value) return toCell(value.text as ExcelJS.CellValue);
  return '';
}
