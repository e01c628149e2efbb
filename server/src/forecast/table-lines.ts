import { MEASURES, type MemberTree, type Plan, type Table, type TableQuery } from '@dravex/core';
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
