import type { NewWorkspace } from '@dravex/contract';
import { MemberTree } from '@dravex/core';
import { insertDimensions } from '../dimensions/store.ts';
import { setMembership } from '../people/store.ts';
import { inTransaction, toFirst, type Connections } from '../platform/database.ts';
import { badRequest } from '../platform/errors.ts';
import { insertWorkspace } from './store.ts';

/** Why dimensions cannot be taken, each with its path. */
function checkDimensions(
  dimensions: NewWorkspace['dimensions'],
): { path: string; message: string }[] {
  const errors: { path: string; message: string }[] = [];
  const codes = new Set<string>();
  dimensions.forEach((dimension, d) => {
    if (codes.has(dimension.code)) {
      errors.push({ path: `dimensions.${d}.code`, message: `"${dimension.code}" is there twice` });
    }
    codes.add(dimension.code);
    const ids = new Map<string, number>();
    dimension.members.forEach((member, m) => {
      const path = `dimensions.${d}.members.${m}`;
      if (ids.has(member.code)) {
        errors.push({ path: `${path}.code`, message: `"${member.code}" is there twice` });
      }
      if (member.parent !== null && !ids.has(member.parent)) {
        errors.push({
          path: `${path}.parent`,
          message: `"${member.parent}" does not stand before it; parents come first`,
        });
      }
      ids.set(member.code, m);
    });
  });
  return errors;
}

/** Creates a workspace with its calendar and dimensions; whoever creates it plans in it. */
export async function createWorkspace(
  connections: Connections,
  personId: number,
  input: NewWorkspace,
): Promise<number> {
  const errors = checkDimensions(input.dimensions);
  if (errors.length > 0) throw badRequest(errors[0]?.message ?? '', errors);
  return inTransaction(connections, async (tx) => {
    const id = await insertWorkspace(tx, {
      name: input.name,
      locale: input.locale,
      currencyCode: input.currency.code,
      minorDigits: input.currency.minorDigits,
      firstMonth: toFirst(input.calendar.first),
      lastMonth: toFirst(input.calendar.last),
      closedThrough: toFirst(input.calendar.closedThrough),
      asOf: input.calendar.asOf,
      fiscalStart: input.calendar.fiscalStart,
    });
    const dimensions = await insertDimensions(tx, id, input.dimensions);
    // What was just written must be a tree the core can use; if not, nothing of it stays.
    new MemberTree(dimensions);
    await setMembership(tx, id, personId, 'planner');
    return id;
  });
}
