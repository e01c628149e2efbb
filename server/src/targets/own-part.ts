/** What of a year's target trees an actor sees and changes: all of it, or what they hold. */
import { holdsPart, type ObjectiveOf, type TargetTree } from '@dravex/contract';
import { targetAmounts } from '@dravex/core';
import type { Actor } from '../people/actor.ts';
import { partsOf } from '../people/store.ts';
import type { Connections, Database } from '../platform/database.ts';
import { forbidden } from '../platform/errors.ts';
import { differences } from '../journal/cells.ts';
import { allNodes, type TargetRow } from './store.ts';
import { targetCells } from './cells.ts';
import { entryOf, objectivesOf, rowsBelow } from './tree.ts';

/** The nodes that somebody holds, with everything below them. */
export interface OwnPart {
  /** Those that are held and do not lie below another one that is. */
  readonly tops: ReadonlySet<number>;
  readonly nodes: ReadonlySet<number>;
}

/** What an actor holds among rows of target trees; undefined for whoever sees all of them. */
export async function ownPart(
  db: Database,
  { workspaceId, personId, role }: Actor,
  rows: readonly TargetRow[],
): Promise<OwnPart | undefined> {
  if (!holdsPart(role)) return undefined;
  const held = new Set(await partsOf(db, workspaceId, personId));
  const nodes = new Set<number>();
  const tops = new Set(rows.filter(({ id }) => held.has(id)).map(({ id }) => id));
  for (const top of [...tops]) {
    for (const { id } of rowsBelow(rows, top)) {
      nodes.add(id);
      if (id !== top) tops.delete(id);
    }
  }
  return { tops, nodes };
}

/** 403: it is somebody else's. */
export const notTheirs = () => forbidden('This is not in your part of the targets');

/** @throws HttpProblem 403 for a node that is not in the part */
export function mustSee(part: OwnPart | undefined, node: number): void {
  if (part && !part.nodes.has(node)) throw notTheirs();
}

/** What somebody may do with the target that they hold; how it is divided lies below it. */
const OF_A_TOP: ReadonlySet<string> = new Set(['state', 'comment', 'deals', 'months']);
const STATES: ReadonlySet<unknown> = new Set(['agreed', 'questioned']);

/**
 * Whether what became of some nodes is theirs to do: below what they hold anything, with that
 * itself only to agree or question it, and to plan its months and deals.
 * @param part of the rows before
 * @throws HttpProblem 403
 */
export function mustHold(
  part: OwnPart | undefined,
  before: readonly TargetRow[],
  now: readonly TargetRow[],
  ids: readonly number[],
): void {
  if (!part) return;
  const [old, next] = [before, now].map((rows) => new Map(rows.map((row) => [row.id, row])));
  for (const id of ids) {
    const [was, is] = [old?.get(id), next?.get(id)];
    if (was && !part.nodes.has(id)) throw notTheirs();
    if (part.tops.has(id)) {
      if (!was || !is) throw notTheirs();
      const changed = differences(targetCells(was), targetCells(is));
      const theirs = changed.every(({ cell }) => OF_A_TOP.has(cell));
      if (!theirs || (was.state !== is.state && !STATES.has(is.state))) {
        throw forbidden(
          'Your own target is set by whoever handed it out; you can agree it or question it',
        );
      }
    } else if (is) {
      const top = topAbove(part, next ?? new Map(), is);
      if (!top) throw notTheirs();
      if (isOpen(top) && countsMore(was, is)) {
        throw forbidden(
          `${top.name} has no scope of its own, so whoever is added to it brings other sales with them; a planner adds them`,
        );
      }
    }
  }
}

/** What is held above a row; undefined where nothing is. */
function topAbove(
  { tops }: OwnPart,
  rows: ReadonlyMap<number, TargetRow>,
  { parentId }: TargetRow,
): TargetRow | undefined {
  for (let above = parentId; above !== null; above = rows.get(above)?.parentId ?? null) {
    if (tops.has(above)) return rows.get(above);
  }
  return undefined;
}

/** Whether what lies below a team is not narrowed by it: then it is what its parts are. */
const isOpen = ({ parentId, scope, seller, account }: TargetRow): boolean =>
  parentId !== null && scope.length === 0 && seller === null && account === null;

/** Whether a node counts other sales than before: those that its scope, seller or account name. */
function countsMore(was: TargetRow | undefined, is: TargetRow): boolean {
  const counted = ({ scope, seller, account }: TargetRow): string =>
    JSON.stringify([scope, seller, account]);
  const nothing = JSON.stringify([[], null, null]);
  return counted(is) !== nothing && (!was || counted(was) !== counted(is));
}

/** The objectives in which something is held, each with what the held targets come to. */
export function heldObjectives(
  rows: readonly TargetRow[],
  { tops, nodes }: OwnPart,
): ObjectiveOf[] {
  return objectivesOf(rows).flatMap((objective) => {
    const own = rowsBelow(rows, objective.id);
    if (!own.some(({ id }) => nodes.has(id))) return [];
    const amounts = targetAmounts(own.map(entryOf), objective.measure);
    const held = own.filter(({ id }) => tops.has(id));
    return [
      { ...objective, amount: held.reduce((sum, { id }) => sum + (amounts.get(id) ?? 0), 0) },
    ];
  });
}

/** What somebody sees who holds nothing in a year. */
export const nothingHeld = (fiscalYear: number): TargetTree => ({
  ...{ fiscalYear, objectives: [], objective: null, wholes: 1, due: null, nodes: [] },
});

/**
 * The part of a tree that somebody holds: what they hold stands at the top, and nothing of it says
 * what is above.
 */
export function narrowed(
  tree: TargetTree,
  { tops, nodes }: OwnPart,
  objectives: ObjectiveOf[],
): TargetTree {
  let base = 0;
  const own = tree.nodes.flatMap((node): TargetTree['nodes'] => {
    if (!nodes.has(node.id)) return [];
    if (!tops.has(node.id)) return [{ ...node, level: node.level - base }];
    base = node.level;
    const part = { kind: 'amount', amount: node.amount } as const;
    return [{ ...node, level: 0, parent: null, part, share: null }];
  });
  const objective = objectives.find(({ id }) => id === tree.objective?.id) ?? null;
  return { ...tree, objectives, objective, due: own[0]?.due ?? null, nodes: own };
}

/** The teams and people of all trees, that somebody can hold; parts of a person are not held. */
export async function listParts(
  { db }: Pick<Connections, 'db'>,
  { workspaceId }: Actor,
): Promise<{ node: number; name: string; fiscalYear: number; objective: string }[]> {
  const rows = await allNodes(db, workspaceId);
  const byId = new Map(rows.map((row) => [row.id, row]));
  return objectivesOf(rows).flatMap(({ id, name: objective }) =>
    rowsBelow(rows, id)
      .filter((row) => row.account === null && byId.get(row.parentId ?? 0)?.kind !== 'person')
      .map((row) => {
        const names = [row.name];
        for (let up = byId.get(row.parentId ?? 0); up; up = byId.get(up.parentId ?? 0))
          names.unshift(up.name);
        return { node: row.id, name: names.join(', '), fiscalYear: row.fiscalYear, objective };
      }),
  );
}
