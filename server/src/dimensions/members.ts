/** Members: added, changed, put elsewhere, taken away and merged. */
import type { MemberChange, MergeEffect, NewMember } from '@dravex/contract';
import { whyNotReplaces } from '@dravex/core';
import { journaled, type Recorder } from '../journal/service.ts';
import type { Actor } from '../people/actor.ts';
import type { Connections, Database } from '../platform/database.ts';
import { badRequest, conflict, notFound } from '../platform/errors.ts';
import { mergeEffect, mergeInto } from './merge.ts';
import { mustDimension } from './service.ts';
import * as store from './store.ts';
import { memberCells, memberName } from './thing.ts';

export async function membersOf(db: Database, workspaceId: number, dimensionId: number) {
  const rows = await store.memberRows(db, workspaceId);
  return rows.filter((row) => row.dimensionId === dimensionId);
}

function mustMember(rows: readonly store.MemberRow[], id: number): store.MemberRow {
  const row = rows.find((member) => member.id === id);
  if (!row) throw notFound('such member');
  return row;
}

/** @throws HttpProblem 409 when sales name the member itself: they name the lowest ones only */
async function mustNotBeSold(db: Database, row: store.MemberRow): Promise<void> {
  const use = (await store.memberUse(db, row.workspaceId)).get(row.id);
  if (!use) return;
  throw conflict(
    `${row.name} has sales or forecast lines of its own, so nothing can be below it; add a member above it for both`,
    'parent',
  );
}

/** Adds a member to a dimension, in a transaction of the caller's. */
export async function insertNewMember(
  tx: Database,
  record: Recorder,
  dimension: { id: number; workspaceId: number; name: string },
  input: NewMember &
    Partial<Pick<store.MemberRow, 'validFrom' | 'validTo' | 'account' | 'replaces'>>,
): Promise<number> {
  const { workspaceId, id: dimensionId } = dimension;
  const rows = await membersOf(tx, workspaceId, dimensionId);
  if (rows.some(({ code }) => code === input.code)) {
    throw conflict(`${dimension.name} has a member with the code ${input.code} already`, 'code');
  }
  if (input.parent !== null) await mustNotBeSold(tx, mustMember(rows, input.parent));
  const { parent, ...rest } = input;
  const values = {
    workspaceId,
    dimensionId,
    position: Math.max(-1, ...rows.map(({ position }) => position)) + 1,
    parentId: parent,
    ...rest,
  };
  const id = await store.insertMember(tx, values);
  const made = mustMember(await membersOf(tx, workspaceId, dimensionId), id);
  record.changed('member', id, null, memberCells(made), memberName(input.name));
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
  record: Recorder,
  dimension: { id: number; workspaceId: number; name: string },
  id: number,
  change: MemberChange,
): Promise<boolean> {
  const { workspaceId } = dimension;
  const rows = await membersOf(tx, workspaceId, dimension.id);
  const row = mustMember(rows, id);
  const { parent, ...rest } = change;
  if (rest.code !== undefined && rows.some((m) => m.code === rest.code && m.id !== id)) {
    throw conflict(`${dimension.name} has a member with the code ${rest.code} already`, 'code');
  }
  if (parent !== undefined && parent !== null && parent !== row.parentId) {
    for (let at: number | null = parent; at !== null; at = mustMember(rows, at).parentId) {
      if (at === id) {
        throw badRequest(`${row.name} cannot lie below itself`, [
          { path: 'parent', message: 'it lies below this member' },
        ]);
      }
    }
    await mustNotBeSold(tx, mustMember(rows, parent));
  }
  const next = { ...row, ...rest, ...(parent === undefined ? {} : { parentId: parent }) };
  if (next.validFrom !== null && next.validTo !== null && next.validFrom > next.validTo) {
    throw badRequest(`${row.name} would end before it starts`, [
      { path: 'validTo', message: 'it lies before the start' },
    ]);
  }
  if (typeof rest.replaces === 'number' && rest.replaces !== row.replaces) {
    const why = whyNotReplaces(rows, id, rest.replaces);
    if (why !== undefined) throw badRequest(why, [{ path: 'replaces', message: why }]);
  }
  const before = memberCells(row);
  const after = memberCells(next);
  if (JSON.stringify(before) === JSON.stringify(after)) return false;
  const { workspaceId: _, id: __, ...values } = next;
  await store.setMember(tx, workspaceId, id, values);
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
    const { name } = mustMember(await membersOf(tx, actor.workspaceId, dimension.id), id);
    await changeMemberRow(tx, record, dimension, id, change);
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
    const rows = await membersOf(tx, workspaceId, dimension.id);
    const row = mustMember(rows, id);
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
  const rows = await membersOf(db, workspaceId, dimension.id);
  const from = mustMember(rows, id);
  const to = mustMember(rows, into);
  const wrong = (message: string): Error => badRequest(message, [{ path: 'into', message }]);
  if (id === into) throw wrong(`${from.name} cannot be merged into itself`);
  for (let at: number | null = into; at !== null; at = mustMember(rows, at).parentId) {
    if (at === id) throw wrong(`${to.name} lies below ${from.name}; move it elsewhere first`);
  }
  const isParent = (member: store.MemberRow): boolean =>
    rows.some(({ parentId }) => parentId === member.id);
  const use = await store.memberUse(db, workspaceId);
  if (use.has(id) && isParent(to)) {
    throw wrong(`${to.name} has members below it; sales name the lowest ones`);
  }
  if (isParent(from) && use.has(into)) {
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
