/** Summaries of sales lines on demand: grouped in the database, made into tables by the core. */
import type { Summary, SummaryAddress } from '@dravex/contract';
import {
  addDays,
  bucketOf,
  inScope,
  isDayGrain,
  lastDayOf,
  monthFrom,
  monthText,
  shiftedPlaces,
  spanBefore,
  summarise,
  MEASURES,
  SUMMARY_CODES,
  type SalesSums,
  summaryValue,
  timeColumns,
  unlikeSpans,
  type Days,
  type SummaryGroup,
  type SummaryMeasure,
  type SummaryRow,
} from '@dravex/core';
import { sql, type SQL } from 'drizzle-orm';
import type { Response } from 'express';
import { checkFrame } from '../plan/frame.ts';
import type { LoadedPlan, Plans } from '../plan/plans.ts';
import type { Actor } from '../people/actor.ts';
import { aboutTable, columnName, fieldOf } from '../plan/file-numbers.ts';
import type { Connections, Database } from '../platform/database.ts';
import { badRequest } from '../platform/errors.ts';
import { COUNTED } from './store.ts';
import { sendTable, type TableFormat } from '../platform/table-file.ts';

/** More columns than this are nobody's table. */
const MOST_COLUMNS = 400;

interface Grouped extends Record<string, unknown> {
  members: number[];
  bucket: string;
  units: number;
  revenue: number;
  cost: number;
  lines: number;
  byHand: number;
}

/**
 * Groups what was sold by row members and day, week or month. Whole months come from the monthly
 * summary, days and weeks and months that are cut from the lines.
 */
async function grouped(
  db: Database,
  loaded: LoadedPlan,
  workspaceId: number,
  address: SummaryAddress,
  days: Days,
  positions: readonly number[],
): Promise<Grouped[]> {
  const { plan, model } = loaded;
  const grain = isDayGrain(address.columns) ? address.columns : 'none';
  const fromMonth = days.from.endsWith('-01');
  const toMonth = days.to === lastDayOf(days.to.slice(0, 7));
  const fine = grain === 'day' || grain === 'week' || address.assigned === 'now';
  const held =
    address.scope.length === 0
      ? undefined
      : [...inScope(model.tree, plan.combinations, address.scope)].map(
          (index) => plan.combinations[index]?.id ?? -1,
        );
  const assignedNow = address.assigned === 'now';
  // Members as they stand, or those that customers belong to now.
  const member = (position: number): SQL =>
    assignedNow
      ? sql`coalesce((select a.member_id from assignment a join dimension d
            on d.workspace_id = a.workspace_id and d.id = a.dimension_id
          where a.workspace_id = s.workspace_id and d.position = ${position}
            and a.customer = s.customer order by a."from" desc limit 1),
          c.members[${position + 1}])`
      : sql`c.members[${position + 1}]`;
  const list =
    positions.length === 0
      ? sql`array[]::int[]`
      : sql`array[${sql.join(positions.map(member), sql`, `)}]`;
  const month = sql`to_char(s.month, 'YYYY-MM')`;
  // Lines are summed by the first day of their stretch of time before any text is made of it.
  const day =
    grain === 'day'
      ? sql`l.date`
      : grain === 'week'
        ? sql`l.date - (extract(isodow from l.date)::int - 1)`
        : sql`date_trunc('month', l.date)::date`;
  const line =
    grain === 'day'
      ? sql`to_char(s.day, 'YYYY-MM-DD')`
      : grain === 'week'
        ? sql`to_char(s.day, 'IYYY-"W"IW')`
        : sql`to_char(s.day, 'YYYY-MM')`;
  const bucket = (bucketOfDay: SQL): SQL => (grain === 'none' ? sql`'all'` : bucketOfDay);
  const limits = (of: SQL): SQL => sql`${of}.workspace_id = ${workspaceId}
    ${address.origin === 'all' ? sql`` : sql`and ${of}.origin = ${address.origin}`}
    ${held === undefined ? sql`` : sql`and ${of}.combination_id = any(${sql.param(held)}::int[])`}`;
  const fromMonths = (first: string, last: string): SQL => sql`
    select ${list} as members, ${bucket(month)} as bucket, sum(s.quantity)::float8 as units,
      sum(s.net_amount)::float8 as revenue, sum(s.cost)::float8 as cost, sum(s.lines)::float8 as lines,
      coalesce(sum(s.lines) filter (where s.origin = 'hand'), 0)::float8 as "byHand"
    from sales_month s join combination c
      on c.workspace_id = s.workspace_id and c.id = s.combination_id
    where ${limits(sql`s`)} and s.month >= ${first}::date and s.month <= ${last}::date
    group by 1, 2`;
  const fromLines = (first: string, last: string): SQL => sql`
    with s as materialized (
      select l.workspace_id, l.combination_id, ${assignedNow ? sql`l.customer` : sql`null`} as customer,
        ${grain === 'none' ? sql`null::date` : day} as day, sum(l.quantity) as quantity,
        sum(l.net_amount) as net_amount, sum(l.cost) as cost, count(*) as lines,
        count(*) filter (where l.origin = 'hand') as by_hand
      from ${COUNTED} l
      where ${limits(sql`l`)} and l.date >= ${first}::date and l.date <= ${last}::date
      group by 1, 2, 3, 4)
    select ${list} as members, ${bucket(line)} as bucket, sum(s.quantity)::float8 as units,
      sum(s.net_amount)::float8 as revenue, sum(s.cost)::float8 as cost, sum(s.lines)::float8 as lines,
      sum(s.by_hand)::float8 as "byHand"
    from s join combination c on c.workspace_id = s.workspace_id and c.id = s.combination_id
    group by 1, 2`;
  const parts: SQL[] = [];
  const openMonth = `${plan.calendar.asOf.slice(0, 7)}-01`;
  if (fine || !fromMonth) parts.push(fromLines(days.from, days.to));
  else if (toMonth || days.to >= plan.calendar.asOf) {
    // No line lies after the as-of date, so its month is whole as far as it goes.
    parts.push(fromMonths(days.from, days.to > openMonth ? openMonth : days.to));
  } else {
    const last = `${days.to.slice(0, 7)}-01`;
    if (last > days.from) parts.push(fromMonths(days.from, addDays(last, -1)));
    parts.push(fromLines(last, days.to));
  }
  const answers = await Promise.all(parts.map((query) => db.execute<Grouped>(query)));
  return answers.flatMap(({ rows }) => rows);
}

/** The groups of one span as the core sums them. */
function toGroups(
  rows: readonly Grouped[],
  loaded: LoadedPlan,
  address: SummaryAddress,
  columns: ReadonlyMap<string, number>,
  positions: readonly number[],
  before: boolean,
): SummaryGroup[] {
  const { plan, model } = loaded;
  const { fiscalStart } = plan.calendar;
  const minor = 10 ** plan.currency.minorDigits;
  const grain = isDayGrain(address.columns) ? address.columns : undefined;
  const rowCount = address.rows.length;
  return rows.flatMap((row) => {
    const members = plan.dimensions.map(() => -1);
    positions.slice(0, rowCount).forEach((position, place) => {
      members[position] = row.members[place] ?? -1;
    });
    let key = row.bucket;
    if (grain === undefined) {
      const leaf = row.members[positions.length - 1] ?? -1;
      key = String(model.tree.has(leaf) ? (model.tree.path(leaf)[0] ?? leaf) : leaf);
    } else if (grain === 'quarter' || grain === 'year') {
      key = bucketOf(`${row.bucket}-01`, grain, fiscalStart);
    }
    const column = columns.get(key);
    if (column === undefined) return [];
    const sums = {
      units: row.units,
      revenue: row.revenue / minor,
      cost: row.cost / minor,
      lines: row.lines,
      byHand: row.byHand,
    };
    return [{ members, column, sums, before }];
  });
}

/** A summary as it is made; it is answered as it is. */
export type MadeSummary = Omit<Summary, 'rows' | 'total'> & {
  readonly rows: readonly SummaryRow[];
  readonly total: SummaryRow;
};

/** The most summaries that are kept of one revision. */
const MOST_KEPT = 100;
/** Summaries by what was asked; they go with the revision of the plan that they belong to. */
const kept = new WeakMap<LoadedPlan, Map<string, Promise<MadeSummary>>>();

/**
 * Sums of sales lines by rows and columns, with the span a year before where it is asked for. Asked
 * again before anything changed, it is the same one.
 */
export async function readSummary(
  { lasting: { db } }: Pick<Connections, 'lasting'>,
  plans: Plans,
  { workspaceId }: Pick<Actor, 'workspaceId'>,
  address: SummaryAddress,
): Promise<MadeSummary> {
  const loaded = await plans.current(workspaceId);
  const ofRevision = kept.get(loaded) ?? new Map<string, Promise<MadeSummary>>();
  kept.set(loaded, ofRevision);
  const key = JSON.stringify(address);
  const answeredBefore = ofRevision.get(key);
  if (answeredBefore) return answeredBefore;
  const made = makeSummary(db, loaded, workspaceId, address);
  const [oldest] = ofRevision.keys();
  if (ofRevision.size >= MOST_KEPT && oldest !== undefined) ofRevision.delete(oldest);
  ofRevision.set(key, made);
  // What failed is asked anew.
  made.catch(() => ofRevision.delete(key));
  return made;
}

async function makeSummary(
  db: Database,
  loaded: LoadedPlan,
  workspaceId: number,
  address: SummaryAddress,
): Promise<MadeSummary> {
  const { plan, model } = loaded;
  const grain = isDayGrain(address.columns) ? address.columns : undefined;
  checkFrame(loaded, address.rows, address.scope, grain === undefined ? address.columns : 'time');
  if (grain === undefined && address.rows.includes(address.columns)) {
    throw badRequest('A dimension stands on the rows or on the columns, not on both', [
      { path: 'columns', message: 'it is on the rows already' },
    ]);
  }
  if (address.from > address.to) {
    throw badRequest('The window ends before it starts', [
      { path: 'to', message: 'it ends before it starts' },
    ]);
  }
  const { asOf, first, fiscalStart } = plan.calendar;
  const end = lastDayOf(address.to);
  const whole: Days = { from: `${address.from}-01`, to: end > asOf ? asOf : end };
  const days: Days = whole.to < whole.from ? { from: whole.from, to: whole.from } : whole;
  const named = [...address.rows, ...(grain === undefined ? [address.columns] : [])];
  const positions = named.map((code) => plan.dimensions.findIndex((d) => d.code === code));

  const columns: Summary['columns'] =
    grain === undefined
      ? memberColumns(loaded, address.columns)
      : timeColumns(days, grain, fiscalStart);
  if (columns.length > MOST_COLUMNS) {
    throw badRequest(
      `This would be ${columns.length} columns; choose a shorter window, or weeks or months`,
      [{ path: 'columns', message: 'too many columns' }],
    );
  }
  const placeOf = new Map(columns.map(({ key }, place) => [key, place]));
  const groupedLines = grouped(db, loaded, workspaceId, address, days, positions);
  const span = spanBefore(days, grain ?? 'none');
  const compared = address.compare === 'yearBefore' && span.to >= `${first}-01`;
  const earlier = compared ? grouped(db, loaded, workspaceId, address, span, positions) : [];
  const [ownRows, earlierRows] = await Promise.all([groupedLines, earlier]);
  const placeBefore =
    grain === undefined ? placeOf : shiftedPlaces(span, grain, fiscalStart, columns.length);
  const groups = [
    ...toGroups(ownRows, loaded, address, placeOf, positions, false),
    ...toGroups(earlierRows, loaded, address, placeBefore, positions, true),
  ];
  const made = summarise(model.tree, address.rows, columns.length, groups);
  return {
    columns,
    ...made,
    from: days.from,
    to: days.to,
    before: compared ? span : null,
    warning: address.compare === 'yearBefore' ? unlikeSpans(days, span, `${first}-01`, grain) : '',
  };
}

function memberColumns({ plan }: LoadedPlan, code: string): Summary['columns'] {
  const dimension = plan.dimensions.find((one) => one.code === code);
  return (dimension?.members ?? [])
    .filter(({ parent }) => parent === null)
    .map(({ id, name }) => ({
      key: String(id),
      label: name,
      from: null,
      to: null,
      partial: false,
    }));
}

/** Writes a summary as a file: a row a line, the measures of each column side by side. */
export async function writeSummary(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  { measures, ...address }: SummaryAddress & { measures: readonly string[] },
  format: TableFormat,
  response: Response,
): Promise<void> {
  const wanted = measures.length === 0 ? ['revenue'] : measures;
  const unknown = wanted.find((measure) => !SUMMARY_CODES.some((code) => code === measure));
  if (unknown !== undefined) {
    throw badRequest(`There is no measure "${unknown}"`, [
      { path: 'measures', message: 'there is no such measure' },
    ]);
  }
  const list = wanted as SummaryMeasure[];
  const loaded = await plans.current(actor.workspaceId);
  const { currency, dimensions } = loaded.plan;
  const summary = await readSummary(connections, plans, actor, address);
  const named = address.rows.map(
    (code) => dimensions.find((one) => one.code === code)?.name ?? code,
  );
  const all = `total ${address.from} to ${address.to}`;
  const heads = [...summary.columns.map(({ label }) => label), all];
  const titles = heads.flatMap((label) =>
    list.flatMap((measure) => [
      `${columnName(measure, currency)}, actual, ${label}`,
      ...(summary.before ? [`${columnName(measure, currency)}, a year before ${label}`] : []),
    ]),
  );
  const lines = [...summary.rows, summary.total].map((row) => [
    '  '.repeat(row.level) + row.label,
    ...[...row.cells, row.total].flatMap((sums, place) => {
      const before = [...row.cellsBefore, row.totalBefore][place];
      const field = (of: SalesSums, measure: SummaryMeasure) =>
        fieldOf(summaryValue(of, measure), MEASURES[measure].display, currency);
      return list.flatMap((measure) => [
        field(sums, measure),
        ...(summary.before && before ? [field(before, measure)] : []),
      ]);
    }),
  ]);
  const name = `Sales ${monthText(monthFrom(address.from))} to ${monthText(monthFrom(address.to))}`;
  const about = aboutTable(loaded, { ...address, what: 'sales lines' });
  const table = [[named.join(', ') || 'Scope', ...titles], ...lines];
  await sendTable(response, format, name, about, table);
}
