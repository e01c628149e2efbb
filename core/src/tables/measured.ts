/** Tables of several measures, on rows or on columns, with those that compare and divide. */
import {
  isWithinMonth,
  MONTHS_IN,
  periodsOf,
  type Grain,
  type Period,
  type Span,
} from '../calendar/period.ts';
import type { MemberTree } from '../dimensions/member-tree.ts';
import { yearLater, type Figures } from './figures.ts';
import { inDays, shareOfDays } from './week-parts.ts';
import { marketFacts, type Market } from './market.ts';
import {
  MEASURES,
  type ForecastResult,
  type MeasureCode,
  type MeasuredCode,
  type SubscriberPart,
} from '../measures/catalogue.ts';
import { ratio } from '../measures/nature.ts';
import { subscriberSum, type SubscriberFigures } from '../subscriptions/figures.ts';
import {
  rollUp,
  type Table,
  type TableCell,
  type TableColumn,
  type TableQuery,
  type TableRow,
} from './roll-up.ts';
import { inScope, rowTree } from '../dimensions/row-tree.ts';
import { sortRows, type RowOrder } from './row-order.ts';

export interface MeasuredQuery extends Omit<TableQuery, 'measure'> {
  readonly measures: readonly MeasuredCode[];
  /** `time`, `measures`, or a dimension by code. */
  readonly columns: string;
  /** Whether rows in which there is nothing are shown as well. */
  readonly empty?: boolean | undefined;
  readonly order?: RowOrder | undefined;
}

export interface MeasuredColumn extends TableColumn {
  /** Where measures stand on the columns. */
  readonly measure?: MeasuredCode;
}

/** A row of one measure; of several measures the later ones follow as lines of their own. */
export interface MeasuredRow extends TableRow {
  readonly measure: MeasuredCode;
  /** Whether it is a further measure of the row before it. */
  readonly line: boolean;
}

export interface MeasuredTable {
  readonly columns: readonly MeasuredColumn[];
  readonly rows: readonly MeasuredRow[];
  /** Everything in scope: one row, or one a measure. */
  readonly totals: readonly MeasuredRow[];
}

const NONE: TableCell = { value: null, incomplete: false };
const YEAR = 12;
const earlier = ({ from, to }: Span, months: number): Span => ({
  from: from - months,
  to: to - months,
});

/** What one and the same set of rows and columns is filled with, measure by measure. */
class Measuring {
  readonly #made = new Map<string, Table>();
  readonly #included: (index: number) => boolean;
  readonly #held: ReadonlySet<number>;

  constructor(
    readonly figures: Figures,
    readonly market: Market,
    readonly tree: MemberTree,
    readonly query: MeasuredQuery,
    readonly fiscalStart: number,
    readonly subscribers: () => SubscriberFigures | undefined,
  ) {
    this.#held = inScope(tree, figures.combinations, query.scope);
    // Where only subscriptions are asked for, what else is sold has nothing to show.
    const only = query.measures.every((code) => MEASURES[code].making.kind === 'subscription');
    const places = only ? subscribers()?.places : undefined;
    const any = new Set(
      [...this.#held].filter((index) => (places?.has(index) ?? true) && this.#hasNumbers(index)),
    );
    this.#included = (index) => (query.empty ? this.#held : any).has(index);
  }

  /** Whether anything is sold, planned or forecast of a combination in the window, or missing. */
  #hasNumbers(index: number): boolean {
    const { first, count, measures } = this.figures;
    const from = Math.max(0, this.query.span.from - first);
    const to = Math.min(count - 1, this.query.span.to - first);
    for (let t = from; t <= to; t += 1) {
      const at = index * count + t;
      const cost = measures.cost[at] ?? 0;
      if (measures.units[at] !== 0 || measures.revenue[at] !== 0) return true;
      // A cost alone counts where it is known: what nothing is sold of has no missing cost.
      if (cost < 0 || cost > 0) return true;
    }
    return false;
  }

  /** A plain measure over the same rows and columns, of this window or of an earlier one. */
  #rolled(measure: MeasureCode, span: Span, figures = this.figures): Table {
    const key = `${measure} ${span.from} ${span.to} ${figures === this.figures}`;
    const tableBefore = this.#made.get(key);
    if (tableBefore) return tableBefore;
    const { rows, scope, grain } = this.query;
    const columns = this.query.columns === 'measures' ? 'time' : this.query.columns;
    const asked = { measure, rows, scope, grain, columns, span };
    const table = rollUp(figures, this.tree, asked, this.fiscalStart, this.#included);
    this.#made.set(key, table);
    return table;
  }

  /** A measure over the rows and columns; the total bears its name, whatever it is made of. */
  table(code: MeasuredCode): Table {
    const table = this.#tableOf(code);
    return { ...table, total: { ...table.total, label: MEASURES[code].name } };
  }

  #tableOf(code: MeasuredCode): Table {
    const { making } = MEASURES[code];
    const { span } = this.query;
    switch (making.kind) {
      case 'share':
        return shares(this.#rolled(making.of, span));
      case 'growth':
        return this.#growth(making.of, making.on);
      case 'market':
        return this.#ofMarket(making.of);
      case 'subscription':
        return this.#ofSubscribers(making.of);
      default:
        return this.#rolled(code as MeasureCode, span);
    }
  }

  /** The growth of each number on the year before, or on the column before. */
  #growth(of: ForecastResult, on: 'year' | 'period'): Table {
    const { span, grain, columns } = this.query;
    const now = this.#rolled(of, span);
    const whole = on === 'year' ? YEAR : span.to - span.from + 1;
    if (isWithinMonth(grain) && columns === 'time') {
      return this.#growthWithinMonths(of, on, now, whole);
    }
    // A column of time grows on the same stretch so many months before; anything else on the window.
    const step =
      on === 'year' ? YEAR : columns === 'time' && !isWithinMonth(grain) ? MONTHS_IN[grain] : whole;
    const before = this.#rolled(of, earlier(span, step));
    const wholeBefore = this.#rolled(of, earlier(span, whole));
    const { first } = this.figures;
    const hasPeriodBefore = now.columns.map(
      ({ period }) => (period?.from ?? span.from) - step >= first,
    );
    const wholeKnown = span.from - whole >= first;
    const rowOf = (row: TableRow, place: number): TableRow => {
      const [then, all] = [before, wholeBefore].map((table) =>
        place < 0 ? table.total : table.rows[place],
      );
      return {
        ...row,
        cells: row.cells.map((cell, column) =>
          hasPeriodBefore[column] ? grown(cell, then?.cells[column]) : NONE,
        ),
        total: wholeKnown ? grown(row.total, all?.total) : NONE,
      };
    };
    return { columns: now.columns, rows: now.rows.map(rowOf), total: rowOf(now.total, -1) };
  }

  /** The growth of each week or day on the same days a year before, or on the one before. */
  #growthWithinMonths(of: ForecastResult, on: 'year' | 'period', now: Table, whole: number): Table {
    const { span } = this.query;
    const { first } = this.figures;
    const before = on === 'year' ? this.#rolled(of, span, yearLater(this.figures)) : now;
    const wholeBefore = this.#rolled(of, earlier(span, whole));
    const rowOf = (row: TableRow, place: number): TableRow => {
      const [then, all] = [before, wholeBefore].map((table) =>
        place < 0 ? table.total : table.rows[place],
      );
      return {
        ...row,
        cells: row.cells.map((cell, column) => {
          if (on === 'period') return grown(cell, then?.cells[column - 1]);
          const from = now.columns[column]?.period?.from ?? span.from;
          return from - YEAR >= first ? grown(cell, then?.cells[column]) : NONE;
        }),
        total: span.from - whole >= first ? grown(row.total, all?.total) : NONE,
      };
    };
    return { columns: now.columns, rows: now.rows.map(rowOf), total: rowOf(now.total, -1) };
  }

  /** Net units over the size of the market, or the size; one that combinations share counts once. */
  #ofMarket(of: 'share' | 'size'): Table {
    const units = this.#rolled('units', this.query.span);
    const { tree, figures, query } = this;
    const nodes = rowTree(tree, figures.combinations, query.rows, this.#included);
    const rowOf = (row: TableRow, parts: Iterable<number>): TableRow => ({
      ...row,
      ...this.#marketCells(units.columns, [...parts], of),
    });
    return {
      columns: units.columns,
      rows: units.rows.map((row, place) => rowOf(row, nodes[place]?.parts ?? [])),
      total: rowOf(units.total, this.#held),
    };
  }

  /** Of subscriptions: the same rows and columns, nothing where nothing is one. */
  #ofSubscribers(of: SubscriberPart): Table {
    const units = this.#rolled('units', this.query.span);
    const { tree, figures, query } = this;
    const subscribers = this.subscribers();
    const position = tree.dimensions.findIndex(({ code }) => code === query.columns);
    const nodes = rowTree(tree, figures.combinations, query.rows, this.#included);
    const cell = ({ from, to, days }: Span, parts: Iterable<number>): TableCell =>
      // Days within a month are not told apart: nobody comes or goes by the week.
      subscribers && (!days || of === 'active' || of === 'recurring')
        ? subscriberSum(subscribers, of, parts, from - figures.first, to - figures.first)
        : NONE;
    const below = (parts: readonly number[], top: number): number[] =>
      parts.filter(
        (part) => tree.path(figures.combinations[part]?.members[position] ?? -1)[0] === top,
      );
    const rowOf = (row: TableRow, parts: readonly number[]): TableRow => ({
      ...row,
      cells: units.columns.map(({ key, period }) =>
        period ? cell(period, parts) : cell(query.span, below(parts, Number(key))),
      ),
      total: cell(query.span, parts),
    });
    return {
      columns: units.columns,
      rows: units.rows.map((row, place) => rowOf(row, [...(nodes[place]?.parts ?? [])])),
      total: rowOf(units.total, [...this.#held]),
    };
  }

  #marketCells(
    columns: readonly TableColumn[],
    parts: readonly number[],
    of: 'share' | 'size',
  ): Pick<TableRow, 'cells' | 'total'> {
    const { tree, figures, query } = this;
    const count = figures.count;
    const position = tree.dimensions.findIndex(({ code }) => code === query.columns);
    const share = ({ from, to, days }: Span, top?: number): TableCell => {
      let units = 0;
      let market = 0;
      let incomplete = false;
      const valueOfRow =
        top === undefined
          ? parts
          : parts.filter(
              (part) => tree.path(figures.combinations[part]?.members[position] ?? -1)[0] === top,
            );
      for (let month = Math.max(from, figures.first); month <= to; month += 1) {
        const t = month - figures.first;
        const places = valueOfRow
          .map((part) => part * count + t)
          .filter((at) => (this.market.facts[at] ?? 0) !== 0);
        for (const at of places) {
          const sold = days
            ? inDays(figures, 'units', Math.floor(at / count), t, days)
            : (figures.measures.units[at] ?? 0);
          if (Number.isNaN(sold)) incomplete = true;
          else units += sold;
        }
        const part = days ? shareOfDays(month, days) : 1;
        for (const size of marketFacts(this.market, places).values()) market += size * part;
      }
      if (of === 'size') return { value: market === 0 ? null : market, incomplete: false };
      return { value: ratio(units, market), incomplete };
    };
    return {
      cells: columns.map(({ key, period }) =>
        period ? share(period) : share(query.span, Number(key)),
      ),
      total: share(query.span),
    };
  }
}

/** How much more a number is than another one, in proportion to that. */
function grown(a: TableCell | undefined, b: TableCell | undefined): TableCell {
  if (!a || !b || a.value === null || b.value === null) return NONE;
  return {
    value: ratio(a.value - b.value, Math.abs(b.value)),
    incomplete: a.incomplete || b.incomplete,
  };
}

/** Each number's share of the total of its column. */
function shares(table: Table): Table {
  const { total } = table;
  const share = (cell: TableCell, whole: TableCell | undefined): TableCell => ({
    value: ratio(cell.value ?? Number.NaN, whole?.value ?? Number.NaN),
    incomplete: cell.incomplete || (whole?.incomplete ?? false),
  });
  const rowOf = (row: TableRow): TableRow => ({
    ...row,
    cells: row.cells.map((cell, column) => share(cell, total.cells[column])),
    total: share(row.total, total.total),
  });
  return { columns: table.columns, rows: table.rows.map(rowOf), total: rowOf(total) };
}

/**
 * Makes a table of one or several measures: as lines of each row, or as columns over the window.
 * Rows are those in which anything is sold or forecast, the same for every measure.
 * @param market behind the figures' combinations, for shares of it
 * @param subscribers of the forecast, laid out when they are asked for; no other source has them
 * @throws RangeError for a dimension that is not there, and without a measure
 */
export function measuredTable(
  figures: Figures,
  market: Market,
  tree: MemberTree,
  query: MeasuredQuery,
  fiscalStart: number,
  subscribers: () => SubscriberFigures | undefined = () => undefined,
): MeasuredTable {
  const measuring = new Measuring(figures, market, tree, query, fiscalStart, subscribers);
  const tables = query.measures.map((code) => ({ code, table: measuring.table(code) }));
  const [main] = tables;
  if (!main) throw new RangeError('A table shows at least one measure');
  if (query.columns === 'measures') {
    const columns = query.measures.map((code) => ({
      key: code,
      label: MEASURES[code].name,
      period: null,
      measure: code,
    }));
    const across = (row: TableRow, place: number): MeasuredRow => ({
      ...row,
      cells: tables.map(
        ({ table }) => (place < 0 ? table.total : table.rows[place])?.total ?? NONE,
      ),
      total: NONE,
      measure: main.code,
      line: false,
    });
    const rows = main.table.rows.map(across);
    const total = { ...across(main.table.total, -1), label: 'All' };
    return { columns, rows: sortRows(rows, columns, query.order), totals: [total] };
  }
  const places = new Map(main.table.rows.map(({ key }, place) => [key, place]));
  const lines = (row: TableRow, place: number): MeasuredRow[] =>
    tables.map(({ code, table }, index) => {
      const explainedRow = (place < 0 ? table.total : table.rows[place]) ?? row;
      return index === 0
        ? { ...explainedRow, measure: code, line: false }
        : { ...explainedRow, key: `${row.key} ${code}`, parent: false, measure: code, line: true };
    });
  const sorted = sortRows(main.table.rows, main.table.columns, query.order);
  return {
    columns: main.table.columns,
    rows: sorted.flatMap((row) => lines(row, places.get(row.key) ?? -1)),
    totals: lines(main.table.total, -1),
  };
}

/** The months of a number of a measured table before it, which a growth is on. */
export function grownOn(
  code: MeasuredCode,
  span: Span,
  period: Period | null,
  grain: Grain,
): Span | null {
  const { making } = MEASURES[code];
  if (making.kind !== 'growth') return null;
  if (making.on === 'year') return earlier(period ?? span, YEAR);
  if (!period) return earlier(span, span.to - span.from + 1);
  if (!isWithinMonth(grain)) return earlier(period, MONTHS_IN[grain]);
  const all = periodsOf(span, grain, 1);
  const { from, to, days } = all[all.findIndex(({ key }) => key === period.key) - 1] ?? {};
  return from === undefined || to === undefined ? null : { from, to, days };
}
