import {
  monthFrom,
  parseMonth,
  PLANNED_FIELDS,
  plannedMovements,
  type BudgetCell,
  type Dimension,
  type PlannedMonth,
  type PlannedProblem,
} from '@dravex/core';
import Papa from 'papaparse';
import { MemberCodes } from '../dimensions/codes.ts';
import { badRequest } from '../platform/errors.ts';

/** A planned cell of a file, with its members instead of a combination. */
export type FileCell = Omit<BudgetCell, 'combination'> & {
  readonly members: number[];
  /** Of a line whose subscriptions are planned. */
  readonly planned?: Pick<PlannedMonth, PlannedField>;
};

const FIGURES = ['units', 'revenue', 'cost'] as const;
type PlannedField = (typeof PLANNED_FIELDS)[number];
/** The headings of what is planned of subscriptions; a file has all of them or none. */
const HEADINGS: Readonly<Record<PlannedField, string>> = {
  active: 'active subscribers',
  starters: 'new subscribers',
  lost: 'lost subscribers',
  recurring: 'recurring revenue',
};

function figure(text: string, digits: number): number | undefined {
  const value = Number(text);
  if (text === '' || !/^-?\d+(\.\d+)?$/.test(text)) return undefined;
  const parts = Math.round(value * 10 ** digits);
  return Number.isSafeInteger(parts) ? parts : undefined;
}

/** The rows of a CSV by their headings, in small letters. @throws HttpProblem 400 */
function readRecords(bytes: Buffer): Record<string, string>[] {
  let text: string;
  try {
    text = new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    throw badRequest('The file cannot be read: it is not UTF-8 text');
  }
  const { data, errors } = Papa.parse<Record<string, string>>(text, {
    header: true,
    skipEmptyLines: 'greedy',
    transformHeader: (name) => name.trim().toLowerCase(),
    transform: (value) => value.trim(),
  });
  const wrong = errors.find(({ type }) => type === 'Quotes' || type === 'FieldMismatch');
  if (wrong) {
    throw badRequest(`The file cannot be read: row ${(wrong.row ?? 0) + 2}: ${wrong.message}`);
  }
  return data;
}

/** What a row plans of a subscription; undefined for a row that leaves all of it empty. */
function readPlanned(
  record: Record<string, string>,
  refuse: (column: string, message: string) => void,
): FileCell['planned'] {
  const texts = PLANNED_FIELDS.map((field) => record[HEADINGS[field]] ?? '');
  if (texts.every((text) => text === '')) return undefined;
  const [active = 0, starters = 0, lost = 0, recurring = 0] = PLANNED_FIELDS.map((field, at) => {
    const text = texts[at] ?? '';
    const value = figure(text, 3);
    if (value === undefined) refuse(HEADINGS[field], `"${text}" is not a number`);
    return (value ?? 0) / 1000;
  });
  return { active, starters, lost, recurring };
}

/** What does not fit together of the subscriptions that a file plans, by the places of its rows. */
function wrongMovements(cells: readonly FileCell[]): PlannedProblem[] {
  const ids = new Map<string, number>();
  const places: number[] = [];
  const months = cells.flatMap(({ members, month, planned }, place) => {
    if (!planned) return [];
    const key = members.join();
    const combination = ids.get(key) ?? ids.size;
    ids.set(key, combination);
    places.push(place);
    return [{ combination, month, ...planned }];
  });
  return plannedMovements(months).problems.map((problem) => ({
    ...problem,
    row: places[problem.row] ?? 0,
  }));
}

/**
 * Reads a version's cells from a CSV: month, one column a dimension, units, revenue and, where it
 * is planned, cost; and for lines whose subscriptions are planned, who is there, who is new, who is
 * lost, and what is paid a month. All of it must be good.
 * @throws HttpProblem 400 naming the first hundred mistakes by row and column
 */
export function readCells(
  bytes: Buffer,
  dimensions: readonly Dimension[],
  minorDigits: number,
): FileCell[] {
  const records = readRecords(bytes);
  const [first] = records;
  if (!first) throw badRequest('The file has no rows; nothing was taken in');
  const headings = dimensions.map(({ code, name }) => [code, name.toLowerCase()] as const);
  const withSubscriptions = Object.values(HEADINGS).some((name) => name in first);
  const missing = [
    ...['month', 'units', 'revenue'].filter((name) => !(name in first)),
    ...(withSubscriptions ? Object.values(HEADINGS).filter((name) => !(name in first)) : []),
    ...headings
      .filter(([code, name]) => !(code in first) && !(name in first))
      .map(([, name]) => name),
  ];
  if (missing.length > 0) {
    throw badRequest(`The header lacks ${missing.map((name) => `"${name}"`).join(' and ')}`);
  }
  const codes = new MemberCodes(dimensions);
  const errors: { path: string; message: string }[] = [];
  const seen = new Set<string>();
  const cells = records.map((record, index) => {
    const row = index + 2;
    const refuse = (column: string, message: string): void => {
      errors.push({ path: `row ${row}, ${column}`, message });
    };
    const heading = new Map(headings);
    const { members, problems } = codes.leaves(
      (code) => record[heading.get(code) ?? code] ?? record[code],
    );
    for (const { dimension, message } of problems) refuse(dimension, message);
    const month = record['month'] ?? '';
    if (parseMonth(month) === undefined)
      refuse('month', `"${month}" is not a month such as 2026-04`);
    const [units, revenue, cost] = FIGURES.map((name) => {
      const text = record[name] ?? '';
      const value = figure(text, name === 'units' ? 3 : minorDigits);
      const optional = name === 'cost' && text === '';
      if (value === undefined && !optional) refuse(name, `"${text}" is not a number`);
      return value;
    });
    const identity = `${month} ${members.join()}`;
    if (seen.has(identity)) refuse('month', 'This combination and month stand here twice');
    seen.add(identity);
    const planned = withSubscriptions ? readPlanned(record, refuse) : undefined;
    return {
      ...(planned ? { planned } : {}),
      members,
      month: parseMonth(month) ?? monthFrom('1970-01'),
      units: (units ?? 0) / 1000,
      revenue: revenue ?? 0,
      cost: cost ?? null,
    };
  });
  for (const { row, field, message } of wrongMovements(cells)) {
    errors.push({ path: `row ${row + 2}, ${HEADINGS[field]}`, message });
  }
  if (errors.length > 0) {
    const [worst] = errors;
    throw badRequest(
      `${errors.length} cells cannot be taken in; the first: ${worst?.path ?? ''}: ${worst?.message ?? ''}`,
      errors.slice(0, 100),
    );
  }
  return cells;
}
