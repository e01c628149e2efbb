import { SALES_LINE_FIELDS, type NewDimension, type WorkspaceProposal } from '@dravex/contract';
import { monthFrom, monthText } from '@dravex/core';
import { openTable } from '../actuals/open-table.ts';
import { plainHeading } from '../actuals/read-file.ts';
import { badRequest } from '../platform/errors.ts';

/** A column with more different values than this is no way to cut sales. */
const MOST_MEMBERS = 2000;
/** How far ahead a first plan looks, in months after the last one with sales. */
const AHEAD = 30;
const DAY = /^\d{4}-(0[1-9]|1[0-2])-(0[1-9]|[12]\d|3[01])$/;
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

/**
 * Proposes a workspace from a first file of sales lines: every column that is no field of a sales
 * line is a dimension, its values are the members; the calendar runs from the first sale on.
 * @throws HttpProblem 400 for a file that does not hold what a sales line needs
 */
export async function proposeWorkspace(chunks: AsyncIterable<Buffer>): Promise<WorkspaceProposal> {
  const { header, batches } = await openTable(chunks);
  const headings = header.map(plainHeading);
  const missing = SALES_LINE_FIELDS.filter((field) => !headings.includes(field));
  if (missing.length > 0) {
    throw badRequest(
      `The header lacks ${missing.map((field) => `"${field}"`).join(', ')}; a sales line has ${SALES_LINE_FIELDS.join(', ')}, and a column for each way to cut sales`,
      missing.map((field) => ({ path: field, message: 'this column is missing' })),
    );
  }
  const columns = headings.flatMap((heading, place) =>
    (SALES_LINE_FIELDS as readonly string[]).includes(heading) || heading === ''
      ? []
      : [{ heading, place, codes: new Set<string>() }],
  );
  if (columns.length === 0) {
    throw badRequest('No column says how sales are cut; add one, such as channel or product');
  }
  const datePlace = headings.indexOf('date');
  let first = '9999-12-31';
  let last = '';
  let count = 0;
  for await (const batch of batches) {
    count += batch.length;
    for (const { cells } of batch) {
      const day = cells[datePlace] ?? '';
      if (DAY.test(day)) {
        if (day < first) first = day;
        if (day > last) last = day;
      }
      for (const { place, codes } of columns) {
        const code = cells[place] ?? '';
        if (CODE.test(code) && code.length <= 60 && codes.size <= MOST_MEMBERS) codes.add(code);
      }
    }
  }
  if (last === '') {
    throw badRequest('No row has a date such as 2026-10-12, so there is no calendar to propose');
  }
  const firstMonth = first.slice(0, 7);
  const closed = closedOn(last);
  const closedThrough = closed < firstMonth ? firstMonth : closed;
  const dimensions: NewDimension[] = columns
    .filter(({ codes }) => codes.size > 0 && codes.size <= MOST_MEMBERS)
    .map(({ heading, codes }) => ({
      code: codeOf(heading),
      name: nameOf(heading),
      members: [...codes].sort().map((code) => ({ code, name: nameOf(code), parent: null })),
    }));
  if (dimensions.length === 0) {
    throw badRequest('No column holds codes that could be members, such as web-shop or carafe');
  }
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
}
