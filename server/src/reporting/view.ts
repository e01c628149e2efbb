/** What a saved view shows, made from the plan as it is now; how it is drawn is not known here. */
import type { ViewQuery, ViewWindow } from '@dravex/contract';
import {
  compare,
  fiscalYearOf,
  fiscalYearSpan,
  MEASURES,
  monthFrom,
  monthText,
  rollUp,
  summaryValue,
  type Display,
  type Span,
} from '@dravex/core';
import { readSummary } from '../actuals/summary.ts';
import { sidesOf } from '../comparison/service.ts';
import { forecastLine } from '../forecast/answers.ts';
import { checkFrame } from '../plan/frame.ts';
import type { LoadedPlan, Plans } from '../plan/plans.ts';
import type { Connections } from '../platform/database.ts';
import { badRequest } from '../platform/errors.ts';
import { scopeOf } from './report.ts';

export interface ViewColumn {
  readonly label: string;
  readonly display: Display;
  /** Whether its numbers are not actuals yet. */
  readonly open: boolean;
}

export interface ViewRow {
  readonly label: string;
  readonly level: number;
  /** A number for each column. */
  readonly values: readonly (number | null)[];
}

/** A table with what is to be said of it in one line. */
export interface ViewTable {
  readonly words: string;
  readonly columns: readonly ViewColumn[];
  readonly rows: readonly ViewRow[];
  readonly total: ViewRow;
  /** How many of the columns, from the first, are bars of its chart; 0 where rows are. */
  readonly bars: number;
}

/** The months that a window means now. */
function spanOf({ plan }: LoadedPlan, window: ViewWindow): Span {
  const { first, last, closedThrough, fiscalStart } = plan.calendar;
  const closed = monthFrom(closedThrough);
  const all = { from: monthFrom(first), to: monthFrom(last) };
  const inside = ({ from, to }: Span): Span => ({
    from: Math.min(all.to, Math.max(all.from, from)),
    to: Math.max(all.from, Math.min(all.to, to)),
  });
  if (typeof window === 'object') {
    const span = { from: monthFrom(window.from), to: monthFrom(window.to) };
    if (span.to < span.from) {
      throw badRequest('The window ends before it starts', [
        { path: 'query.window', message: 'it ends before it starts' },
      ]);
    }
    return inside(span);
  }
  const year = fiscalYearSpan(fiscalYearOf(closed, fiscalStart), fiscalStart);
  switch (window) {
    case 'this year':
      return inside(year);
    case 'to date':
      return inside({ from: year.from, to: closed });
    case 'next 12':
      return inside({ from: closed + 1, to: closed + 12 });
    case 'last 12':
      return inside({ from: closed - 11, to: closed });
    case 'all':
      return all;
  }
}

/** Columns of months bear short names; others their own. */
function shortMonths(loaded: LoadedPlan): (month: string) => string {
  const format = new Intl.DateTimeFormat(loaded.locale, {
    month: 'short',
    year: '2-digit',
    timeZone: 'UTC',
  });
  return (month) => format.format(new Date(`${month}-01T00:00:00Z`));
}

/** What stands before the window in the line of words: measure, unit, members. */
function subjectOf(
  { plan, model }: LoadedPlan,
  name: string,
  display: Display,
  scope: readonly number[],
): string {
  const unit = {
    money: `thousand ${plan.currency.code}`,
    units: 'thousand',
    price: plan.currency.code,
    percent: '%',
    score: 'points',
  };
  const members = scope.map((id) => model.tree.member(id).name).join(', ');
  return [name, unit[display], members].filter((part) => part !== '').join(', ');
}

/**
 * Makes the table of a view.
 * @throws HttpProblem 400 for dimensions, members or months that are not there, 404 for a version
 */
export async function makeView(
  connections: Connections,
  plans: Plans,
  workspaceId: number,
  query: ViewQuery,
): Promise<ViewTable> {
  const loaded = await plans.current(workspaceId);
  const scope = scopeOf(loaded, query.members);
  const span = spanOf(loaded, query.window);
  switch (query.of) {
    case 'forecast':
      return forecastView(connections, loaded, workspaceId, query, scope, span);
    case 'sales':
      return salesView(connections, plans, loaded, workspaceId, query, scope, span);
    case 'comparison':
      return comparisonView(connections, loaded, workspaceId, query, scope, span);
  }
}

/** Which sales count, where it is not all of them. */
function counted(origin: 'all' | 'books'): string {
  return origin === 'books' ? ', only what is in the books' : '';
}

/** `2026-W14` becomes `W14`: the years stand in the line above. */
const weekOf = (week: string): string => week.slice(week.indexOf('W'));

type Of<Kind extends ViewQuery['of']> = Extract<ViewQuery, { readonly of: Kind }>;

async function forecastView(
  connections: Connections,
  loaded: LoadedPlan,
  workspaceId: number,
  { measure, rows, columns, grain, origin = 'all', closed = 'actual' }: Of<'forecast'>,
  scope: readonly number[],
  span: Span,
): Promise<ViewTable> {
  const { plan, model } = loaded;
  checkFrame(loaded, rows, scope, columns);
  const asked = { measure, rows, columns, scope, span, grain };
  const counts = { span, grain, origin, closed };
  const figures = await forecastLine(connections, { workspaceId }, loaded, counts);
  const table = rollUp(figures, model.tree, asked, plan.calendar.fiscalStart);
  const end = monthFrom(plan.calendar.closedThrough);
  const month = shortMonths(loaded);
  const { display } = MEASURES[measure];
  const named = (label: string, from: number): string =>
    grain === 'month' ? month(monthText(from)) : grain === 'week' ? weekOf(label) : label;
  const times = table.columns.map(({ label, period }) => ({
    label: period ? named(label, period.from) : label,
    display,
    open: period === null ? span.to > end : period.to > end,
  }));
  const row = ({ label, level, cells, total }: (typeof table)['total']): ViewRow => ({
    label,
    level,
    values: [...cells, total].map(({ value }) => value),
  });
  const subject = subjectOf(loaded, MEASURES[measure].name, display, scope);
  return {
    words: `${subject}; ${monthText(span.from)} to ${monthText(span.to)}, closed through ${plan.calendar.closedThrough}${closed === 'kept' ? ', as forecast when each month was closed' : ''}, forecast after${counted(origin)}`,
    columns: [...times, { label: 'Total', display, open: span.to > end }],
    rows: table.rows.map(row),
    total: row(table.total),
    bars: times.length,
  };
}

async function salesView(
  connections: Connections,
  plans: Plans,
  loaded: LoadedPlan,
  workspaceId: number,
  { measure, rows, columns, origin, assigned }: Of<'sales'>,
  scope: readonly number[],
  span: Span,
): Promise<ViewTable> {
  const summary = await readSummary(
    connections,
    plans,
    { workspaceId },
    {
      rows: [...rows],
      columns,
      from: monthText(span.from),
      to: monthText(span.to),
      scope: [...scope],
      origin,
      compare: 'none',
      assigned,
    },
  );
  const { name, display } = MEASURES[measure];
  const month = shortMonths(loaded);
  const heads = summary.columns.map(({ key, label, partial }) => ({
    label: columns === 'month' ? month(key) : label,
    display,
    // A stretch that is not over is no more final than a forecast.
    open: partial,
  }));
  const row = ({ label, level, cells, total }: (typeof summary)['total']): ViewRow => ({
    label,
    level,
    values: [...cells, total].map((sums) => summaryValue(sums, measure)),
  });
  const books = {
    all: '',
    books: ', only what is in the books',
    hand: ', only what was entered by hand',
  };
  const single = columns === 'none';
  return {
    words: `${subjectOf(loaded, name, display, scope)}; sold ${summary.from} to ${summary.to}${books[origin]}`,
    columns: [...(single ? [] : heads), { label: 'Total', display, open: false }],
    rows: summary.rows.map((one) => cut(row(one), single)),
    total: cut(row(summary.total), single),
    bars: single ? 0 : heads.length,
  };
}

/** A window as one is its own total. */
function cut(row: ViewRow, single: boolean): ViewRow {
  return single ? { ...row, values: row.values.slice(-1) } : row;
}

async function comparisonView(
  connections: Connections,
  loaded: LoadedPlan,
  workspaceId: number,
  { measure, rows, held = 'actual', against, version, origin = 'all' }: Of<'comparison'>,
  scope: readonly number[],
  span: Span,
): Promise<ViewTable> {
  const { model } = loaded;
  checkFrame(loaded, rows, scope);
  const where = { connections, actor: { workspaceId }, loaded, origin };
  if (against === undefined && version === undefined) {
    const message = 'Say what it is held against: a version, or another source as against';
    throw badRequest(message, [{ path: 'query.against', message }]);
  }
  const sides = await sidesOf(where, held, against ?? `version:${version ?? 0}`);
  const { name } = sides.plan;
  const { name: first } = sides.actual;
  const query = { measure, rows, scope, span };
  const made = compare(sides.actual.figures, sides.plan.figures, model.tree, query, sides.covered);
  const { display } = MEASURES[measure];
  const column = (label: string, as: Display = display): ViewColumn => ({
    label,
    display: as,
    open: false,
  });
  const row = ({
    label,
    level,
    actual,
    plan: kept,
    variance,
  }: (typeof made)['rows'][number]): ViewRow => ({
    label,
    level,
    values: [actual.value, kept.value, variance?.amount ?? null, variance?.percent ?? null],
  });
  const months = made.span
    ? `${monthText(made.span.from)} to ${monthText(made.span.to)}`
    : 'no month of the window is on both sides';
  return {
    words: `${subjectOf(loaded, MEASURES[measure].name, display, scope)}; ${months}, ${first.toLowerCase()} less ${name}${counted(origin)}`,
    columns: [column(first), column(name), column('Variance'), column('in %', 'percent')],
    rows: made.rows.map(row),
    total: made.total
      ? row(made.total)
      : { label: 'Total', level: 0, values: [null, null, null, null] },
    bars: 0,
  };
}
