/**
 * Sales by who sold and who bought: sellers and customers as rows beside the dimensions. Only what
 * was sold has them, so that a year can be compared with an earlier one, and with nothing planned.
 */
import { PEOPLE, type People } from '@dravex/contract';
import {
  figuresFromRows,
  MemberTree,
  monthFrom,
  monthText,
  type Dimension,
  type Figures,
  type Month,
  type Span,
} from '@dravex/core';
import { sql, type SQL } from 'drizzle-orm';
import { COUNTED } from '../actuals/store-lines.ts';
import { combinationsIn } from '../plan/frame.ts';
import type { LoadedPlan } from '../plan/plans.ts';
import type { Database } from '../platform/database.ts';
import { sellerNames } from '../targets/store.ts';

/** More of them are nobody's table: the rest is one row. */
const MOST_PEOPLE = 500;
/** Earlier years that a side can be of. */
const YEARS_BACK = 2;

const NAMES = {
  seller: { name: 'Seller', none: 'No seller', others: 'Other sellers' },
  customer: { name: 'Customer', none: 'No customer', others: 'Other customers' },
} as const;

const isPeople = (code: string): code is People => PEOPLE.some((one) => one === code);

/** Whether sellers or customers are asked for, and which; those of the plan's dimensions aside. */
export function peopleIn(loaded: Pick<LoadedPlan, 'plan'>, rows: readonly string[]): People[] {
  const own = new Set(loaded.plan.dimensions.map(({ code }) => code));
  return rows.filter(isPeople).filter((code) => !own.has(code));
}

/** Sales laid out by the dimensions on the rows and by people, over the months that can be compared. */
export interface SalesByPeople {
  readonly tree: MemberTree;
  readonly dimensions: readonly Dimension[];
  readonly figures: Figures;
}

interface Sold extends Record<string, unknown> {
  members: number[];
  people: string[];
  month: string;
  units: number;
  revenue: number;
  cost: number;
}

/** Sums of sales: from where, by whom, and whether they are taken away. */
interface Part {
  readonly from: SQL;
  readonly seller: SQL;
  readonly customer: SQL;
  readonly sign: 1 | -1;
  /** What of it is in the books. */
  readonly books: SQL;
}

/**
 * All sales, each once: what sellers and customers have from their sums, which divide what two sellers
 * share as targets do; what has no seller but a customer from the lines; what is left has neither.
 */
function partsOf(people: readonly People[]): Part[] {
  const nobody = sql`''`;
  const counted = (table: string): SQL => sql`${sql.identifier(table)} s join import_batch b
    on b.workspace_id = s.workspace_id and b.id = s.batch_id and b.state = 'applied'`;
  const [ofSellers, ofAccounts] = [counted('seller_month'), counted('account_month')];
  const neither = { seller: nobody, customer: nobody } as const;
  const books = sql`and b.source <> 'hand'`;
  const bySeller = { from: ofSellers, books };
  const byAccount = { from: ofAccounts, books };
  // They are of the books already where that is asked.
  const byCustomer = { from: sql`by_customer s`, books: sql`` };
  const seller = sql`s.seller`;
  const withoutSeller: Part[] = [
    { from: sql`sales_month s`, books: sql`and s.origin = 'books'`, ...neither, sign: 1 },
    { ...bySeller, ...neither, sign: -1 },
  ];
  if (!people.includes('customer')) {
    return [{ ...bySeller, seller, customer: nobody, sign: 1 }, ...withoutSeller];
  }
  const customer = sql`s.customer`;
  return [
    { ...byAccount, seller, customer, sign: 1 },
    { ...bySeller, seller, customer: nobody, sign: 1 },
    { ...byAccount, seller, customer: nobody, sign: -1 },
    { ...byCustomer, seller: nobody, customer, sign: 1 },
    ...withoutSeller,
    { ...byCustomer, ...neither, sign: -1 },
  ];
}

/** What was sold by members and people, month by month. */
async function soldBy(
  db: Database,
  workspaceId: number,
  { plan, model }: LoadedPlan,
  asked: Asked,
  { from, to }: Span,
): Promise<Sold[]> {
  const { rows, people, scope, origin } = asked;
  const books = origin === 'books';
  const held =
    scope.length === 0
      ? sql``
      : sql`and s.combination_id = any(${sql.param(combinationsIn({ plan, model }, scope))}::int[])`;
  const places = rows.flatMap((code) => {
    const place = plan.dimensions.findIndex((one) => one.code === code);
    return place < 0 ? [] : [sql`c.members[${place + 1}]`];
  });
  const members =
    places.length === 0 ? sql`array[]::int[]` : sql`array[${sql.join(places, sql`, `)}]`;
  const [first, after] = [`${monthText(from)}-01`, `${monthText(to + 1)}-01`];
  const lines = sql`select l.workspace_id, l.combination_id, l.customer,
      date_trunc('month', l.date)::date as month, sum(l.quantity) as quantity,
      sum(l.net_amount) as net_amount, sum(l.cost) as cost
    from ${COUNTED} l ${
      books
        ? sql`join import_batch b
      on b.workspace_id = l.workspace_id and b.id = l.batch_id and b.source <> 'hand'`
        : sql``
    }
    where l.workspace_id = ${workspaceId} and l.seller is null and l.customer is not null
      and l.date >= ${first}::date and l.date < ${after}::date
    group by 1, 2, 3, 4`;
  const sums = partsOf(people).map((part) => {
    const who = sql.join(
      people.map((kind) => part[kind]),
      sql`, `,
    );
    const sum = (column: string): SQL => sql`${part.sign}::int * sum(s.${sql.identifier(column)})`;
    return sql`
      select ${members} as members, array[${who}] as people, to_char(s.month, 'YYYY-MM') as month,
        ${sum('quantity')} as units, ${sum('net_amount')} as revenue, ${sum('cost')} as cost
      from ${part.from} join combination c
        on c.workspace_id = s.workspace_id and c.id = s.combination_id
      where s.workspace_id = ${workspaceId} and s.month >= ${first}::date
        and s.month < ${after}::date ${books ? part.books : sql``} ${held}
      group by 1, 2, 3`;
  });
  // What nobody asks of the lines is not read from them.
  const { rows: found } = await db.execute<Sold>(sql`
    with by_customer as materialized (${lines})
    select members, people, month, sum(units)::float8 as units, sum(revenue)::float8 as revenue,
      sum(cost)::float8 as cost
    from (${sql.join(sums, sql` union all `)}) sold group by 1, 2, 3
    having sum(units) <> 0 or sum(revenue) <> 0 or sum(cost) <> 0`);
  return found;
}

interface Asked {
  /** All that stands on the rows, in its order. */
  readonly rows: readonly string[];
  readonly people: readonly People[];
  readonly scope: readonly number[];
  readonly origin: 'all' | 'books';
}

/** Sales by people and the dimensions beside them, in the months of a window and those of the years before. */
export async function salesByPeople(
  db: Database,
  workspaceId: number,
  loaded: LoadedPlan,
  asked: Asked,
  span: Span,
): Promise<SalesByPeople> {
  const { plan } = loaded;
  const first: Month = Math.max(monthFrom(plan.calendar.first), span.from - 12 * YEARS_BACK);
  const sold = await soldBy(db, workspaceId, loaded, asked, { from: first, to: span.to });
  const names = asked.people.includes('seller') ? await sellerNames(db, workspaceId) : new Map();
  let next =
    1 + Math.max(0, ...plan.dimensions.flatMap(({ members }) => members.map(({ id }) => id)));
  /** For each kind of people, the member that a code stands for. */
  const memberOf: ((code: string) => number)[] = [];
  const ofPeople = asked.people.map((kind, place): Dimension => {
    const worth = new Map<string, number>();
    for (const { people, revenue } of sold) {
      const code = people[place] ?? '';
      worth.set(code, (worth.get(code) ?? 0) + Math.abs(revenue));
    }
    const codes = [...worth.keys()].filter((code) => code !== '');
    const named = codes
      .toSorted((a, b) => (worth.get(b) ?? 0) - (worth.get(a) ?? 0))
      .slice(0, MOST_PEOPLE)
      .toSorted();
    const ids = new Map(named.map((code) => [code, next++]));
    const [others, none] = [next++, next++];
    memberOf[place] = (code) => ids.get(code) ?? (code === '' ? none : others);
    const { name, none: noneName, others: othersName } = NAMES[kind];
    return {
      ...{ code: kind, name },
      members: [
        ...named.map((code) => ({
          ...{ id: ids.get(code) ?? 0, code, parent: null },
          name: kind === 'seller' ? String(names.get(code) ?? code) : code,
        })),
        {
          id: others,
          code: 'others',
          name: `${othersName} (${codes.length - named.length})`,
          parent: null,
        },
        { id: none, code: 'none', name: noneName, parent: null },
      ],
    };
  });
  const dimensions = asked.rows.flatMap(
    (code) => [...plan.dimensions, ...ofPeople].find((one) => one.code === code) ?? [],
  );
  const tree = new MemberTree(dimensions);
  const idOf = new Map<string, number>();
  const combinations: { id: number; members: number[] }[] = [];
  const rows = sold.map(({ members, people, month, units, revenue, cost }) => {
    const left = [...members];
    const own = dimensions.map(({ code }) => {
      const place = asked.people.findIndex((kind) => kind === code);
      return place < 0 ? (left.shift() ?? 0) : (memberOf[place]?.(people[place] ?? '') ?? 0);
    });
    const key = own.join();
    const id = idOf.get(key) ?? combinations.length + 1;
    if (!idOf.has(key)) {
      idOf.set(key, id);
      combinations.push({ id, members: own });
    }
    return { combination: id, month: monthFrom(month), units, revenue, cost };
  });
  const calendar = { ...plan.calendar, first: monthText(first), last: monthText(span.to) };
  return { tree, dimensions, figures: figuresFromRows({ ...plan, calendar, combinations }, rows) };
}
