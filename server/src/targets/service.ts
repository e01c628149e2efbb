import type { NewTargetNode, TargetNodeChange, TargetTree } from '@dravex/contract';
import { fiscalYearSpan, monthText, YearStandings, type TargetPart } from '@dravex/core';
import type { Plans } from '../plan/plans.ts';
import { mustPlan, type Actor } from '../people/actor.ts';
import { journaled } from '../journal/service.ts';
import { changedSince } from '../journal/store.ts';
import type { Connections, Database } from '../platform/database.ts';
import { badRequest, changedMeanwhile, conflict, notFound } from '../platform/errors.ts';
import * as store from './store.ts';
import { targetCells, targetNames } from './thing.ts';
import { layOut, partOf } from './tree.ts';

function toColumns(part: TargetPart): { percent: string | null; amount: number | null } {
  return part.kind === 'percent'
    ? { percent: String(part.percent), amount: null }
    : { percent: null, amount: part.amount };
}

/** A fiscal year's targets with where everybody stands. Empty when no objective is set. */
export async function treeOf(
  { db }: Connections,
  plans: Plans,
  { workspaceId }: Actor,
  fiscalYear: number,
): Promise<TargetTree> {
  const { plan, model } = await plans.current(workspaceId);
  const { fiscalStart, closedThrough } = plan.calendar;
  const lastYear = monthText(fiscalYearSpan(fiscalYear - 1, fiscalStart).from);
  const [rows, sales] = await Promise.all([
    store.nodesOf(db, workspaceId, fiscalYear),
    store.sellerSales(db, workspaceId, lastYear < closedThrough ? lastYear : closedThrough),
  ]);
  const standings = new YearStandings(model, sales, fiscalYear);
  return layOut(fiscalYear, rows, standings, plan.currency.minorDigits);
}

/** Runs a change of the tree, and writes down what became of the node it changes. */
function changing(
  connections: Connections,
  actor: Actor,
  fiscalYear: number,
  work: (tx: Database, rows: store.TargetRow[]) => Promise<{ id: number; what: string }>,
): Promise<number> {
  return journaled(connections, actor, 'targets', async (tx, record) => {
    const { workspaceId } = actor;
    const before = await store.nodesOf(tx, workspaceId, fiscalYear);
    const { id, what } = await work(tx, before);
    const old = before.find((row) => row.id === id);
    const [now] = await store.nodesById(tx, workspaceId, [id]);
    const named = now ?? old;
    if (named) {
      const names = targetNames(named);
      record.changed(
        'target',
        id,
        old ? targetCells(old) : null,
        now ? targetCells(now) : null,
        names,
      );
    }
    record.say(what);
    return id;
  });
}

/** A part as the one number that it is: percent points or minor units. */
function numberOf(part: TargetPart): number {
  return part.kind === 'percent' ? part.percent : part.amount;
}

/** @throws HttpProblem 409 where a node's part is not what was seen, and not what is wanted either */
async function refuseStale(
  tx: Database,
  row: store.TargetRow,
  saw: TargetPart | undefined,
  wanted: TargetPart,
): Promise<void> {
  const now = partOf(row);
  const same = (part: TargetPart): boolean =>
    part.kind === now.kind && numberOf(part) === numberOf(now);
  if (!saw || same(saw) || same(wanted)) return;
  const { workspaceId } = row;
  const cell = { workspaceId, thing: 'target', thingId: String(row.id), cell: '' };
  const last = await changedSince(tx, cell, 0);
  throw changedMeanwhile([
    {
      path: 'part',
      saw: numberOf(saw),
      now: numberOf(now),
      by: last?.by ?? '',
      at: last?.at.toISOString() ?? '',
    },
  ]);
}

/** Sets the year's objective in minor units; the first time it makes the top of the tree. */
export async function setObjective(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  fiscalYear: number,
  { objective, saw }: { objective: number; saw?: number | undefined },
): Promise<void> {
  const { name } = await plans.current(actor.workspaceId);
  await changing(connections, actor, fiscalYear, async (tx, rows) => {
    const { workspaceId } = actor;
    const what = `Set the objective of FY ${fiscalYear}`;
    const top = rows.find(({ parentId }) => parentId === null);
    if (top) {
      const seen = saw === undefined ? undefined : ({ kind: 'amount', amount: saw } as const);
      await refuseStale(tx, top, seen, { kind: 'amount', amount: objective });
      await store.updateNode(tx, workspaceId, top.id, { amount: objective });
      return { id: top.id, what };
    }
    const id = await store.insertNode(tx, {
      workspaceId,
      fiscalYear,
      parentId: null,
      kind: 'company',
      name,
      scope: [],
      seller: null,
      percent: null,
      amount: objective,
    });
    return { id, what };
  });
}

/** Puts an area or a person below a node. */
export async function addNode(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  fiscalYear: number,
  input: NewTargetNode,
): Promise<number> {
  mustPlan(actor);
  const { model } = await plans.current(actor.workspaceId);
  const unknown = input.scope.find((member) => !model.tree.has(member));
  if (unknown !== undefined) {
    throw badRequest(`There is no member ${unknown}`, [
      { path: 'scope', message: `There is no member ${unknown}` },
    ]);
  }
  return changing(connections, actor, fiscalYear, async (tx, rows) => {
    const above = rows.find(({ id }) => id === input.parent);
    if (!above) throw notFound('such node in this year');
    const { parent, part, ...rest } = input;
    const id = await store.insertNode(tx, {
      workspaceId: actor.workspaceId,
      fiscalYear,
      parentId: parent,
      ...rest,
      ...toColumns(part),
    });
    return { id, what: `Put ${input.name} below ${above.name}` };
  });
}

/** Renames a node or gives it another part. */
export async function changeNode(
  connections: Connections,
  actor: Actor,
  fiscalYear: number,
  id: number,
  change: TargetNodeChange,
): Promise<void> {
  await changing(connections, actor, fiscalYear, async (tx, rows) => {
    const row = rows.find((candidate) => candidate.id === id);
    if (!row) throw notFound('such node in this year');
    if (row.parentId === null && change.part?.kind === 'percent') {
      throw badRequest('The objective at the top is an amount', [
        { path: 'part', message: 'The objective at the top is an amount' },
      ]);
    }
    if (change.part) await refuseStale(tx, row, change.saw, change.part);
    await store.updateNode(tx, actor.workspaceId, id, {
      ...(change.name === undefined ? {} : { name: change.name }),
      ...(change.part === undefined ? {} : toColumns(change.part)),
    });
    const what = change.part ? `Gave ${row.name} another part` : `Renamed ${row.name}`;
    return { id, what };
  });
}

/** Takes a node out that has nothing below it. */
export async function removeNode(
  connections: Connections,
  actor: Actor,
  fiscalYear: number,
  id: number,
): Promise<void> {
  await changing(connections, actor, fiscalYear, async (tx, rows) => {
    const row = rows.find((candidate) => candidate.id === id);
    if (!row) throw notFound('such node in this year');
    const below = rows.filter(({ parentId }) => parentId === id).length;
    if (below > 0) {
      throw conflict(`${below} parts lie below it; take them out or move them first`);
    }
    await store.deleteNode(tx, actor.workspaceId, id);
    return { id, what: `Took ${row.name} out` };
  });
}
