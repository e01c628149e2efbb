import { PLAN_FILE_FORMAT, type NewDimension, type PlanFile } from '@dravex/contract';
import { MemberTree, type Dimension } from '@dravex/core';
import { ensureCombinations } from '../dimensions/store.ts';
import { readPlan } from '../plan/plans.ts';
import type { FilePart, Incoming } from '../journal/file-part.ts';
import { answeredOnce } from '../journal/service.ts';
import { KINDS } from '../journal/things.ts';
import type { Actor } from '../people/actor.ts';
import { atOneMoment, type Connections } from '../platform/database.ts';
import { badRequest } from '../platform/errors.ts';
import type { RequestKey } from '../platform/request-key.ts';
import { addWorkspace } from '../workspaces/service.ts';

const fileParts = (): FilePart[] => Object.values(KINDS).flatMap(({ file }) => file ?? []);

/** The whole plan of a workspace, as one moment of the database. */
export function writePlanFile(connections: Connections, actor: Actor): Promise<PlanFile> {
  const { workspaceId } = actor;
  return atOneMoment(connections, async (tx) => {
    const { name, locale, plan } = await readPlan(tx, workspaceId);
    // What people did is in the journal, not in the plan; the rest is as the core has it.
    const assumptions = plan.assumptions.map(({ by: _, at: __, ...rest }) => rest);
    const adjustments = plan.adjustments.map(({ by: _, at: __, ...rest }) => rest);
    const overrides = (plan.overrides ?? []).map(({ at: _, ...rest }) => rest);
    const planOfFile = { ...plan, assumptions, adjustments, overrides };
    const file = { dravex: PLAN_FILE_FORMAT, name, locale, plan: planOfFile };
    const parts: Partial<PlanFile>[] = [];
    for (const part of fileParts()) {
      if (part.give) parts.push(await part.give(tx, workspaceId));
    }
    return JSON.parse(JSON.stringify(Object.assign(file, ...parts))) as PlanFile;
  });
}

/** The dimensions of a file, members naming their parents by code, parents first. */
function dimensionsOf(dimensions: readonly Dimension[]): NewDimension[] {
  const tree = new MemberTree(dimensions);
  return dimensions.map((dimension) => ({
    code: dimension.code,
    name: dimension.name,
    members: tree.inOrder(dimension).map(({ code, name, parent, replaces }) => ({
      code,
      name,
      parent: parent === null ? null : tree.member(parent).code,
      ...(replaces === undefined ? {} : { replaces: tree.member(replaces).code }),
    })),
  }));
}

/** Which id of the workspace stands for each of the file's, members by their codes. */
function memberIds(
  ofFile: readonly Dimension[],
  ofWorkspace: readonly Dimension[],
): ReadonlyMap<number, number> {
  const ids = new Map<number, number>();
  ofFile.forEach(({ members }, position) => {
    const byCode = new Map(ofWorkspace[position]?.members.map((m) => [m.code, m.id]));
    for (const { id, code } of members) ids.set(id, byCode.get(code) ?? 0);
  });
  return ids;
}

/**
 * Makes a workspace from a plan file, all or nothing. Sales come in by combination and month, one
 * line each, because that is what the file holds.
 * @param file checked; see `checkPlanFile`
 * @throws HttpProblem 400 for a version that is named and not there
 */
export function loadPlanFile(
  connections: Connections,
  personId: number,
  requestKey: RequestKey | undefined,
  file: PlanFile,
): Promise<number> {
  const { plan } = file;
  return answeredOnce(connections, personId, requestKey, async (tx, client) => {
    const { actor, dimensions } = await addWorkspace(tx, personId, {
      name: file.name,
      asOfBy: 'hand',
      locale: file.locale,
      calendar: plan.calendar,
      currency: plan.currency,
      dimensions: dimensionsOf(plan.dimensions),
    });
    const { workspaceId } = actor;
    const members = memberIds(plan.dimensions, dimensions);
    const mapped = (ids: readonly number[]): number[] => ids.map((id) => members.get(id) ?? 0);
    const combinations = plan.combinations.map((c) => ({ ...c, members: mapped(c.members) }));
    const ids = await ensureCombinations(
      tx,
      workspaceId,
      combinations.map((c) => c.members),
    );
    const combinationIds = new Map(plan.combinations.map((c, index) => [c.id, ids[index] ?? 0]));

    const versionIds = new Map<number, number>();
    const incoming: Incoming = {
      file,
      tx,
      client,
      workspaceId,
      personId,
      members: mapped,
      combination: (id) => combinationIds.get(id) ?? 0,
      keptVersion: (id, made) => void versionIds.set(id, made),
      version: (id, path) => {
        const made = versionIds.get(id);
        if (made !== undefined) return made;
        const message = `There is no version ${id} in the file`;
        throw badRequest(message, [{ path, message }]);
      },
    };
    for (const part of fileParts()) await part.take(incoming);
    return workspaceId;
  });
}
