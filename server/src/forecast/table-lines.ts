import {
  MEASURED,
  MEASURES,
  type MeasuredQuery,
  type MeasuredTable,
  type MemberTree,
  type Plan,
  type Table,
  type TableQuery,
} from '@dravex/core';
import type { CsvLine } from '../platform/csv.ts';

/** The members of a row in words, one column a row dimension; totals leave the inner ones empty. */
export function rowNames(
  tree: MemberTree,
  rows: readonly string[],
  scope: readonly number[],
): string[] {
  return rows.map((code) => {
    const own = scope.find((id) => tree.dimensions[tree.dimensionOf(id)]?.code === code);
    if (own === undefined) return '';
    return tree
      .path(own)
      .map((id) => tree.member(id).name)
      .join(' > ');
  });
}

/** The headings of the row dimensions. */
export function rowHeadings(plan: Plan, rows: readonly string[]): string[] {
  return rows.map((code) => plan.dimensions.find((d) => d.code === code)?.name ?? code);
}

/** A table as lines of a file: a header, every row, and the total. */
export function* tableLines(
  table: Table,
  query: TableQuery,
  plan: Plan,
  tree: MemberTree,
): Generator<CsvLine> {
  const measure = MEASURES[query.measure];
  yield [
    ...rowHeadings(plan, query.rows),
    ...table.columns.map(({ label }) => label),
    `${measure.name}, total`,
  ];
  for (const row of table.rows) {
    yield [
      ...rowNames(tree, query.rows, row.scope),
      ...row.cells.map(({ value }) => value),
      row.total.value,
    ];
  }
  const { cells, total } = table.total;
  const heads = query.rows.map((_, place) => (place === 0 ? 'Total' : ''));
  yield [...heads, ...cells.map(({ value }) => value), total.value];
}

/** A table of several measures as lines of a file; where measures stand on rows, each is named. */
export function* measuredLines(
  { columns, rows, totals }: MeasuredTable,
  query: MeasuredQuery,
  plan: Plan,
  tree: MemberTree,
): Generator<CsvLine> {
  const across = query.columns === 'measures';
  yield [
    ...rowHeadings(plan, query.rows),
    ...(across ? [] : ['Measure']),
    ...columns.map(({ label }) => label),
    ...(across ? [] : ['Total']),
  ];
  const numbers = ({ measure, cells, total }: MeasuredTable['rows'][number]): CsvLine => [
    ...(across ? [] : [MEASURED[measure].name]),
    ...cells.map(({ value }) => value),
    ...(across ? [] : [total.value]),
  ];
  for (const row of rows) yield [...rowNames(tree, query.rows, row.scope), ...numbers(row)];
  const heads = query.rows.map((_, place) => (place === 0 ? 'Total' : ''));
  for (const row of totals) yield [...heads, ...numbers(row)];
}
