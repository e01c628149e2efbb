/** Telling the members of a dimension apart by a rule: in history, and in files to come. */
import type { TellApart, ToldApart } from '@dravex/contract';
import { MemberTree, type Dimension } from '@dravex/core';
import { sql, type SQL } from 'drizzle-orm';
import { addToSums, sumSellers, sumsOfLines } from '../actuals/line-sums.ts';
import { COUNTED } from '../actuals/store.ts';
import { journaled } from '../journal/service.ts';
import { mustPlan, type Actor } from '../people/actor.ts';
import { one, type Connections, type Database } from '../platform/database.ts';
import { badRequest, notFound } from '../platform/errors.ts';
import { moveCombinations } from './merge.ts';
import { ALL_OTHERS, setRules } from './rules.ts';
import * as store from './store.ts';

/** A rule that was understood: which values belong to which member, by ids. */
interface Understood {
  readonly dimension: Dimension;
  readonly id: number;
  /** Its place among a combination's members, from 1 as the database counts. */
  readonly place: number;
  /** Customers, or members of another dimension with their leaves, each with its member. */
  readonly by:
    | { readonly kind: 'customer'; readonly told: ReadonlyMap<string, number> }
    | {
        readonly kind: 'member';
        readonly place: number;
        readonly sources: ReadonlyMap<number, number>;
        readonly leaves: ReadonlyMap<number, number>;
      };
  readonly rest: number | null;
}

/** @throws HttpProblem 404 for a dimension, 400 for members and values that cannot be */
async function understand(
  db: Database,
  workspaceId: number,
  code: string,
  { by, rules, rest }: TellApart,
): Promise<Understood> {
  const row = await store.dimensionRow(db, workspaceId, code);
  if (!row) throw notFound('such dimension');
  const dimensions = await store.dimensionsOf(db, workspaceId);
  const tree = new MemberTree(dimensions);
  const place = dimensions.findIndex((one) => one.code === code);
  const dimension = dimensions[place];
  if (!dimension) throw notFound('such dimension');
  const errors: { path: string; message: string }[] = [];
  const refuse = (path: string, message: string): void => void errors.push({ path, message });
  const leafOf = (text: string, path: string): number => {
    const found = dimension.members.find((one) => one.code === text);
    if (!found) refuse(path, `${dimension.name} has no member "${text}"`);
    else if (!tree.isLeaf(found.id)) refuse(path, `"${found.name}" has members below it`);
    return found?.id ?? 0;
  };
  const other = dimensions.findIndex((one) => one.code === by);
  if (by === code) refuse('by', `${dimension.name} cannot be assigned by itself`);
  else if (by !== 'customer' && other < 0) refuse('by', `There is no dimension "${by}"`);
  const told = new Map<string, number>();
  const sources = new Map<number, number>();
  rules.forEach(({ member, values }, index) => {
    const id = leafOf(member, `rules.${index}.member`);
    values.forEach((value, at) => {
      const path = `rules.${index}.values.${at}`;
      const twice = (): void => refuse(path, `"${value}" is named for two members`);
      if (by === 'customer') {
        if (told.has(value) && told.get(value) !== id) twice();
        told.set(value, id);
        return;
      }
      const source = dimensions[other]?.members.find((one) => one.code === value);
      if (!source) {
        if (other >= 0) refuse(path, `There is no member "${value}"`);
        return;
      }
      if (sources.has(source.id) && sources.get(source.id) !== id) twice();
      sources.set(source.id, id);
    });
  });
  const restId = rest === null ? null : leafOf(rest, 'rest');
  if (errors.length > 0) throw badRequest(errors[0]?.message ?? '', errors.slice(0, 100));
  const base = { dimension, id: row.id, place: place + 1, rest: restId };
  if (by === 'customer') return { ...base, by: { kind: 'customer', told } };
  const leaves = new Map<number, number>();
  for (const { id } of dimensions[other]?.members ?? []) {
    if (!tree.isLeaf(id)) continue;
    const named = tree
      .path(id)
      .toReversed()
      .find((above) => sources.has(above));
    const member = named === undefined ? restId : (sources.get(named) ?? null);
    if (member !== null) leaves.set(id, member);
  }
  return { ...base, by: { kind: 'member', place: other + 1, sources, leaves } };
}

/** Values with their members, as rows for a join. */
const pairs = (told: ReadonlyMap<string | number, number>): SQL =>
  sql`jsonb_to_recordset(${JSON.stringify([...told].map(([value, member]) => ({ value: String(value), member })))}::jsonb)
    as told(value text, member int)`;

/** Which member every line gets: a select of lines that get another one than they have. */
function linesTold({ place, by, rest }: Understood, workspaceId: number, lines: SQL): SQL {
  const value = by.kind === 'customer' ? sql`l.customer` : sql`c.members[${by.place}]::text`;
  const told = by.kind === 'customer' ? by.told : by.leaves;
  // By another dimension the rest stands with its leaves already.
  const left = by.kind === 'customer' && rest !== null ? sql`${rest}::int` : sql`null::int`;
  return sql`
    select l.*, coalesce(told.member, ${left}) as told
    from ${lines} l
      join combination c on c.workspace_id = l.workspace_id and c.id = l.combination_id
      left join ${pairs(told)} on told.value = ${value}
    where l.workspace_id = ${workspaceId}
      and coalesce(told.member, ${left}) <> c.members[${place}]`;
}

/** What would move. */
async function effectOf(
  db: Database,
  workspaceId: number,
  understood: Understood,
): Promise<ToldApart> {
  const { dimension, by, place } = understood;
  const { rows } = await db.execute<{ told: number; lines: number; revenue: number }>(sql`
    select told, count(*)::int as lines, sum(net_amount)::float8 as revenue
    from (${linesTold(understood, workspaceId, COUNTED)}) l group by told`);
  const found = new Map(rows.map((row) => [row.told, row]));
  const members = dimension.members.flatMap(({ id, code, name }) => {
    const { lines = 0, revenue = 0 } = found.get(id) ?? {};
    return lines > 0 ? [{ member: code, name, lines, revenue }] : [];
  });
  const moving =
    by.kind === 'customer'
      ? { streams: 0 }
      : one(
          (
            await db.execute<{ streams: number }>(sql`
              select count(*)::int as streams from stream s
                join combination c on c.workspace_id = s.workspace_id and c.id = s.combination_id
                join ${pairs(by.leaves)} on told.value = c.members[${by.place}]::text
              where s.workspace_id = ${workspaceId} and told.member <> c.members[${place}]`)
          ).rows,
        );
  return {
    members,
    lines: rows.reduce((sum, row) => sum + row.lines, 0),
    ...moving,
    withoutSales: by.kind === 'customer' ? await strangers(db, workspaceId, by.told) : [],
  };
}

/** Customers that have bought nothing, as far as the sales lines say: some are spelled wrong. */
async function strangers(
  db: Database,
  workspaceId: number,
  told: ReadonlyMap<string, number>,
): Promise<string[]> {
  const { rows } = await db.execute<{ value: string }>(sql`
    select told.value from ${pairs(told)}
    where told.value not in
      (select l.customer from ${COUNTED} l where l.workspace_id = ${workspaceId} and l.customer is not null)
    order by told.value limit 20`);
  return rows.map(({ value }) => value);
}

/** Makes what combinations become, and keeps which become which in the temporary table `merging`. */
async function becoming(
  db: Database,
  workspaceId: number,
  { place }: Understood,
  rows: readonly { readonly id: number; readonly members: number[]; readonly told: number }[],
): Promise<void> {
  const wanted = rows.map(({ members, told }) => members.with(place - 1, told));
  const ids = await store.ensureCombinations(db, workspaceId, wanted);
  const all = rows.map(({ id, told }, at) => ({ old: id, told, other: ids[at] ?? 0 }));
  await db.execute(sql`
    create temporary table merging on commit drop as
    select * from jsonb_to_recordset(${JSON.stringify(all)}::jsonb) as p(old int, told int, other int)`);
}

/** By another dimension: whole combinations become others, with all that is planned of them. */
async function byMembers(
  db: Database,
  workspaceId: number,
  understood: Understood,
  { place, leaves }: Extract<Understood['by'], { kind: 'member' }>,
): Promise<void> {
  const { rows } = await db.execute<{ id: number; members: number[]; told: number }>(sql`
    select c.id, c.members, told.member as told
    from combination c join ${pairs(leaves)} on told.value = c.members[${place}]::text
    where c.workspace_id = ${workspaceId} and told.member <> c.members[${understood.place}]`);
  await becoming(db, workspaceId, understood, rows);
  await moveCombinations(db, workspaceId);
}

/** By customers: lines go elsewhere, what is planned stays; sums are counted anew. */
async function byCustomers(
  db: Database,
  workspaceId: number,
  understood: Understood,
): Promise<void> {
  const told = linesTold(understood, workspaceId, sql`sales_line`);
  const { rows } = await db.execute<{ id: number; members: number[]; told: number }>(sql`
    select c.id, c.members, t.told
    from (select distinct combination_id, told from (${told}) l) t
      join combination c on c.workspace_id = ${workspaceId} and c.id = t.combination_id`);
  await becoming(db, workspaceId, understood, rows);
  await db.execute(sql`
    update sales_line s set combination_id = p.other
    from (${told}) l join merging p on p.old = l.combination_id and p.told = l.told
    where s.workspace_id = ${workspaceId} and s.batch_id = l.batch_id and s.row = l.row
      and s.document = l.document and s.line_number = l.line_number`);
  const month = sql`date_trunc('month', date)::date`;
  await db.execute(sql`delete from import_month where workspace_id = ${workspaceId}`);
  await db.execute(
    addToSums(
      'import_month',
      sql`select workspace_id, batch_id, ${month}, combination_id, ${sumsOfLines}
        from sales_line where workspace_id = ${workspaceId} group by 1, 2, 3, 4`,
    ),
  );
  await sumSellers(db, workspaceId);
  await db.execute(sql`delete from sales_month where workspace_id = ${workspaceId}`);
  await db.execute(
    addToSums(
      'sales_month',
      sql`select workspace_id, ${month}, combination_id, origin, ${sumsOfLines}
        from ${COUNTED} l where workspace_id = ${workspaceId} group by 1, 2, 3, 4`,
    ),
  );
}

/**
 * Tells the members of a dimension apart: every sales line gets the member that the rule says, files
 * to come follow it where they do not say the member themselves. By another dimension forecast lines
 * and plans go with their products; by customers they stay.
 * @param apply whether it is done; else it is said what would move
 */
export async function tellApart(
  connections: Connections,
  actor: Actor,
  code: string,
  wish: TellApart,
  apply: boolean,
): Promise<ToldApart> {
  mustPlan(actor);
  const { workspaceId } = actor;
  if (!apply) {
    const { db } = connections;
    return effectOf(db, workspaceId, await understand(db, workspaceId, code, wish));
  }
  return journaled(connections, actor, 'dimensions', async (tx, record) => {
    const understood = await understand(tx, workspaceId, code, wish);
    const { by, dimension, id, rest } = understood;
    const effect = await effectOf(tx, workspaceId, understood);
    if (by.kind === 'member') {
      await byMembers(tx, workspaceId, understood, by);
      const rows = [...by.sources].map(([sourceMemberId, memberId]) => ({
        sourceMemberId,
        memberId,
      }));
      const others = rest === null ? [] : [{ sourceMemberId: ALL_OTHERS, memberId: rest }];
      await setRules(tx, workspaceId, id, [...rows, ...others]);
    } else {
      await byCustomers(tx, workspaceId, understood);
      await store.assign(
        tx,
        [...by.told].map(([customer, memberId]) => ({
          workspaceId,
          dimensionId: id,
          customer,
          from: '1900-01-01',
          memberId,
        })),
      );
    }
    record.undoable = false;
    record.say(`Assigned ${dimension.name} by a rule: ${effect.lines} sales lines moved`);
    record.changed('dimension', code, null, { rule: wish.by }, () => ({
      label: `${dimension.name}, rule`,
      unit: 'text',
    }));
    return effect;
  });
}
