/** Members: added, changed, put elsewhere, taken away and merged. */
import type { MemberChange, MergeEffect, NewMember } from '@dravex/contract';
import { journaled, type Recorder } from '../journal/service.ts';
import type { Actor } from '../people/actor.ts';
import type { Connections, Database } from '../platform/database.ts';
import { badRequest, conflict } from '../platform/errors.ts';
import { DimensionMembers } from './dimension-members.ts';
import { mergeEffect, mergeInto } from './merge.ts';
import { mustDimension } from './service.ts';
import * as store from './store.ts';
import { memberCells, memberName } from './thing.ts';

/** The dimension that a member belongs to. */
type DimensionOf = Pick<
  NonNullable<Awaited<ReturnType<typeof store.dimensionRow>>>,
  'id' | 'workspaceId' | 'name'
>;

/** @throws HttpProblem 409 when sales name the member itself: they name the lowest ones only */
async function mustNotBeSold(members: DimensionMembers, row: store.MemberRow): Promise<void> {
  if (!(await members.isSold(row.id))) return;
  throw conflict(
    `${row.name} has sales or forecast lines of its own, so nothing can be below it; add a member above it for both`,
    'parent',
  );
}

/** What a member is given when it is added. */
export type FreshMember = NewMember &
  Partial<Pick<store.MemberRow, 'validFrom' | 'validTo' | 'account' | 'replaces'>>;

/**
 * A member that can be added, written down and taken in; it is still to be kept.
 * @throws HttpProblem 404 or 409 for what stands in the way
 */
export async function freshMember(
  members: DimensionMembers,
  record: Recorder,
  dimension: DimensionOf,
  id: number,
  { parent, code, name, ...rest }: FreshMember,
): Promise<store.MemberRow> {
  const { workspaceId, id: dimensionId } = dimension;
  if (members.withCode(code)) {
    throw conflict(`${dimension.name} has a member with the code ${code} already`, 'code');
  }
  if (parent !== null) await mustNotBeSold(members, members.must(parent));
  const row: store.MemberRow = {
    ...{ workspaceId, dimensionId, id, code, name, parentId: parent },
    ...{ position: members.nextPosition(), validFrom: null, validTo: null },
    ...{ account: null, replaces: null, ...rest },
  };
  members.put(row);
  record.changed('member', id, null, memberCells(row), memberName(name));
  return row;
}

/** Adds a member to a dimension, in a transaction of the caller's. */
export async function insertNewMember(
  tx: Database,
  record: Recorder,
  dimension: DimensionOf,
  input: FreshMember,
): Promise<number> {
  const { workspaceId, id: dimensionId } = dimension;
  const members = await DimensionMembers.of(tx, workspaceId, dimensionId);
  const [id = 0] = await store.nextMemberIds(tx, 1);
  await store.insertMembers(tx, [await freshMember(members, record, dimension, id, input)]);
  return id;
}

export function addMember(
  connections: Connections,
  actor: Actor,
  dimensionCode: string,
  input: NewMember,
): Promise<{ id: number }> {
  return journaled(connections, actor, 'dimensions', async (tx, record) => {
    const dimension = await mustDimension(tx, actor.workspaceId, dimensionCode);
    const id = await insertNewMember(tx, record, dimension, input);
    record.say(`Added ${input.name} to ${dimension.name}`);
    return { id };
  });
}

/** Changes a member, in a transaction of the caller's. @returns whether anything changed */
export async function changeMemberRow(
  tx: Database,
  members: DimensionMembers,
  record: Recorder,
  dimension: DimensionOf,
  id: number,
  change: MemberChange,
): Promise<boolean> {
  const row = members.must(id);
  const { parent, ...rest } = change;
  if (rest.code !== undefined && (members.withCode(rest.code)?.id ?? id) !== id) {
    throw conflict(`${dimension.name} has a member with the code ${rest.code} already`, 'code');
  }
  if (parent !== undefined && parent !== null && parent !== row.parentId) {
    if (members.liesWithin(parent, id)) {
      throw badRequest(`${row.name} cannot lie below itself`, [
        { path: 'parent', message: 'it lies below this member' },
      ]);
    }
    await mustNotBeSold(members, members.must(parent));
  }
  const next = { ...row, ...rest, ...(parent === undefined ? {} : { parentId: parent }) };
  if (next.validFrom !== null && next.validTo !== null && next.validFrom > next.validTo) {
    throw badRequest(`${row.name} would end before it starts`, [
      { path: 'validTo', message: 'it lies before the start' },
    ]);
  }
  if (typeof rest.replaces === 'number' && rest.replaces !== row.replaces) {
    const why = members.whyNotReplaces(id, rest.replaces);
    if (why !== undefined) throw badRequest(why, [{ path: 'replaces', message: why }]);
  }
  const before = memberCells(row);
  const after = memberCells(next);
  if (JSON.stringify(before) === JSON.stringify(after)) return false;
  const { workspaceId, id: _, ...values } = next;
  await store.setMember(tx, workspaceId, id, values);
  members.put(next);
  record.changed('member', id, before, after, memberName(next.name));
  return true;
}

export async function changeMember(
  connections: Connections,
  actor: Actor,
  dimensionCode: string,
  id: number,
  change: MemberChange,
): Promise<void> {
  await journaled(connections, actor, 'dimensions', async (tx, record) => {
    const dimension = await mustDimension(tx, actor.workspaceId, dimensionCode);
    const members = await DimensionMembers.of(tx, actor.workspaceId, dimension.id);
    const { name } = members.must(id);
    await changeMemberRow(tx, members, record, dimension, id, change);
    record.say(`Changed ${name} in ${dimension.name}`);
    return {};
  });
}

export async function dropMember(
  connections: Connections,
  actor: Actor,
  dimensionCode: string,
  id: number,
): Promise<void> {
  const { workspaceId } = actor;
  await journaled(connections, actor, 'dimensions', async (tx, record) => {
    const dimension = await mustDimension(tx, workspaceId, dimensionCode);
    const members = await DimensionMembers.of(tx, workspaceId, dimension.id);
    const { rows } = members;
    const row = members.must(id);
    const effect = await mergeEffect(tx, workspaceId, row, row);
    const used =
      effect.combinations + effect.assumptions + effect.targets + effect.assignments > 0 ||
      rows.some(({ parentId }) => parentId === id);
    if (used) {
      throw conflict(
        `${row.name} is used: ${effect.lines} sales lines, ${effect.streams} forecast lines, ${effect.assumptions} inputs, or members below it. Merge it into another one instead`,
      );
    }
    if (rows.length === 1) throw conflict(`${dimension.name} would have no member left`);
    await store.deleteMember(tx, workspaceId, id);
    record.say(`Deleted ${row.name} from ${dimension.name}`);
    record.changed('member', id, memberCells(row), null, memberName(row.name));
    return {};
  });
}

/** What a merge would do. @throws HttpProblem 400 for two that cannot be merged */
async function checkMerge(
  db: Database,
  workspaceId: number,
  dimensionCode: string,
  id: number,
  into: number,
) {
  const dimension = await mustDimension(db, workspaceId, dimensionCode);
  const members = await DimensionMembers.of(db, workspaceId, dimension.id);
  const from = members.must(id);
  const to = members.must(into);
  const wrong = (message: string): Error => badRequest(message, [{ path: 'into', message }]);
  if (id === into) throw wrong(`${from.name} cannot be merged into itself`);
  if (members.liesWithin(into, id)) {
    throw wrong(`${to.name} lies below ${from.name}; move it elsewhere first`);
  }
  const isParent = (member: store.MemberRow): boolean =>
    members.rows.some(({ parentId }) => parentId === member.id);
  if ((await members.isSold(id)) && isParent(to)) {
    throw wrong(`${to.name} has members below it; sales name the lowest ones`);
  }
  if (isParent(from) && (await members.isSold(into))) {
    throw wrong(`Sales name ${to.name} itself, so the members below ${from.name} cannot lie there`);
  }
  return { dimension, from, to };
}

export async function previewMerge(
  { db }: Connections,
  { workspaceId }: Actor,
  dimensionCode: string,
  id: number,
  into: number,
): Promise<MergeEffect> {
  const { from, to } = await checkMerge(db, workspaceId, dimensionCode, id, into);
  return mergeEffect(db, workspaceId, from, to);
}

/** Merges a member into another one. It cannot be undone: what was apart is one then. */
export function mergeMember(
  connections: Connections,
  actor: Actor,
  dimensionCode: string,
  id: number,
  into: number,
): Promise<MergeEffect> {
  const { workspaceId } = actor;
  return journaled(connections, actor, 'dimensions', async (tx, record) => {
    const { dimension, from, to } = await checkMerge(tx, workspaceId, dimensionCode, id, into);
    const effect = await mergeEffect(tx, workspaceId, from, to);
    await mergeInto(tx, workspaceId, id, into);
    record.undoable = false;
    record.say(
      `Merged ${from.name} into ${to.name} in ${dimension.name}: ${effect.lines} sales lines moved`,
    );
    record.changed('member', id, memberCells(from), null, memberName(from.name));
    return effect;
  });
}
