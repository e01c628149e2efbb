/** Merging one member into another: combinations are rewritten, facts follow, nothing is lost. */
import type { MergeEffect } from '@dravex/contract';
import { SUBSCRIBER_SERIES } from '@dravex/core';
import { sql, type SQL } from 'drizzle-orm';
import { addToSums, keyOf, SELLER_SUMS, sumsOfSums, type SumTable } from '../actuals/line-sums.ts';
import { SCOPE_COLUMNS } from '../journal/scope-columns.ts';
import { one, type Database } from '../platform/database.ts';

/**
 * Combinations that name the member, and the ones they become: others that are there already, or
 * themselves with the member replaced.
 */
function pairs(workspaceId: number, from: number, into: number) {
  return sql`(
    select c.id as old, t.id as other, array_replace(c.members, ${from}, ${into}) as members
    from combination c left join combination t
      on t.workspace_id = c.workspace_id and t.members = array_replace(c.members, ${from}, ${into})
    where c.workspace_id = ${workspaceId} and ${from} = any(c.members))`;
}

/** What a merge would move. */
export async function mergeEffect(
  db: Database,
  workspaceId: number,
  from: { id: number; name: string },
  into: { id: number; name: string },
): Promise<MergeEffect> {
  const moved = pairs(workspaceId, from.id, into.id);
  const linesInTable = (table: string) =>
    sql`select count(*)::int from ${sql.identifier(table)} f
      where f.workspace_id = ${workspaceId} and f.combination_id in (select old from p)`;
  const { rows } = await db.execute<Omit<MergeEffect, 'from' | 'into'>>(sql`
    with p as materialized ${moved}
    select
      (select coalesce(sum(lines), 0)::float8 from sales_month f
        where f.workspace_id = ${workspaceId} and f.combination_id in (select old from p)) as lines,
      (select count(*)::int from p) as combinations,
      (${linesInTable('stream')}) as streams,
      (select count(*)::int from stream f join p on p.old = f.combination_id
        join stream o on o.workspace_id = f.workspace_id and o.combination_id = p.other
        where f.workspace_id = ${workspaceId}) as "streamsEnded",
      (select count(*)::int from (
        select scope from assumption where workspace_id = ${workspaceId}
        union all select scope from adjustment where workspace_id = ${workspaceId}) a
        where ${from.id} = any(a.scope)) as assumptions,
      (${linesInTable('version_cell')}) as "versionCells",
      (select count(*)::int from target_node where workspace_id = ${workspaceId}
        and ${from.id} = any(scope)) as targets,
      (select count(*)::int from assignment where workspace_id = ${workspaceId}
        and member_id = ${from.id}) as assignments`);
  return { from: from.name, into: into.name, ...one(rows) };
}

/** Moves the sums of combinations that become others, adding up where both have some. */
async function moveSums(db: Database, workspaceId: number, table: SumTable): Promise<void> {
  const key = keyOf(table, { combination_id: 'p.other' });
  await db.execute(sql`
    with gone as (
      delete from ${sql.identifier(table)} s using merging p
      where s.workspace_id = ${workspaceId} and s.combination_id = p.old returning s.*)
    ${addToSums(
      table,
      sql`select ${key}, ${sumsOfSums}
        from gone g join merging p on p.old = g.combination_id group by ${key}`,
    )}`);
}

/**
 * Moves everything of combinations to others, in the caller's transaction: sums, lines, kept cells
 * and entries, streams and what is typed over them. They are gone then. Which become which stands
 * in the temporary table `merging`.
 */
export async function moveCombinations(db: Database, workspaceId: number): Promise<void> {
  await moveSums(db, workspaceId, 'sales_month');
  await moveSums(db, workspaceId, 'import_month');
  for (const { table } of SELLER_SUMS) await moveSums(db, workspaceId, table);
  await db.execute(sql`
    update sales_line l set combination_id = p.other from merging p
    where l.workspace_id = ${workspaceId} and l.combination_id = p.old`);
  await db.execute(sql`
    with gone as (
      delete from version_cell s using merging p
      where s.workspace_id = ${workspaceId} and s.combination_id = p.old returning s.*)
    insert into version_cell (workspace_id, version_id, combination_id, month, units, revenue, cost)
    select g.workspace_id, g.version_id, p.other, g.month, sum(g.units), sum(g.revenue), sum(g.cost)
    from gone g join merging p on p.old = g.combination_id group by 1, 2, 3, 4
    on conflict (workspace_id, version_id, combination_id, month) do update set
      units = version_cell.units + excluded.units,
      revenue = version_cell.revenue + excluded.revenue,
      cost = case when version_cell.cost is null then excluded.cost
        else version_cell.cost + coalesce(excluded.cost, 0) end`);
  const series = SUBSCRIBER_SERIES.map((code) => code.replaceAll(/[A-Z]/g, (one) => `_${one}`));
  const listed = (of: (column: string) => string): SQL =>
    sql.raw(series.map((column) => of(column.toLowerCase())).join(', '));
  await db.execute(sql`
    with gone as (
      delete from version_subscription s using merging p
      where s.workspace_id = ${workspaceId} and s.combination_id = p.old returning s.*)
    insert into version_subscription
      (workspace_id, version_id, combination_id, month, ${listed((column) => column)})
    select g.workspace_id, g.version_id, p.other, g.month, ${listed((column) => `sum(g.${column})`)}
    from gone g join merging p on p.old = g.combination_id group by 1, 2, 3, 4
    on conflict (workspace_id, version_id, combination_id, month) do update set
      ${listed((column) => `${column} = version_subscription.${column} + excluded.${column}`)}`);
  for (const entries of [sql`version_entry`, sql`version_subscription_entry`]) {
    await db.execute(sql`
      update ${entries} e set combination_id = p.other from merging p
      where e.workspace_id = ${workspaceId} and e.combination_id = p.old`);
  }
  // What is typed over a stream goes where the stream goes, and ends with one that ends.
  const staying = sql`exists (select 1 from stream o
    where o.workspace_id = ${workspaceId} and o.combination_id = p.other)`;
  await db.execute(sql`
    delete from forecast_override o using merging p
    where o.workspace_id = ${workspaceId}
      and o.combination_id = case when ${staying} then p.old else p.other end`);
  await db.execute(sql`
    update forecast_override o set combination_id = p.other from merging p
    where o.workspace_id = ${workspaceId} and o.combination_id = p.old`);
  // Streams that read another one read the one it has become.
  for (const field of ['attached', 'changesOver']) {
    await db.execute(sql`
      update stream s
      set settings = jsonb_set(s.settings, array[${field}, 'combination'], to_jsonb(p.other))
      from merging p where s.workspace_id = ${workspaceId}
        and (s.settings->${field}->>'combination')::int = p.old`);
  }
  await db.execute(sql`
    update stream s set settings = jsonb_set(s.settings, '{formula,names}', (
      select jsonb_agg(case when p.other is null then n
        else jsonb_set(n, '{combination}', to_jsonb(p.other)) end order by place)
      from jsonb_array_elements(s.settings->'formula'->'names') with ordinality as e(n, place)
        left join merging p on p.old = (n->>'combination')::int))
    where s.workspace_id = ${workspaceId}
      and jsonb_array_length(s.settings->'formula'->'names') > 0`);
  await db.execute(sql`
    delete from stream s using merging p
    where s.workspace_id = ${workspaceId} and s.combination_id = p.old
      and exists (select 1 from stream o where o.workspace_id = s.workspace_id
        and o.combination_id = p.other)`);
  await db.execute(sql`
    update stream s set combination_id = p.other from merging p
    where s.workspace_id = ${workspaceId} and s.combination_id = p.old`);
  await db.execute(sql`
    delete from combination c using merging p
    where c.workspace_id = ${workspaceId} and c.id = p.old`);
}

/**
 * Merges a member into another one of its dimension, in the caller's transaction. Combinations
 * that meet become one: sums, lines, kept cells and entries move there; of two streams in one
 * place the other member's stays. What lay below the member lies below the other one.
 */
export async function mergeInto(
  db: Database,
  workspaceId: number,
  from: number,
  into: number,
): Promise<void> {
  await db.execute(sql`
    create temporary table merging on commit drop as
    select old, other from ${pairs(workspaceId, from, into)} p where other is not null`);
  await moveCombinations(db, workspaceId);
  await db.execute(sql`
    update combination set members = array_replace(members, ${from}, ${into})
    where workspace_id = ${workspaceId} and ${from} = any(members)`);
  for (const { table, column: name } of SCOPE_COLUMNS) {
    const column = sql.identifier(name);
    await db.execute(sql`
      update ${sql.identifier(table)} set ${column} =
        case when ${into} = any(${column}) then array_remove(${column}, ${from})
          else array_replace(${column}, ${from}, ${into}) end
      where workspace_id = ${workspaceId} and ${from} = any(${column})`);
  }
  await db.execute(sql`
    delete from dimension_rule where workspace_id = ${workspaceId} and source_member_id = ${from}`);
  await db.execute(sql`
    update dimension_rule set member_id = ${into}
    where workspace_id = ${workspaceId} and member_id = ${from}`);
  await db.execute(sql`
    update assignment set member_id = ${into}
    where workspace_id = ${workspaceId} and member_id = ${from}`);
  await db.execute(sql`
    update member set parent_id = ${into}
    where workspace_id = ${workspaceId} and parent_id = ${from} and id <> ${into}`);
  // What replaced the one replaces the other; what would replace itself replaces none.
  await db.execute(sql`
    update member set replaces = nullif(${into}::int, id)
    where workspace_id = ${workspaceId} and replaces = ${from}
      and not exists (select from member other where other.workspace_id = ${workspaceId}
        and other.replaces = ${into} and other.id <> ${from})`);
  await db.execute(sql`
    delete from member where workspace_id = ${workspaceId} and id = ${from}`);
}
