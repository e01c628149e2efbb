/** What somebody who fills in a sheet may bring back of what they did: only what they may still do. */
import { MemberTree } from '@dravex/core';
import { placeOf } from '../budgets/thing.ts';
import { combinationsOf, dimensionsOf } from '../dimensions/store.ts';
import type { Theirs } from '../journal/thing.ts';
import { forbidden } from '../platform/errors.ts';
import { canFillIn, mustFillIn } from './rights.ts';
import { sheetsOf } from './store.ts';

/** Cells of versions: those that lie on a sheet which the actor can fill in now. */
export const cellsOnSheets: Theirs = async (db, actor, changes) => {
  const { workspaceId, personId } = actor;
  const sheets = (await sheetsOf(db, workspaceId, { person: personId })).filter((row) =>
    canFillIn(row, actor),
  );
  const tree = new MemberTree(await dimensionsOf(db, workspaceId));
  const combinations = await combinationsOf(db, workspaceId);
  const members = new Map(combinations.map((one) => [one.id, one.members]));
  for (const { id } of changes) {
    const { versionId, combination } = placeOf(id);
    const on = sheets.some(
      ({ kept }) =>
        kept.version === versionId && tree.covers(kept.scope, members.get(combination) ?? []),
    );
    if (!on) throw forbidden('This is not on a sheet that you can fill in now');
  }
};

/** What was said of lines of a sheet that the actor can fill in now. */
export const linesOnSheets: Theirs = async (db, actor, changes) => {
  const ids = changes.map(({ now, next }) => String(now?.['sheet'] ?? next?.['sheet']));
  for (const id of new Set(ids)) {
    const [row] = await sheetsOf(db, actor.workspaceId, { id });
    if (!row) throw forbidden('The sheet is no longer there');
    mustFillIn(row, actor);
  }
};

/** A step of a sheet is not taken back by whoever fills it in: the planner has seen it. */
export const sheetsToStep: Theirs = () =>
  Promise.reject(forbidden('A sheet that is handed in is sent back by a planner; ask for it'));
