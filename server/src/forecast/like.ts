/** A new member that is forecast like another one. */
import type { MemberLike } from '@dravex/contract';
import { linesLike, MemberTree, type Plan } from '@dravex/core';
import { insertNewMember } from '../dimensions/members.ts';
import { mustDimension } from '../dimensions/service.ts';
import { ensureCombinations } from '../dimensions/store.ts';
import { addAdjustments } from '../drivers/adjustments.ts';
import { addAssumptions } from '../drivers/assumptions.ts';
import type { Actor } from '../people/actor.ts';
import { badRequest } from '../platform/errors.ts';
import type { Connections } from '../platform/database.ts';
import { changingPlan } from '../plan/changing-plan.ts';
import type { Plans } from '../plan/plans.ts';
import { addStreams } from './streams.ts';

/** The tree with a member more, so that what is set for it has a name. */
function treeWith(
  { dimensions }: Plan,
  position: number,
  member: Plan['dimensions'][number]['members'][number],
): MemberTree {
  return new MemberTree(
    dimensions.map((one, at) =>
      at === position ? { ...one, members: [...one.members, member] } : one,
    ),
  );
}

/**
 * Adds a member beside another one and forecasts it like that, as one record.
 * @throws HttpProblem 400 for a member that is not there or is not forecast, or a month that is not
 *   open; 409 for a code that is taken
 */
export function createLike(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  { dimension, like, name, code, scale, from, listPrice }: MemberLike,
): Promise<{ member: number; streams: number }> {
  const { workspaceId } = actor;
  const refuse = (path: string, message: string): never => {
    throw badRequest(message, [{ path, message }]);
  };
  return changingPlan(
    connections,
    plans,
    actor,
    'forecast',
    async (tx, record, { plan, model }) => {
      const row = await mustDimension(tx, workspaceId, dimension);
      const position = plan.dimensions.findIndex((one) => one.code === dimension);
      const other = plan.dimensions[position]?.members.find((one) => one.code === like);
      if (!other) return refuse('like', `${row.name} has no member with the code ${like}`);
      const { closedThrough, last } = plan.calendar;
      if (from !== null && (from <= closedThrough || from > last)) {
        return refuse('from', `${from} is no open month; these end with ${last}`);
      }
      const parent = other.parent;
      const member = await insertNewMember(tx, record, row, { code, name, parent });
      const how = { like: other.id, member, scale, from, listPrice };
      const { streams, assumptions, adjustments } = linesLike(model, how);
      if (streams.length === 0) {
        return refuse('like', `${other.name} is not forecast itself; choose another one`);
      }
      const tree = treeWith(plan, position, { id: member, code, name, parent });
      const ids = await ensureCombinations(
        tx,
        workspaceId,
        streams.map(({ members }) => members),
      );
      const made = streams.map(({ members, method }, at) => ({
        combination: ids[at] ?? 0,
        members,
        method,
      }));
      for (const { combination, members } of made) {
        const label = `Combination ${tree.label(members)}`;
        const cells = { members: [...members] };
        record.changed('combination', combination, null, cells, () => ({ label, unit: 'text' }));
      }
      const naming = { tree, drivers: plan.drivers, standing: model.assumptions };
      await addStreams(tx, workspaceId, made, tree, record);
      await addAssumptions(tx, actor, assumptions, naming, record);
      await addAdjustments(tx, actor, adjustments, naming, record);
      record.say(`Added ${name} like ${other.name}, with ${streams.length} forecast lines`);
      return { member, streams: streams.length };
    },
  );
}
