/** Which customers belong to which member of a dimension, and from when. */
import type { Assignment } from '@dravex/contract';
import { journaled } from '../journal/service.ts';
import type { Actor } from '../people/actor.ts';
import type { Connections } from '../platform/database.ts';
import { badRequest } from '../platform/errors.ts';
import { DimensionMembers } from './dimension-members.ts';
import { mustDimension } from './service.ts';
import * as store from './store.ts';
import { assignmentId, assignmentThing } from './thing.ts';

export async function listAssignments(
  { db }: Connections,
  { workspaceId }: Actor,
  dimensionCode: string,
): Promise<Assignment[]> {
  const dimension = await mustDimension(db, workspaceId, dimensionCode);
  const members = (await DimensionMembers.of(db, workspaceId, dimension.id)).rows;
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
    const members = (await DimensionMembers.of(tx, workspaceId, dimension.id)).rows;
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
