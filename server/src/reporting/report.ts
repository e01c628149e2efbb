/** Tables for reporting tools: flat rows with codes, by the page. */
import type { Report, ReportAddress, ReportTable } from '@dravex/contract';
import {
  compare,
  fiscalYearOf,
  inScope,
  MEASURES,
  monthFrom,
  monthText,
  RESULTS,
  supplyPlan,
  type Figures,
  type ResultCode,
  type Scope,
} from '@dravex/core';
import { salesLines } from '../actuals/read-lines.ts';
import { versionFigures } from '../budgets/service.ts';
import { sidesOf } from '../comparison/service.ts';
import { fieldOf, moneyField } from '../plan/file-numbers.ts';
import { combinationsIn, windowOf } from '../plan/frame.ts';
import type { LoadedPlan, Plans } from '../plan/plans.ts';
import type { Actor } from '../people/actor.ts';
import { Figure } from '../platform/csv.ts';
import type { Connections } from '../platform/database.ts';
import { badRequest } from '../platform/errors.ts';
import { treeOf } from '../targets/reading.ts';

type Value = string | number | Figure | null;
type Row = Value[];
interface Flat {
  readonly columns: string[];
  readonly rows: Row[];
  /** Where rows were cut in the database: how many there are in all. */
  readonly total?: number;
}

/** What each table knows of; anything else in an address is refused rather than passed over. */
const KNOWS: Readonly<Record<ReportTable, readonly (keyof ReportAddress)[]>> = {
  actuals: ['from', 'to', 'members'],
  'sales-lines': ['from', 'to', 'members', 'seller'],
  forecast: ['from', 'to', 'members'],
  'plan-cells': ['from', 'to', 'members', 'version'],
  comparison: ['from', 'to', 'members', 'version', 'of', 'against'],
  targets: ['fiscalYear'],
  supply: ['from', 'to', 'members', 'grain'],
};
const EVERYWHERE: readonly (keyof ReportAddress)[] = ['after', 'limit', 'format'];

function refuse(path: string, message: string): never {
  throw badRequest(message, [{ path, message }]);
}

function checkAddress(table: ReportTable, address: ReportAddress): void {
  const parametersKnown = [...KNOWS[table], ...EVERYWHERE];
  for (const [name, value] of Object.entries(address)) {
    const given = Array.isArray(value) ? value.length > 0 : value !== undefined;
    if (given && !parametersKnown.includes(name as keyof ReportAddress)) {
      refuse(
        name,
        `The table ${table} does not know "${name}"; it knows ${KNOWS[table].join(', ')}`,
      );
    }
  }
}

/** Members by dimension and code as a scope. */
export function scopeOf({ plan }: LoadedPlan, members: readonly string[]): Scope {
  return members.map((text) => {
    const [dimensionCode, ...rest] = text.split(':');
    const code = rest.join(':');
    const dimension = plan.dimensions.find((one) => one.code === dimensionCode);
    if (!dimension) return refuse('members', `There is no dimension "${dimensionCode ?? ''}"`);
    const member = dimension.members.find((one) => one.code === code);
    if (!member) return refuse('members', `${dimension.name} has no member "${code}"`);
    return member.id;
  });
}

function spanOf({ plan }: LoadedPlan, { from, to }: ReportAddress) {
  const { first, last } = plan.calendar;
  return windowOf(plan.calendar, { from: from ?? first, to: to ?? last });
}

/** A row a combination and month that has anything, in that order. */
function figureRows(
  { plan, model }: LoadedPlan,
  figures: Figures,
  scope: Scope,
  span: { from: number; to: number },
): Row[] {
  const rows: Row[] = [];
  const { currency } = plan;
  const value = (code: ResultCode, number: number | undefined): Value =>
    fieldOf(number ?? null, MEASURES[code].display, currency);
  for (const index of inScope(model.tree, figures.combinations, scope)) {
    const members = figures.combinations[index]?.members ?? [];
    const codes = plan.dimensions.map((_, place) => model.tree.member(members[place] ?? 0).code);
    for (let month = span.from; month <= span.to; month += 1) {
      const t = month - figures.first;
      if (t < 0 || t >= figures.count) continue;
      const at = index * figures.count + t;
      const { units, revenue, cost } = figures.measures;
      if (units[at] === 0 && revenue[at] === 0 && (cost[at] === 0 || Number.isNaN(cost[at]))) {
        continue;
      }
      rows.push([
        monthText(month),
        ...codes,
        value('units', units[at]),
        value('revenue', revenue[at]),
        value('cost', cost[at]),
      ]);
    }
  }
  return rows;
}

async function makeTable(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  table: ReportTable,
  address: ReportAddress,
): Promise<Flat> {
  const loaded = await plans.current(actor.workspaceId);
  const { plan, model } = loaded;
  const scope = scopeOf(loaded, address.members);
  const codes = plan.dimensions.map(({ code }) => code);
  const cells = ['month', ...codes, 'units', 'revenue', 'cost'];
  const { minorDigits } = plan.currency;
  const money = (minor: number): Figure => moneyField(minor / 10 ** minorDigits, minorDigits);
  const needed = (): number =>
    address.version ?? refuse('version', 'Say which version: ?version= and its id');
  switch (table) {
    case 'actuals':
      return {
        columns: cells,
        rows: figureRows(loaded, loaded.actual, scope, spanOf(loaded, address)),
      };
    case 'forecast':
      return {
        columns: cells,
        rows: figureRows(loaded, loaded.forecast, scope, spanOf(loaded, address)),
      };
    case 'plan-cells': {
      const figures = await versionFigures(connections, actor, plan, { id: needed() });
      return { columns: cells, rows: figureRows(loaded, figures, scope, spanOf(loaded, address)) };
    }
    case 'comparison': {
      const where = { connections, actor, loaded, origin: 'all' } as const;
      const against = address.against ?? `version:${needed()}`;
      const sides = await sidesOf(where, address.of ?? 'actual', against);
      const rows: Row[] = [];
      for (const measure of RESULTS) {
        const field = (value: number | null): Value =>
          fieldOf(value, MEASURES[measure].display, plan.currency);
        const query = { measure, rows: codes, scope, span: spanOf(loaded, address) };
        const [actual, planned] = [sides.actual.figures, sides.plan.figures];
        for (const row of compare(actual, planned, model.tree, query, sides.covered).rows) {
          if (row.scope.length < codes.length || row.parent) continue;
          rows.push([
            measure,
            ...row.scope.map((id) => model.tree.member(id).code),
            field(row.actual.value),
            field(row.plan.value),
            field(row.variance?.amount ?? null),
            row.variance?.percent ?? null,
            row.variance?.judgement ?? null,
          ]);
        }
      }
      const columns = ['measure', ...codes, 'actual', 'plan', 'variance', 'percent', 'judgement'];
      return { columns, rows };
    }
    case 'targets': {
      const year =
        address.fiscalYear ??
        fiscalYearOf(monthFrom(plan.calendar.closedThrough), plan.calendar.fiscalStart);
      const asked = { fiscalYear: year };
      const { objectives } = await treeOf(connections, plans, actor, asked);
      const trees = await Promise.all(
        objectives.map(({ id }) => treeOf(connections, plans, actor, { ...asked, objective: id })),
      );
      return {
        columns: [
          'fiscal year',
          'objective',
          'measure',
          'id',
          'parent',
          'kind',
          'name',
          'seller',
          'account',
          'target',
          'unassigned',
          'state',
          'last year',
          'actual',
          'outlook',
          'attained',
        ],
        rows: trees.flatMap(({ objective, wholes, nodes }) =>
          nodes.map((node) => {
            const known = (value: number): number | null => (node.known ? value / wholes : null);
            return [
              ...[year, objective?.name ?? '', objective?.measure ?? ''],
              ...[node.id, node.parent, node.kind, node.name, node.seller, node.account],
              node.amount / wholes,
              node.unassigned === null ? null : node.unassigned / wholes,
              node.state,
              ...[known(node.lastYear), known(node.actual), known(node.outlook)],
              node.attained,
            ];
          }),
        ),
      };
    }
    case 'sales-lines': {
      const span = spanOf(loaded, address);
      const lines = await salesLines(connections.db, actor.workspaceId, {
        from: monthText(span.from),
        to: monthText(span.to),
        whose: [{ combinations: combinationsIn(loaded, scope), seller: address.seller }],
        skip: address.after,
        limit: address.limit,
      });
      return {
        total: lines.count,
        columns: [
          'date',
          ...codes,
          'quantity',
          'net amount',
          'cost',
          'document',
          'line number',
          'customer',
          'seller',
          'origin',
        ],
        rows: lines.lines.map((line) => [
          line.date,
          ...line.members.map((id) => model.tree.member(id).code),
          line.quantity,
          money(line.netAmount),
          money(line.cost),
          line.document,
          line.lineNumber,
          line.customer,
          line.seller,
          line.origin,
        ]),
      };
    }
    case 'supply':
      return supplyTable(loaded, scope, spanOf(loaded, address), address.grain ?? 'month');
  }
}

/** The dimension whose members are what is made or bought: the one called so, or the second. */
export function itemPosition({ plan }: LoadedPlan): number {
  const named = plan.dimensions.findIndex(({ code, name }) =>
    /product|item|article|sku/i.test(`${code} ${name}`),
  );
  return named >= 0 ? named : Math.min(1, plan.dimensions.length - 1);
}

/** Whole units of each item by period, and what stands in the way of them. */
export function supplyTable(
  loaded: LoadedPlan,
  scope: Scope,
  span: { from: number; to: number },
  grain: 'week' | 'month' | 'quarter',
): Flat {
  const { plan, model } = loaded;
  const made = supplyPlan(
    loaded.forecast,
    model.tree,
    itemPosition(loaded),
    scope,
    span,
    grain,
    plan.calendar.fiscalStart,
  );
  const problems = new Map<number, string[]>();
  for (const { item, message } of made.problems) {
    problems.set(item, [...(problems.get(item) ?? []), message]);
  }
  return {
    columns: ['item', 'name', 'period', 'units', 'check'],
    rows: made.rows.flatMap(({ item, units }) => {
      const { code, name } = model.tree.member(item);
      const check = problems.get(item)?.join('; ') ?? 'ok';
      return units.map((value, place): Row => [
        code,
        name,
        made.periods[place] ?? '',
        value,
        check,
      ]);
    }),
  };
}

/** A page with its numbers as they are written. */
type Page = Omit<Report, 'rows'> & { readonly rows: Row[] };

/** A page of a table. @throws HttpProblem 400 for what the table does not know of */
export async function readReport(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  table: ReportTable,
  address: ReportAddress,
): Promise<Page> {
  checkAddress(table, address);
  const { columns, rows, total } = await makeTable(connections, plans, actor, table, address);
  const { after, limit } = address;
  const page = total === undefined ? rows.slice(after, after + limit) : rows;
  const all = total ?? rows.length;
  const next = after + page.length < all && page.length > 0 ? after + page.length : null;
  return { table, columns, rows: page, next, total: all };
}

/** A page as it is answered: money with its currency's digits, and no more. */
export function asJson({ rows, ...page }: Page): Report {
  const plain = (value: Value): string | number | null =>
    value instanceof Figure ? Number(value.digits) : value;
  return { ...page, rows: rows.map((row) => row.map(plain)) };
}
