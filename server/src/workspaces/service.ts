import type { FieldError, NewDimension, NewWorkspace } from '@dravex/contract';
import { MemberTree, Replacements, type Dimension } from '@dravex/core';
import { insertDimensions } from '../dimensions/store.ts';
import { answeredOnce, recorded } from '../journal/service.ts';
import type { Actor } from '../people/actor.ts';
import { personById, setMembership } from '../people/store.ts';
import { toFirst, type Connections, type Database } from '../platform/database.ts';
import { badRequest } from '../platform/errors.ts';
import { afterOthers } from '../platform/pauses.ts';
import type { RequestKey } from '../platform/request-key.ts';
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
    errors.push(...checkReplaced(dimension, `dimensions.${d}`));
  });
  return errors;
}

/** What is wrong with which members of a dimension replace which. */
function checkReplaced({ members }: NewDimension, path: string): FieldError[] {
  const placeOf = new Map(members.map(({ code }, place) => [code, place]));
  const replacements = new Replacements(
    members.map(({ name, replaces }, id) => ({
      ...{ id, name },
      replaces: replaces === undefined ? null : (placeOf.get(replaces) ?? null),
    })),
  );
  return members.flatMap(({ replaces }, id) => {
    if (replaces === undefined) return [];
    const message = replacements.whyNot(id, placeOf.get(replaces) ?? -1);
    return message === undefined ? [] : [{ path: `${path}.members.${id}.replaces`, message }];
  });
}

/** Creates a workspace with its calendar and dimensions; whoever creates it plans in it. */
export async function createWorkspace(
  connections: Connections,
  personId: number,
  requestKey: RequestKey | undefined,
  input: NewWorkspace,
): Promise<number> {
  const errors = checkDimensions(input.dimensions);
  if (errors.length > 0) throw badRequest(errors[0]?.message ?? '', errors);
  return answeredOnce(connections, personId, requestKey, async (tx) => {
    const { actor } = await addWorkspace(tx, personId, input);
    return actor.workspaceId;
  });
}

/** Writes a new workspace, in a transaction of the caller's. */
export async function addWorkspace(
  tx: Database,
  personId: number,
  input: NewWorkspace,
): Promise<{ actor: Actor; dimensions: Dimension[] }> {
  const workspaceId = await insertWorkspace(tx, {
    name: input.name,
    locale: input.locale,
    currencyCode: input.currency.code,
    minorDigits: input.currency.minorDigits,
    firstMonth: toFirst(input.calendar.first),
    lastMonth: toFirst(input.calendar.last),
    closedThrough: toFirst(input.calendar.closedThrough),
    asOf: input.calendar.asOf,
    asOfBy: input.asOfBy,
    fiscalStart: input.calendar.fiscalStart,
  });
  const dimensions = await insertDimensions(tx, workspaceId, input.dimensions);
  await afterOthers();
  // What was just written must be a tree the core can use; if not, nothing of it stays.
  new MemberTree(dimensions);
  await afterOthers();
  await setMembership(tx, workspaceId, personId, 'owner');
  const name = (await personById(tx, personId))?.name ?? '';
  const actor: Actor = { personId, name, workspaceId, role: 'owner' };
  await recorded(tx, actor, 'workspace', (record) => {
    record.undoable = false;
    record.say(`Created the workspace ${input.name}`);
    record.changed('workspace', workspaceId, null, { name: input.name }, () => ({
      label: 'Workspace',
      unit: 'text',
    }));
    return Promise.resolve();
  });
  return { actor, dimensions };
}
