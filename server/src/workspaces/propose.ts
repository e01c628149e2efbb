import { importFields, type NewDimension, type WorkspaceProposal } from '@dravex/contract';
import { monthColumns, monthFrom, monthText, plainHeading, readDay, type Cell } from '@dravex/core';
import { customsOf, understand } from '../exchange/reading.ts';
import { openTableFile } from '../exchange/table-file.ts';
import { badRequest } from '../platform/errors.ts';

/** A column with more different values than this is no way to cut sales. */
const MOST_MEMBERS = 2000;
/** How far ahead a first plan looks, in months after the last one with sales. */
const AHEAD = 30;
const CODE = /^[\p{L}\p{N}][\p{L}\p{N}._-]*$/u;

/** `customer group` becomes `customer-group`, which a code may look like. */
function codeOf(heading: string): string {
  return plainHeading(heading)
    .replaceAll(/[^\p{L}\p{N}]+/gu, '-')
    .replaceAll(/^-|-$/g, '');
}

/** A name for a code: `web-shop` becomes `Web shop`. */
function nameOf(code: string): string {
  const words = code.replaceAll(/[-_.]+/g, ' ').trim() || code;
  return words.charAt(0).toUpperCase() + words.slice(1);
}

/** The last month that is over on a day: a day in mid-month leaves its month open. */
function closedOn(day: string): string {
  const month = monthFrom(day.slice(0, 7));
  const tomorrow = new Date(`${day}T00:00:00Z`);
  tomorrow.setUTCDate(tomorrow.getUTCDate() + 1);
  return monthText(tomorrow.getUTCDate() === 1 ? month : month - 1);
}

/** The code of a member: what stands in the file where that is one, else made from it. */
function memberCode(text: string): string {
  return CODE.test(text) ? text : codeOf(text);
}

/** Whether cells hold amounts: nothing is cut by them. */
function isAmount(cells: readonly Cell[]): boolean {
  const filled = cells.filter((cell) => cell !== '').map(String);
  const numbers = filled.every((cell) => /^[-+(]?[\d.,\s]+\)?$/.test(cell));
  return filled.length > 0 && numbers && filled.some((cell) => /[.,]\d/.test(cell));
}

/**
 * Proposes a workspace from a first file of sales lines: every column that is no field of a sales
 * line is a dimension, its values are the members; the calendar runs from the first sale on.
 * @throws HttpProblem 400 for a file that does not hold what a sales line needs
 */
export async function proposeWorkspace(chunks: AsyncIterable<Buffer>): Promise<WorkspaceProposal> {
  const file = await openTableFile(chunks, {});
  try {
    const table = await understand(file, '', importFields('sales', []), {}, customsOf('en'));
    const { reading, sample } = table;
    // A first file is read without anybody saying how, so both amounts are to be found by name.
    const fields = importFields('sales', []);
    const missing =
      reading.shape === 'wide'
        ? table.missing
        : fields.filter(({ need, key }) => need !== 'maybe' && reading.columns[key] === null);
    if (missing.length > 0) {
      const names = missing.map(({ label }) => label.toLowerCase());
      throw badRequest(
        `The header lacks ${names.map((name) => `"${name}"`).join(', ')}; sales lines have a date, a quantity and a net amount, and a column for each way to cut sales`,
        names.map((path) => ({ path, message: 'this column is missing' })),
      );
    }
    const months =
      reading.shape === 'wide' ? monthColumns(reading.header) : new Map<number, string>();
    const taken = new Set(Object.values(reading.columns));
    const columns = reading.header.flatMap((name, place) => {
      const heading = plainHeading(name);
      const other = heading === '' || taken.has(place) || months.has(place);
      if (other || isAmount(sample.map(({ cells }) => cells[place] ?? ''))) return [];
      return [{ heading, place, members: new Map<string, string>(), many: false }];
    });
    if (columns.length === 0) {
      throw badRequest('No column says how sales are cut; add one, such as channel or product');
    }
    const days = new Set([...months.values()].map((month) => `${month}-01`));
    const datePlace = reading.columns['date'] ?? -1;
    let count = 0;
    for await (const batch of table.rows) {
      count += batch.length;
      for (const { cells } of batch) {
        const day = readDay(cells[datePlace] ?? '', reading.dates);
        if (day !== undefined) days.add(day);
        for (const column of columns) {
          const text = String(cells[column.place] ?? '').trim();
          if (text === '' || text.length > 60 || column.many) continue;
          const code = memberCode(text);
          if (CODE.test(code)) column.members.set(code, text);
          if (column.members.size > MOST_MEMBERS) column.many = true;
        }
      }
    }
    const sorted = [...days].sort();
    const [first] = sorted;
    const last = sorted.at(-1);
    if (first === undefined || last === undefined) {
      throw badRequest('No row has a date such as 2026-10-12, so there is no calendar to propose');
    }
    const dimensions: NewDimension[] = columns
      .filter(({ members, many }) => members.size > 0 && !many)
      .map(({ heading, members }) => ({
        code: codeOf(heading),
        name: nameOf(heading),
        members: [...members]
          .sort(([a], [b]) => (a < b ? -1 : 1))
          .map(([code, text]) => ({
            code,
            name: code === text ? nameOf(code) : text,
            parent: null,
          })),
      }));
    if (dimensions.length === 0) {
      throw badRequest('No column holds codes that could be members, such as web-shop or carafe');
    }
    const firstMonth = first.slice(0, 7);
    const closed = closedOn(last);
    const closedThrough = closed < firstMonth ? firstMonth : closed;
    return {
      rows: count,
      calendar: {
        first: firstMonth,
        last: monthText(monthFrom(closedThrough) + AHEAD),
        closedThrough,
        asOf: last,
        fiscalStart: 1,
      },
      dimensions,
    };
  } finally {
    await file.close();
  }
}
