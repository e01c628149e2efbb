import { comparisonOperations, type ComparisonAddress, type Thread } from '@dravex/contract';
import {
  inBoth,
  MEASURES,
  monthText,
  type Comparison,
  type ComparisonRow,
  type Span,
} from '@dravex/core';
import type { Response, Router } from 'express';
import type { LoadedPlan, Plans } from '../plan/plans.ts';
import { aboutTable, columnName, fieldOf } from '../plan/file-numbers.ts';
import { rowHeadings, rowNames, spanName } from '../forecast/table-lines.ts';
import type { CsvLine } from '../platform/csv.ts';
import type { Connections } from '../platform/database.ts';
import { badRequest } from '../platform/errors.ts';
import { routesOf } from '../routing/routes.ts';
import { threadsOf } from '../threads/service.ts';
import { againstOf, comparisonFor } from './service.ts';
import { sendTable, tableFormat, type TableFormat } from '../platform/table-file.ts';

/** Actual against plan, and the same as a file. */
export function comparisonRoutes(connections: Connections, plans: Plans): Router {
  return routesOf(connections, comparisonOperations, {
    readComparison: async ({ actor, query }) => {
      const { comparison, names } = await comparisonFor(connections, plans, actor, query);
      return { ...comparison, names };
    },
    saveComparison: async ({ actor, query, name, response }) => {
      const format = tableFormat(name('format'));
      const found = await comparisonFor(connections, plans, actor, query);
      const threads = await threadsOf(connections.db, actor.workspaceId, 'comparison');
      await sendComparison(response, format, query, { ...found, threads });
    },
  });
}

async function sendComparison(
  response: Response,
  format: TableFormat,
  address: ComparisonAddress,
  {
    comparison,
    loaded,
    names,
    threads,
  }: {
    comparison: Comparison;
    loaded: LoadedPlan;
    threads: readonly Thread[];
    names: { actual: string; plan: string; beside: string[] };
  },
): Promise<void> {
  if (!comparison.span || !comparison.total) {
    throw badRequest(
      `${[names.actual, names.plan, ...names.beside].join(' and ')} have no month of this window in common; there is nothing to compare`,
    );
  }
  const { from, to } = comparison.span;
  const period = spanName({ from, to });
  const { currency } = loaded.plan;
  const name = columnName(address.measure, currency);
  const field = (value: number | null) =>
    fieldOf(value, MEASURES[address.measure].display, currency);
  const said = commentsIn(threads, address, loaded, { from, to });
  const figures = (row: ComparisonRow): CsvLine => [
    period,
    field(row.actual.value),
    field(row.plan.value),
    field(row.variance?.amount ?? null),
    row.variance?.percent ?? null,
    row.variance?.judgement ?? null,
    ...row.beside.flatMap(({ plan, variance }) => [
      field(plan.value),
      field(variance?.amount ?? null),
      variance?.percent ?? null,
    ]),
    ...(said ? [said(row)] : []),
  ];
  const lines: CsvLine[] = [
    [
      ...rowHeadings(loaded.plan, address.rows),
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
      ...rowNames(loaded.model.tree, address.rows, row.scope),
      ...figures(row),
    ]),
    [...address.rows.map((_, place) => (place === 0 ? 'Total' : '')), ...figures(comparison.total)],
  ];
  const months = { from: monthText(from), to: monthText(to) };
  const about = aboutTable(loaded, {
    ...address,
    ...months,
    what: [names.actual, names.plan, ...names.beside].join(' and '),
  });
  await sendTable(response, format, `comparison-${months.from}-${months.to}`, about, lines);
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
