import {
  MEASURES,
  monthText,
  type MeasuredQuery,
  type MeasuredTable,
  type MemberTree,
  type Plan,
  type Span,
  type Table,
  type TableCell,
  type TableQuery,
} from '@dravex/core';
import type { CsvLine } from '../platform/csv.ts';
import { columnName, fieldOf, unitName } from '../plan/file-numbers.ts';

/** The members of a row in words, one column a row dimension; totals leave the inner ones empty. */
export function rowNames(
  tree: MemberTree,
  rows: readonly string[],
  scope: readonly number[],
): string[] {
  return rows.map((code) => {
    const memberOfDimension = scope.find(
      (id) => tree.dimensions[tree.dimensionOf(id)]?.code === code,
    );
    if (memberOfDimension === undefined) return '';
    return tree
      .path(memberOfDimension)
      .map((id) => tree.member(id).name)
      .join(' > ');
  });
}

/** The headings of the row dimensions. */
export function rowHeadings(plan: Pick<Plan, 'dimensions'>, rows: readonly string[]): string[] {
  return rows.map((code) => plan.dimensions.find((d) => d.code === code)?.name ?? code);
}

/** The months of a table in words. */
export function spanName({ from, to }: Span): string {
  return from === to ? monthText(from) : `${monthText(from)} to ${monthText(to)}`;
}

/**
 * A table as lines of a file: a header that names measure, unit, version and period of each column,
 * every row, and the total. Money has its currency's digits.
 * @param version what the numbers are: the forecast, or a kept version by its name
 */
export function* tableLines(
  table: Table,
  query: TableQuery,
  plan: Plan,
  tree: MemberTree,
  version: string,
): Generator<CsvLine> {
  const { display } = MEASURES[query.measure];
  const name = `${columnName(query.measure, plan.currency)}, ${version}`;
  const whole = spanName(query.span);
  const field = ({ value }: TableCell) => fieldOf(value, display, plan.currency);
  yield [
    ...rowHeadings(plan, query.rows),
    ...table.columns.map(({ label, period }) =>
      period ? `${name}, ${label}` : `${name}, ${label}, ${whole}`,
    ),
    `${name}, total ${whole}`,
  ];
  for (const row of table.rows) {
    yield [...rowNames(tree, query.rows, row.scope), ...row.cells.map(field), field(row.total)];
  }
  const { cells, total } = table.total;
  const heads = query.rows.map((_, place) => (place === 0 ? 'Total' : ''));
  yield [...heads, ...cells.map(field), field(total)];
}

/** A table of several measures as lines of a file; where measures stand on rows, each is named. */
export function* measuredLines(
  { columns, rows, totals }: MeasuredTable,
  query: MeasuredQuery,
  plan: Plan,
  tree: MemberTree,
  version: string,
): Generator<CsvLine> {
  const across = query.columns === 'measures';
  const whole = spanName(query.span);
  const heading = ({ label, period, measure }: MeasuredTable['columns'][number]): string => {
    if (measure) return `${columnName(measure, plan.currency)}, ${version}, ${whole}`;
    return period ? `${version}, ${label}` : `${version}, ${label}, ${whole}`;
  };
  yield [
    ...rowHeadings(plan, query.rows),
    ...(across ? [] : ['Measure', 'Unit']),
    ...columns.map(heading),
    ...(across ? [] : [`${version}, total ${whole}`]),
  ];
  const numbers = ({ measure, cells, total }: MeasuredTable['rows'][number]): CsvLine => {
    const field = ({ value }: TableCell, code = measure) =>
      fieldOf(value, MEASURES[code].display, plan.currency);
    return [
      ...(across ? [] : [MEASURES[measure].name, unitName(measure, plan.currency)]),
      ...cells.map((cell, place) => field(cell, columns[place]?.measure)),
      ...(across ? [] : [field(total)]),
    ];
  };
  for (const row of rows) yield [...rowNames(tree, query.rows, row.scope), ...numbers(row)];
  const heads = query.rows.map((_, place) => (place === 0 ? 'Total' : ''));
  for (const row of totals) yield [...heads, ...numbers(row)];
}
