/** Versions as wholes: what there is, what they are called and for, and which is a year's budget. */
import type { Version, VersionChange } from '@dravex/contract';
import { fiscalYearOf, monthFrom, type VersionAt } from '@dravex/core';
import type { Plans } from '../plan/plans.ts';
import type { Actor } from '../people/actor.ts';
import { journaled } from '../journal/service.ts';
import type { Connections, Database } from '../platform/database.ts';
import { badRequest, conflict, isTaken, notFound } from '../platform/errors.ts';
import * as store from './store.ts';
import { versionCells, versionNames } from './thing.ts';

export function listVersions({ db }: Connections, { workspaceId }: Actor): Promise<Version[]> {
  return store.versions(db, workspaceId);
}

/** A version that is in sight. @throws HttpProblem 404 */
export async function versionById(db: Database, workspaceId: number, id: number): Promise<Version> {
  const [version] = await store.versions(db, workspaceId, id);
  if (!version) throw notFound('such version');
  return version;
}

/** A version that was there at a moment, if one is named. @throws HttpProblem 400, 404 */
export async function versionAt(
  db: Database,
  workspaceId: number,
  { id, at }: VersionAt,
): Promise<Version> {
  const version = await versionById(db, workspaceId, id);
  // The moment is named to the second, and a version is there for the rest of the one it was made in.
  if (at !== undefined && Date.parse(at) + 1000 <= Date.parse(version.createdAt)) {
    const message = `${version.name} was saved on ${version.createdAt.slice(0, 19)}Z; choose a later moment`;
    throw badRequest(message, [{ path: 'at', message }]);
  }
  return version;
}

/** Deletes a version with all it holds; taken back, it is there again. */
export async function deleteVersion(
  connections: Connections,
  actor: Actor,
  versionId: number,
): Promise<void> {
  const { workspaceId } = actor;
  await journaled(connections, actor, 'budget', async (tx, record) => {
    const row = await changeable(tx, workspaceId, versionId);
    await store.setVersion(tx, workspaceId, versionId, { removed: true });
    record.changed('version', versionId, versionCells(row), null, versionNames(row.name));
    record.say(`Deleted ${row.name}`);
    return {};
  });
}

/** Seals a version: it takes no more entries. */
export function sealVersion(
  connections: Connections,
  actor: Actor,
  versionId: number,
): Promise<Version> {
  const { workspaceId } = actor;
  return journaled(connections, actor, 'budget', async (tx, record) => {
    const row = await store.lockVersion(tx, workspaceId, versionId);
    if (!row || row.removed) throw notFound('such version');
    if (row.state === 'sealed') throw conflict(`${row.name} is locked already`);
    await store.setVersion(tx, workspaceId, versionId, { state: 'sealed' });
    const after = versionCells({ ...row, state: 'sealed' });
    record.changed('version', versionId, versionCells(row), after, versionNames(row.name));
    record.say(`Locked ${row.name}`);
    return versionById(tx, workspaceId, versionId);
  });
}

/**
 * Renames a version, says what it is for, marks it as the budget of its year, or puts it away. The
 * version that was the year's budget is it no longer; what is put away is no year's budget.
 * @throws HttpProblem 404, or 409 for a name that is taken or a forecast that was kept at a close
 */
export async function changeVersion(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  versionId: number,
  { budget, ...change }: VersionChange,
): Promise<Version> {
  const { workspaceId } = actor;
  const { plan } = await plans.current(workspaceId);
  return journaled(connections, actor, 'budget', async (tx, record) => {
    const row = await changeable(tx, workspaceId, versionId);
    const year = yearOf(row, plan.calendar.fiscalStart);
    const putAway = change.putAway ?? row.putAway;
    const budgetOf = putAway ? null : budget === undefined ? row.budgetOf : budget ? year : null;
    const before =
      budgetOf === null ? undefined : await store.budgetOfYear(tx, workspaceId, budgetOf);
    const set = async (of: store.VersionRow, next: Partial<store.VersionRow>): Promise<void> => {
      await store.setVersion(tx, workspaceId, of.id, next);
      const now = { ...of, ...next };
      record.changed('version', of.id, versionCells(of), versionCells(now), versionNames(now.name));
    };
    if (before && before.id !== row.id) await set(before, { budgetOf: null });
    try {
      await set(row, {
        ...{ name: change.name ?? row.name, note: change.note ?? row.note },
        ...{ budgetOf, putAway },
      });
    } catch (error) {
      if (!isTaken(error)) throw error;
      throw conflict(
        `There is a version "${change.name ?? ''}" already; choose another name`,
        'name',
      );
    }
    record.say(inWords(row, { ...change, budget }, year));
    return versionById(tx, workspaceId, versionId);
  });
}

/** A version's own row, locked. @throws HttpProblem 404, or 409 for what was kept at a close */
async function changeable(
  tx: Database,
  workspaceId: number,
  versionId: number,
): Promise<store.VersionRow> {
  const row = await store.lockVersion(tx, workspaceId, versionId);
  if (!row || row.removed) throw notFound('such version');
  if (row.closedMonth !== null) {
    throw conflict(`${row.name} was kept when the month was closed; open the month again instead`);
  }
  return row;
}

/** The fiscal year that a version is of: that of its last month. */
export const yearOf = (
  { toMonth }: Pick<store.VersionRow, 'toMonth'>,
  fiscalStart: number,
): number => fiscalYearOf(monthFrom(toMonth.slice(0, 7)), fiscalStart);

/** What was changed, in a sentence. */
function inWords(
  { name }: store.VersionRow,
  { name: next, putAway, budget }: VersionChange,
  year: number,
): string {
  if (next !== undefined && next !== name) return `Renamed ${name} to ${next}`;
  if (putAway !== undefined) return putAway ? `Archived ${name}` : `Restored ${name}`;
  if (budget !== undefined) {
    return budget ? `${name} is the budget of FY ${year}` : `${name} is no year’s budget`;
  }
  return `Changed what ${name} is for`;
}
