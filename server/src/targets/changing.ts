/** Writing into target trees: every change is one journaled act, and what was agreed asks why. */
import { DivisionError, targetAmounts } from '@dravex/core';
import type { Cells } from '../journal/cells.ts';
import { journaled, type Recorder } from '../journal/service.ts';
import { mustDivide, type Actor } from '../people/actor.ts';
import type { Connections, Database } from '../platform/database.ts';
import { badRequest, conflict } from '../platform/errors.ts';
import * as store from './store.ts';
import { targetCells, targetNames } from './cells.ts';
import { mustHold, mustSee, ownPart } from './own-part.ts';
import { entryOf, objectivesAbove, objectivesOf, rowsBelow } from './tree.ts';

/** What an act has done: which nodes, in words. */
export interface Done {
  readonly ids: readonly number[];
  readonly what: string;
}

/** Targets by node, of all trees. */
function amountsOf(rows: readonly store.TargetRow[]): ReadonlyMap<number, number> {
  return new Map(
    objectivesOf(rows).flatMap(({ id, measure }) => [
      ...targetAmounts(rowsBelow(rows, id).map(entryOf), measure),
    ]),
  );
}

/** Those whose target was agreed and is another one now. */
function brokenBy(
  before: readonly store.TargetRow[],
  now: readonly store.TargetRow[],
): store.TargetRow[] {
  const wasAgreed = new Set(before.filter(({ state }) => state === 'agreed').map(({ id }) => id));
  const agreed = now.filter(({ id, state }) => state === 'agreed' && wasAgreed.has(id));
  if (agreed.length === 0) return [];
  const [old, next] = [amountsOf(before), amountsOf(now)];
  return agreed.filter(({ id }) => next.get(id) !== old.get(id));
}

/** A change as it is asked for. */
export interface AskedChange {
  readonly fiscalYear: number;
  readonly of: readonly number[];
  readonly reason?: string | undefined;
}

/**
 * Runs a change of a year's trees, and writes down what became of the nodes it changes. Whose target
 * was agreed and becomes another one is handed out again, with the reason.
 * Whoever holds a part changes what lies below it.
 * @param of the nodes that the change is about, as it was asked for
 * @param reason why what was agreed changes
 * @throws HttpProblem 403 for what is not in the actor's part; 409 at `reason` where something agreed changes without one; 400 for what cannot be divided
 */
export function changing(
  connections: Connections,
  actor: Actor,
  { fiscalYear, of, reason }: AskedChange,
  work: (tx: Database, rows: store.TargetRow[]) => Promise<Done>,
): Promise<readonly number[]> {
  const act = async (tx: Database, record: Recorder): Promise<readonly number[]> => {
    const { workspaceId } = actor;
    const before = await store.nodesOf(tx, workspaceId, fiscalYear);
    const part = await ownPart(tx, actor, before);
    for (const id of of) mustSee(part, id);
    const { ids: changed, what } = await dividing(() => work(tx, before));
    let now = await store.nodesOf(tx, workspaceId, fiscalYear);
    const broken = brokenBy(before, now);
    const [first] = broken;
    if (first && reason === undefined) {
      const others = broken.length === 1 ? '' : ` and ${broken.length - 1} more`;
      const are = broken.length === 1 ? 'is' : 'are';
      throw conflict(
        `The target of ${first.name}${others} ${are} agreed; say why it changes`,
        'reason',
      );
    }
    for (const { id } of broken) {
      await store.updateNode(tx, workspaceId, id, { state: 'handedOut', comment: reason ?? null });
    }
    if (broken.length > 0) now = await store.nodesOf(tx, workspaceId, fiscalYear);
    const ids = [...new Set([...changed, ...broken.map(({ id }) => id)])];
    mustHold(part, before, now, ids);
    const [oldRows, newRows] = [before, now].map(
      (rows) => new Map(rows.map((row) => [row.id, row])),
    );
    const [objectiveNow, objectiveBefore] = [objectivesAbove(now), objectivesAbove(before)];
    for (const id of ids) {
      const [was, is] = [oldRows?.get(id), newRows?.get(id)];
      const named = is ?? was;
      if (!named) continue;
      const cells = [was, is].map((row) => (row ? targetCells(row) : null)) as [
        Cells | null,
        Cells | null,
      ];
      const measure = (objectiveNow(id) ?? objectiveBefore(id))?.measure ?? 'revenue';
      record.changed('target', id, ...cells, targetNames(named, measure));
    }
    record.say(reason === undefined || broken.length === 0 ? what : `${what}: ${reason}`);
    return changed;
  };
  return journaled(connections, actor, 'targets', act, { may: mustDivide });
}

/**
 * @param wholes how many of the whole numbers in which amounts are kept make one
 * @throws HttpProblem 400 in words for what cannot be divided, with by how much it is too much
 */
export async function dividing<T>(work: () => T | Promise<T>, wholes = 1): Promise<T> {
  try {
    return await work();
  } catch (error) {
    if (!(error instanceof DivisionError)) throw error;
    const { message, excess } = error;
    const digits = Math.round(Math.log10(wholes));
    const much = (excess / wholes).toLocaleString('en-IE', { minimumFractionDigits: digits });
    throw badRequest(excess > 0 ? `${message} by ${much}; unlock something or lock less` : message);
  }
}
