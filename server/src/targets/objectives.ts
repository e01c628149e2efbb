/** Objectives: what a year is to bring, each with a tree of its own. */
import type { NewObjective } from '@dravex/contract';
import {
  meaningOf,
  PLAIN_ENTRY,
  targetTree,
  wholesIn,
  type TargetEntry,
  type TargetMeasure,
} from '@dravex/core';
import type { LoadedPlan, Plans } from '../plan/plans.ts';
import type { Actor } from '../people/actor.ts';
import { holdAlike } from '../people/store.ts';
import type { Connections } from '../platform/database.ts';
import { badRequest, conflict, notFound } from '../platform/errors.ts';
import { changing } from './changing.ts';
import { standingsOf } from './reading.ts';
import { refuseObjective, setAmount } from './service.ts';
import * as store from './store.ts';
import { mainOf, objectivesOf, rowsBelow } from './tree.ts';

/** The first objective of a year, of which nobody has said what it is called. */
const FIRST = 'Revenue';

/** Sets the year's revenue objective in minor units; the first time it makes the top of its tree. */
export async function setObjective(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  fiscalYear: number,
  { objective, saw }: { objective: number; saw?: number | undefined },
): Promise<void> {
  refuseObjective(objective, 'objective');
  const { name } = await plans.current(actor.workspaceId);
  await changing(connections, actor, { fiscalYear, of: [] }, async (tx, rows) => {
    const { workspaceId } = actor;
    const what = `Set the objective of FY ${fiscalYear}`;
    const main = mainOf(objectivesOf(rows).filter(({ measure }) => measure === 'revenue'));
    const top = rows.find(({ id }) => id === main?.id);
    if (top) {
      await setAmount(tx, top, objective, saw);
      return { ids: [top.id], what };
    }
    const id = await store.insertNode(tx, {
      ...{ workspaceId, fiscalYear, name, parentId: null, kind: 'company', scope: [] },
      ...{ objective: FIRST, measure: 'revenue', percent: null, amount: objective },
    });
    return { ids: [id], what };
  });
}

/**
 * Adds an objective: of an amount, or so much above what was sold or is forecast; with the teams and
 * people of another one where that is named, and with its parts where it is of the same measure.
 * @throws HttpProblem 404, or 409 where the year has one of that name
 */
export async function addObjective(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  fiscalYear: number,
  { name: objective, measure, start, like }: NewObjective,
): Promise<number> {
  const { workspaceId } = actor;
  const loaded = await plans.current(workspaceId);
  const model = await likeOf(connections, workspaceId, like);
  const amount = await amountOf(connections, workspaceId, loaded, fiscalYear, measure, start);
  refuseObjective(amount, 'start');
  const [id = 0] = await changing(connections, actor, { fiscalYear, of: [] }, async (tx, rows) => {
    refuseName(rows, fiscalYear, objective);
    const [top, ...below] = model;
    const topId = await store.insertNode(tx, {
      ...{ workspaceId, fiscalYear, name: loaded.name, parentId: null, kind: 'company', scope: [] },
      ...{ objective, measure, percent: null, amount, cushion: top?.cushion ?? 0 },
    });
    const made = new Map([[top?.id ?? 0, topId]]);
    const sameMeasure = top?.measure === measure;
    for (const row of below) {
      const { id: _, position: __, months: ___, deals: ____, comment: _____, ...rest } = row;
      const parentId = made.get(row.parentId ?? 0) ?? topId;
      // Amounts and capacities mean nothing in another measure, and a score has no percents.
      const plain = !sameMeasure && (row.percent === null || !meaningOf(measure).adds);
      const own = await store.insertNode(tx, {
        ...rest,
        ...{ parentId, fiscalYear, state: 'draft', locked: false },
        ...(plain ? { percent: null, amount: 0 } : {}),
        ...(sameMeasure ? {} : { fullCapacity: null }),
      });
      made.set(row.id, own);
    }
    await holdAlike(tx, workspaceId, made);
    const ids = [...made.values()];
    return { ids, what: `Added the objective ${objective} of FY ${fiscalYear}` };
  });
  return id;
}

/** @throws HttpProblem 409 at `name` where the year has an objective of that name */
function refuseName(
  rows: readonly store.TargetRow[],
  fiscalYear: number,
  name: string,
  own?: number,
): void {
  const same = objectivesOf(rows).some(
    (known) => known.id !== own && known.name.toLowerCase() === name.toLowerCase(),
  );
  if (same) throw conflict(`FY ${fiscalYear} has an objective “${name}” already`, 'name');
}

/** The tree of an objective of any year, the top first; empty where none is named. */
async function likeOf(
  { db }: Connections,
  workspaceId: number,
  like: number | undefined,
): Promise<store.TargetRow[]> {
  if (like === undefined) return [];
  const all = await store.allNodes(db, workspaceId);
  if (!objectivesOf(all).some(({ id }) => id === like)) throw notFound('such objective');
  return rowsBelow(all, like);
}

/** What an objective starts with, in whole numbers of its measure. @throws HttpProblem 400 for a score */
async function amountOf(
  { db }: Connections,
  workspaceId: number,
  loaded: LoadedPlan,
  fiscalYear: number,
  measure: TargetMeasure,
  start: NewObjective['start'],
): Promise<number> {
  if (start.kind === 'amount') return start.amount;
  if (measure === 'score') {
    const message = 'Nobody knows a score of last year, or a forecast of it; enter it';
    throw badRequest(message, [{ path: 'start', message }]);
  }
  const standings = await standingsOf(db, workspaceId, loaded, { fiscalYear, measure });
  const { plan, model } = loaded;
  const top: TargetEntry = {
    ...PLAIN_ENTRY,
    ...{ id: 1, parent: null, name: '' },
    kind: 'company',
    part: { kind: 'amount', amount: 0 },
  };
  const wholes = wholesIn(measure, plan.currency.minorDigits);
  const [line] = targetTree([top], standings, model.tree, wholes);
  const base = (start.kind === 'lastYear' ? line?.lastYear : line?.outlook) ?? 0;
  return Math.max(0, Math.round(base * (1 + start.uplift / 100)));
}

/** Gives an objective another name. */
export async function renameObjective(
  connections: Connections,
  actor: Actor,
  fiscalYear: number,
  id: number,
  name: string,
): Promise<void> {
  await changing(connections, actor, { fiscalYear, of: [] }, async (tx, rows) => {
    const row = objectiveIn(rows, id);
    refuseName(rows, fiscalYear, name, id);
    await store.updateNode(tx, actor.workspaceId, id, { objective: name });
    return { ids: [id], what: `Renamed the objective ${row.objective ?? ''} to ${name}` };
  });
}

/** Takes an objective out, with everything below it. */
export async function removeObjective(
  connections: Connections,
  actor: Actor,
  fiscalYear: number,
  id: number,
): Promise<void> {
  await changing(connections, actor, { fiscalYear, of: [] }, async (tx, rows) => {
    const row = objectiveIn(rows, id);
    const ids = rowsBelow(rows, id).map((one) => one.id);
    await store.deleteNodes(tx, actor.workspaceId, ids);
    return { ids, what: `Removed the objective ${row.objective ?? ''} of FY ${fiscalYear}` };
  });
}

/** @throws HttpProblem 404 */
function objectiveIn(rows: readonly store.TargetRow[], id: number): store.TargetRow {
  const row = rows.find((one) => one.id === id && one.parentId === null);
  if (!row) throw notFound('such objective in this year');
  return row;
}
