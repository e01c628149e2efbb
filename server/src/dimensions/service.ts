/** The dimensions of a workspace and what can be done to their members. */
import type { DimensionDetail, NewMember } from '@dravex/contract';
import { MemberTree, type Dimension } from '@dravex/core';
import { journaled } from '../journal/service.ts';
import type { Actor } from '../people/actor.ts';
import type { Connections, Database } from '../platform/database.ts';
import { conflict, notFound } from '../platform/errors.ts';
import { dimensionCells, removeDimension, whyDimensionStays } from './remove.ts';
import * as store from './store.ts';

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
    members: tree.inOrder(dimension).map(({ id, code, name, parent, replaces }) => ({
      id,
      code,
      name,
      parent,
      validFrom: rows.get(id)?.validFrom ?? null,
      validTo: rows.get(id)?.validTo ?? null,
      account: rows.get(id)?.account ?? null,
      replaces: replaces ?? null,
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
      const useOfMember = use.get(id);
      if (!useOfMember) continue;
      for (const above of tree.path(id)) {
        const sum = sums.get(above) ?? { combinations: 0, lines: 0 };
        sum.combinations += useOfMember.combinations;
        sum.lines += useOfMember.lines;
        sums.set(above, sum);
      }
    }
  }
  return sums;
}

export async function mustDimension(db: Database, workspaceId: number, code: string) {
  const row = await store.dimensionRow(db, workspaceId, code);
  if (!row) throw notFound('such dimension');
  return row;
}

export async function addDimension(
  connections: Connections,
  actor: Actor,
  input: { code: string; name: string; first: NewMember },
): Promise<{ code: string }> {
  const { workspaceId } = actor;
  return journaled(connections, actor, 'dimensions', async (tx, record) => {
    const otherDimensions = await store.dimensionsOf(tx, workspaceId);
    if (otherDimensions.some(({ code }) => code === input.code)) {
      throw conflict(`There is a dimension with the code ${input.code} already`, 'code');
    }
    if (otherDimensions.length >= MOST_DIMENSIONS) {
      throw conflict(`A workspace has at most ${MOST_DIMENSIONS} dimensions`);
    }
    const { code, name } = input.first;
    await store.appendDimension(tx, workspaceId, input, { code, name });
    record.say(`Added the dimension ${input.name}; all sales belong to ${name} for now`);
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
    const dimensionsThere = await store.dimensionsOf(tx, workspaceId);
    if (dimensionsThere.length === 1)
      throw conflict(`${row.name} is the only dimension; one stays`);
    const why = await whyDimensionStays(tx, workspaceId, row);
    if (why !== undefined) throw conflict(why);
    const cells = await dimensionCells(tx, workspaceId, row);
    await removeDimension(tx, workspaceId, row);
    record.say(`Deleted the dimension ${row.name}`);
    record.changed('dimension', code, cells, null, () => ({ label: row.name, unit: 'text' }));
    return {};
  });
}
