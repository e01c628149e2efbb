/** The dimensions of a workspace and what can be done to their members. */
import type {
  Assignment,
  DimensionDetail,
  MemberChange,
  MergeEffect,
  NewMember,
} from '@dravex/contract';
import { MemberTree, type Dimension } from '@dravex/core';
import { journaled, type Recorder } from '../journal/service.ts';
import type { Actor } from '../people/actor.ts';
import type { Connections, Database } from '../platform/database.ts';
import { badRequest, conflict, notFound } from '../platform/errors.ts';
import { mergeEffect, mergeInto } from './merge.ts';
import { dimensionCells, removeDimension, whyDimensionStays } from './remove.ts';
import * as store from './store.ts';
import { assignmentId, assignmentThing, memberCells, memberName } from './thing.ts';

/** More dimensions than this cannot be read by anybody. */
const MOST_DIMENSIONS = 12;

/** Every dimension with its members, and how much of the sales each leaf has. */
export async function listDimensions(
  { db }: Connections,
  { workspaceId }: Actor,
): Promise<DimensionDetail[]> {
  const [dimensions, members, use, assignments] = await Promise.all([
    store.dimensionsOf(db, workspaceId),
    store.memberRows(db, workspaceId),
    store.memberUse(db, workspaceId),
    store.assignmentsOf(db, workspaceId),
  ]);
  const rows = new Map(members.map((row) => [row.id, row]));
  const tree = new MemberTree(dimensions);
  const below = sumsBelow(tree, dimensions, use);
  return dimensions.map((dimension) => ({
    code: dimension.code,
    name: dimension.name,
    assignments: assignments.filter(({ memberId }) =>
      dimension.members.some(({ id }) => id === memberId),
    ).length,
    members: tree.inOrder(dimension).map(({ id, code, name, parent }) => ({
      id,
      code,
      name,
      parent,
      validFrom: rows.get(id)?.validFrom ?? null,
      validTo: rows.get(id)?.validTo ?? null,
      account: rows.get(id)?.account ?? null,
      ...(below.get(id) ?? { combinations: 0, lines: 0 }),
    })),
  }));
}

function sumsBelow(
  tree: MemberTree,
  dimensions: readonly Dimension[],
  use: Awaited<ReturnType<typeof store.memberUse>>,
) {
  const sums = new Map<number, { combinations: number; lines: number }>();
  for (const { members } of dimensions) {
    for (const { id } of members) {
      const own = use.get(id);
      if (!own) continue;
      for (const above of tree.path(id)) {
        const sum = sums.get(above) ?? { combinations: 0, lines: 0 };
        sum.combinations += own.combinations;
        sum.lines += own.lines;
        sums.set(above, sum);
      }
    }
  }
  return sums;
}

async function mustDimension(db: Database, workspaceId: number, code: string) {
  const row = await store.dimensionRow(db, workspaceId, code);
  if (!row) throw notFound('such dimension');
  return row;
}

async function membersOf(db: Database, workspaceId: number, dimensionId: number) {
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
    `Sales and streams name ${row.name} itself, so nothing can lie below it; make a member for the two of them above it`,
    'parent',
  );
}

/** Adds a member to a dimension, in a transaction of the caller's. */
export async function insertNewMember(
  tx: Database,
  record: Recorder,
  dimension: { id: number; workspaceId: number; name: string },
  input: NewMember & Partial<Pick<store.MemberRow, 'validFrom' | 'validTo' | 'account'>>,
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
        `${row.name} is used: ${effect.lines} sales lines, ${effect.streams} streams, ${effect.assumptions} assumptions, or members below it. Merge it into another one instead`,
      );
    }
    if (rows.length === 1) throw conflict(`${dimension.name} would have no member left`);
    await store.deleteMember(tx, workspaceId, id);
    record.say(`Took ${row.name} out of ${dimension.name}`);
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

export async function addDimension(
  connections: Connections,
  actor: Actor,
  input: { code: string; name: string; first: NewMember },
): Promise<{ code: string }> {
  const { workspaceId } = actor;
  return journaled(connections, actor, 'dimensions', async (tx, record) => {
    const known = await store.dimensionsOf(tx, workspaceId);
    if (known.some(({ code }) => code === input.code)) {
      throw conflict(`There is a dimension with the code ${input.code} already`, 'code');
    }
    if (known.length >= MOST_DIMENSIONS) {
      throw conflict(`A workspace has at most ${MOST_DIMENSIONS} dimensions`);
    }
    const { code, name } = input.first;
    await store.appendDimension(tx, workspaceId, input, { code, name });
    record.say(`Added the dimension ${input.name}; everything belongs to ${name} for now`);
    const row = await store.dimensionRow(tx, workspaceId, input.code);
    const cells = row && (await dimensionCells(tx, workspaceId, row));
    record.changed('dimension', input.code, null, cells ?? null, () => ({
      label: input.name,
      unit: 'text',
    }));
    return { code: input.code };
  });
}

export async function renameDimension(
  connections: Connections,
  actor: Actor,
  code: string,
  name: string,
): Promise<void> {
  const { workspaceId } = actor;
  await journaled(connections, actor, 'dimensions', async (tx, record) => {
    const dimension = await mustDimension(tx, workspaceId, code);
    await store.setDimensionName(tx, workspaceId, dimension.id, name);
    record.say(`Renamed the dimension ${dimension.name} to ${name}`);
    record.changed('dimension', code, { name: dimension.name }, { name }, () => ({
      label: name,
      unit: 'text',
    }));
    return {};
  });
}

/**
 * Deletes a dimension that tells nothing apart: all combinations have the same member in it, and
 * nothing names one.
 * @throws HttpProblem 409 with what stands in the way
 */
export async function deleteDimension(
  connections: Connections,
  actor: Actor,
  code: string,
): Promise<void> {
  const { workspaceId } = actor;
  await journaled(connections, actor, 'dimensions', async (tx, record) => {
    const row = await mustDimension(tx, workspaceId, code);
    const known = await store.dimensionsOf(tx, workspaceId);
    if (known.length === 1) throw conflict(`${row.name} is the only dimension; one stays`);
    const why = await whyDimensionStays(tx, workspaceId, row);
    if (why !== undefined) throw conflict(why);
    const cells = await dimensionCells(tx, workspaceId, row);
    await removeDimension(tx, workspaceId, row);
    record.say(`Deleted the dimension ${row.name}`);
    record.changed('dimension', code, cells, null, () => ({ label: row.name, unit: 'text' }));
    return {};
  });
}

export async function listAssignments(
  { db }: Connections,
  { workspaceId }: Actor,
  dimensionCode: string,
): Promise<Assignment[]> {
  const dimension = await mustDimension(db, workspaceId, dimensionCode);
  const members = await membersOf(db, workspaceId, dimension.id);
  const codes = new Map(members.map(({ id, code }) => [id, code]));
  const rows = await store.assignmentsOf(db, workspaceId, dimension.id);
  return rows.map(({ customer, from, memberId }) => ({
    customer,
    from,
    member: codes.get(memberId) ?? '',
  }));
}

/** Assigns customers to members from a day on. */
export function assignCustomers(
  connections: Connections,
  actor: Actor,
  dimensionCode: string,
  assignments: readonly Assignment[],
): Promise<{ assignments: number }> {
  const { workspaceId } = actor;
  return journaled(connections, actor, 'dimensions', async (tx, record) => {
    const dimension = await mustDimension(tx, workspaceId, dimensionCode);
    const members = await membersOf(tx, workspaceId, dimension.id);
    const parents = new Set(members.map(({ parentId }) => parentId));
    const leaves = new Map(
      members.filter(({ id }) => !parents.has(id)).map(({ id, code }) => [code, id]),
    );
    const errors = assignments.flatMap(({ member }, index) =>
      leaves.has(member)
        ? []
        : [
            {
              path: `assignments.${index}.member`,
              message: `"${member}" is no lowest member of ${dimension.name}`,
            },
          ],
    );
    if (errors.length > 0) throw badRequest(errors[0]?.message ?? '', errors.slice(0, 100));
    const before = await assignmentThing.read(
      tx,
      workspaceId,
      assignments.map(({ customer, from }) => assignmentId(dimension.id, customer, from)),
    );
    await store.assign(
      tx,
      assignments.map(({ customer, from, member }) => ({
        workspaceId,
        dimensionId: dimension.id,
        customer,
        from,
        memberId: leaves.get(member) ?? 0,
      })),
    );
    record.say(`Assigned ${assignments.length} customers in ${dimension.name}`);
    for (const { customer, from, member } of assignments) {
      const id = assignmentId(dimension.id, customer, from);
      record.changed('assignment', id, before.get(id) ?? null, { member }, () => ({
        label: `${customer} from ${from}: ${dimension.name}`,
        unit: 'text',
      }));
    }
    return { assignments: assignments.length };
  });
}
