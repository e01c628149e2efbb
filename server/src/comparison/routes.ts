import { comparisonOperations, type ComparisonAddress, type Thread } from '@dravex/contract';
import {
  inBoth,
  MEASURES,
  monthText,
  type ComparedAcross,
  type ComparisonRow,
  type Span,
} from '@dravex/core';
import type { Response, Router } from 'express';
import type { LoadedPlan, Plans } from '../plan/plans.ts';
import { aboutTable, columnName, fieldOf } from '../plan/file-numbers.ts';
import { rowHeadings, rowNames, spanName } from '../forecast/table-lines.ts';
import { Derived, type CsvField, type CsvLine, type Figure } from '../platform/csv.ts';
import type { Connections } from '../platform/database.ts';
import { badRequest } from '../platform/errors.ts';
import { routesOf } from '../routing/routes.ts';
import { threadsOf } from '../threads/store.ts';
import { againstOf, comparisonFor } from './service.ts';
import { sendTable, tableFormat, type TableFormat } from '../platform/table-file.ts';
import { afterOthers } from '../platform/pauses.ts';

/** Actual against plan, and the same as a file. */
export function comparisonRoutes(connections: Connections, plans: Plans): Router {
  return routesOf(connections, comparisonOperations, (connections) => ({
    readComparison: async ({ actor, query }) => {
      const { comparison, across, names } = await comparisonFor(connections, plans, actor, query);
      return { ...comparison, ...(across ? { across } : {}), names };
    },
    saveComparison: async ({ actor, query, name, response }) => {
      const format = tableFormat(name('format'));
      const found = await comparisonFor(connections, plans, actor, query);
      const threads = await threadsOf(connections.db, actor.workspaceId, 'comparison');
      await sendComparison(response, format, query, { ...found, threads });
    },
  }));
}

/** Both sides and how they differ, which a workbook works out from them. */
function sidesOfLine(
  { actual, plan, variance }: Pick<ComparisonRow, 'actual' | 'plan' | 'variance'>,
  field: (value: number | null) => CsvField,
  /** Where the first side stands in its line, and what it is held against. */
  [of, against]: readonly [number, number],
): { sides: [CsvField, CsvField]; differences: [CsvField, CsvField] } {
  const number = (value: number | null) => field(value) as number | Figure | null;
  return {
    sides: [field(actual.value), field(plan.value)],
    differences: [
      new Derived(number(variance?.amount ?? null), (cell) => `${cell(of)}-${cell(against)}`),
      new Derived(
        variance?.percent ?? null,
        (cell) => `(${cell(of)}-${cell(against)})/ABS(${cell(against)})`,
      ),
    ],
  };
}

async function sendComparison(
  response: Response,
  format: TableFormat,
  address: ComparisonAddress,
  found: Awaited<ReturnType<typeof comparisonFor>> & { threads: readonly Thread[] },
): Promise<void> {
  const { comparison, across, loaded, names } = found;
  const { span } = comparison;
  if (!span || !comparison.total) {
    throw badRequest(
      `${[names.actual, names.plan, ...names.beside].join(' and ')} have no month of this window in common; there is nothing to compare`,
    );
  }
  // What was compared, what is written of it, and the writing itself: others come in between.
  await afterOthers();
  const lines = across ? linesAcross(address, across, found) : linesBeside(address, found, span);
  const months = { from: monthText(span.from), to: monthText(span.to) };
  const about = aboutTable(loaded, {
    ...address,
    ...months,
    what: [names.actual, names.plan, ...names.beside].join(' and '),
  });
  await afterOthers();
  await sendTable(response, format, `comparison-${months.from}-${months.to}`, about, lines);
}

type Found = Pick<
  Awaited<ReturnType<typeof comparisonFor>>,
  'comparison' | 'loaded' | 'laid' | 'names'
>;

/** The total's names: the first says so. */
const totalNames = (rows: readonly string[]): CsvLine =>
  rows.map((_, place) => (place === 0 ? 'Total' : ''));

/** Lines with several columns of both sides: what is not compared stays empty. */
function linesAcross(
  { rows: by }: ComparisonAddress,
  { columns, rows, total }: ComparedAcross,
  { loaded, laid, names }: Found,
): CsvLine[] {
  const { currency } = loaded.plan;
  const head = by.length;
  /** Both sides with two differences, and of each other one its number with two more. */
  const wide = 4 + names.beside.length * 3;
  const figures = ({ cells }: ComparedAcross['rows'][0]): CsvLine =>
    columns.flatMap(({ measure }, place): CsvField[] => {
      const cell = cells[place];
      if (!cell) return Array.from({ length: wide }, () => null);
      const at = head + place * wide;
      const field = (value: number | null) => fieldOf(value, MEASURES[measure].display, currency);
      const { sides, differences } = sidesOfLine(cell, field, [at, at + 1]);
      const others = cell.beside.flatMap((held, other) => {
        const both = { ...held, actual: cell.actual };
        const found = sidesOfLine(both, field, [at, at + 4 + other * 3]);
        return [found.sides[1], ...found.differences];
      });
      return [...sides, ...differences, ...others];
    });
  return [
    [
      ...rowHeadings(laid, by),
      ...columns.flatMap(({ period, measure, span }) => {
        const when = period?.key ?? (span ? spanName(span) : '');
        const name = `${columnName(measure, currency)}, ${when}`;
        return [
          `${names.actual}, ${name}`,
          `${names.plan}, ${name}`,
          `Variance, ${name}`,
          `Variance, fraction, ${name}`,
          ...names.beside.flatMap((other) => [
            `${other}, ${name}`,
            `Variance from ${other}, ${name}`,
            `Variance from ${other}, fraction, ${name}`,
          ]),
        ];
      }),
    ],
    ...rows.map((row) => [...rowNames(laid.tree, by, row.scope), ...figures(row)]),
    ...(total ? [[...totalNames(by), ...figures(total)]] : []),
  ];
}

/** Lines with the sides of one stretch beside each other. */
function linesBeside(
  address: ComparisonAddress,
  { comparison, loaded, laid, names, threads }: Found & { threads: readonly Thread[] },
  span: Span,
): CsvLine[] {
  const { currency } = loaded.plan;
  const name = columnName(address.measure, currency);
  const field = (value: number | null) =>
    fieldOf(value, MEASURES[address.measure].display, currency);
  // What is said of people's differences is said nowhere.
  const said =
    laid.tree === loaded.model.tree ? commentsIn(threads, address, loaded, span) : undefined;
  const head = address.rows.length;
  const [of, against, beside] = [head + 1, head + 2, head + 6];
  const figures = (row: ComparisonRow): CsvLine => {
    const { sides, differences } = sidesOfLine(row, field, [of, against]);
    return [
      spanName(span),
      ...sides,
      ...differences,
      row.variance?.judgement ?? null,
      ...row.beside.flatMap((held, place) => {
        const other = sidesOfLine({ ...held, actual: row.actual }, field, [of, beside + place * 3]);
        return [other.sides[1], ...other.differences];
      }),
      ...(said ? [said(row)] : []),
    ];
  };
  return [
    [
      ...rowHeadings(laid, address.rows),
      'Period',
      `${names.actual}, ${name}`,
      `${names.plan}, ${name}`,
      `Variance, ${name}`,
      'Variance, fraction',
      'Judgement',
      ...names.beside.flatMap((other) => [
        `${other}, ${name}`,
        `Variance from ${other}, ${name}`,
        `Variance from ${other}, fraction`,
      ]),
      ...(said ? ['Comments'] : []),
    ],
    ...comparison.rows.map((row) => [
      ...rowNames(laid.tree, address.rows, row.scope),
      ...figures(row),
    ]),
    ...(comparison.total ? [[...totalNames(address.rows), ...figures(comparison.total)]] : []),
  ];
}

/** What was said of the differences of these months, line by line; undefined where nobody did. */
function commentsIn(
  threads: readonly Thread[],
  address: ComparisonAddress,
  { model }: LoadedPlan,
  span: Span,
): ((row: ComparisonRow) => string) | undefined {
  const { of, measure } = address;
  const against = againstOf(address);
  const [from, to] = [monthText(span.from), monthText(span.to)];
  const key = (scope: readonly number[]): string => scope.toSorted((a, b) => a - b).join();
  const found = threads.filter(
    (one) =>
      one.source === of &&
      one.against === against &&
      one.measure === measure &&
      one.from === from &&
      one.to === to,
  );
  if (found.length === 0) return undefined;
  const byScope = new Map(found.map((one) => [key(one.scope), one]));
  return (row) => {
    const thread = byScope.get(key(inBoth(model.tree, row.scope, address.scope)));
    const comments = thread?.comments.map(({ by, text }) => `${by}: ${text}`) ?? [];
    return [...comments, ...(thread?.resolved ? ['resolved'] : [])].join('; ');
  };
}
