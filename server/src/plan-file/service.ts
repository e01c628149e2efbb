import { PLAN_FILE_FORMAT, type NewDimension, type PlanFile } from '@dravex/contract';
import {
  checkPlan,
  MemberTree,
  monthFrom,
  type Dimension,
  type StreamSettings,
} from '@dravex/core';
import type { CheckedLine } from '../actuals/sales-check.ts';
import { Staging } from '../actuals/staging.ts';
import { addSums, insertBatch } from '../actuals/store.ts';
import { cellsNow, insertCells, insertVersion, versions } from '../budgets/store.ts';
import { toColumns } from '../budgets/service.ts';
import { CombinationIds, ensureCombinations } from '../dimensions/store.ts';
import { putDriver } from '../drivers/driver-store.ts';
import { insertAdjustments, insertAssumptions } from '../drivers/store.ts';
import { insertFacts } from '../facts/store.ts';
import { readPlan } from '../forecast/plans.ts';
import { insertStreams, putOverrides } from '../forecast/store.ts';
import { answeredOnce } from '../journal/service.ts';
import type { Actor } from '../people/actor.ts';
import { atOneMoment, type Connections } from '../platform/database.ts';
import { badPlan, badRequest } from '../platform/errors.ts';
import type { RequestKey } from '../platform/request-key.ts';
import { allNodes, insertNode } from '../targets/store.ts';
import { partOf } from '../targets/tree.ts';
import { addWorkspace } from '../workspaces/service.ts';

/** The whole plan of a workspace, as one moment of the database. */
export function writePlanFile(connections: Connections, actor: Actor): Promise<PlanFile> {
  const { workspaceId } = actor;
  return atOneMoment(connections, async (tx) => {
    const { name, locale, plan } = await readPlan(tx, workspaceId);
    const kept: PlanFile['versions'] = [];
    for (const { id, name: title, from, to, note, state } of await versions(tx, workspaceId)) {
      const cells = toColumns(await cellsNow(tx, workspaceId, id));
      kept.push({ id, name: title, from, to, note, state, cells });
    }
    const targets = (await allNodes(tx, workspaceId)).map((row) => ({
      id: row.id,
      parent: row.parentId,
      fiscalYear: row.fiscalYear,
      kind: row.kind,
      name: row.name,
      scope: row.scope,
      seller: row.seller,
      part: partOf(row),
    }));
    // What people did is in the journal, not in the plan; the rest is as the core has it.
    const assumptions = plan.assumptions.map(({ by: _, at: __, ...rest }) => rest);
    const adjustments = plan.adjustments.map(({ by: _, at: __, ...rest }) => rest);
    const own = { ...plan, assumptions, adjustments };
    const file = { dravex: PLAN_FILE_FORMAT, name, locale, plan: own };
    return JSON.parse(JSON.stringify({ ...file, versions: kept, targets })) as PlanFile;
  });
}

/** The dimensions of a file, members naming their parents by code, parents first. */
function dimensionsOf(dimensions: readonly Dimension[]): NewDimension[] {
  const tree = new MemberTree(dimensions);
  return dimensions.map((dimension) => ({
    code: dimension.code,
    name: dimension.name,
    members: tree.inOrder(dimension).map(({ code, name, parent }) => ({
      code,
      name,
      parent: parent === null ? null : tree.member(parent).code,
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

/** What a plan may have and still be taken in: numbers that are not there yet. */
const UNFINISHED: ReadonlySet<string> = new Set([
  'missing-input',
  'no-value',
  'no-history',
  'method',
]);

/** Settings that name the workspace's combinations in place of the file's. */
function settingsOf(settings: StreamSettings, idOf: (id: number) => number): StreamSettings {
  const { attached, formula } = settings;
  return {
    ...settings,
    ...(attached ? { attached: { ...attached, combination: idOf(attached.combination) } } : {}),
    ...(formula
      ? {
          formula: {
            ...formula,
            names: formula.names.map((name) => ({ ...name, combination: idOf(name.combination) })),
          },
        }
      : {}),
  };
}

/** @throws HttpProblem 400 for versions that name what is not there */
function checkVersions({ versions: kept, plan }: PlanFile): void {
  const known = new Set(plan.combinations.map(({ id }) => id));
  kept.forEach(({ name, cells }, index) => {
    const lengths = new Set(Object.values(cells).map((column) => column.length));
    const strange = cells.combination.find((id) => !known.has(id));
    if (lengths.size === 1 && strange === undefined) return;
    const message =
      strange === undefined
        ? `The columns of ${name} are of unequal length`
        : `${name} names combination ${strange}, which is not there`;
    throw badRequest(message, [{ path: `versions.${index}.cells`, message }]);
  });
}

/**
 * Makes a workspace from a plan file, all or nothing. Sales come in by combination and month, one
 * line each, because that is what the file holds.
 * @throws HttpProblem 400 with everything that is wrong with the plan
 */
export function loadPlanFile(
  connections: Connections,
  personId: number,
  requestKey: RequestKey | undefined,
  file: PlanFile,
): Promise<number> {
  const { plan } = file;
  // What has no value yet is no reason to refuse a plan; what does not hold together is.
  const problems = checkPlan(plan).filter(({ code }) => !UNFINISHED.has(code));
  if (problems.length > 0) throw badPlan(problems);
  checkVersions(file);
  return answeredOnce(connections, personId, requestKey, async (tx, client) => {
    const { actor, dimensions } = await addWorkspace(tx, personId, {
      name: file.name,
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

    const { actuals } = plan;
    if (actuals.combination.length > 0) {
      const byId = new Map(combinations.map((c) => [c.id, c.members]));
      const line = (
        index: number,
        units: number,
        money: { netAmount: number; cost: number },
      ): Omit<CheckedLine, 'row' | 'lineNumber'> => ({
        date: `${actuals.month[index] ?? ''}-01`,
        members: byId.get(actuals.combination[index] ?? 0) ?? [],
        quantity: Math.round(units * 1000),
        ...money,
        document: 'plan file',
        customer: '',
        seller: '',
      });
      // What came back is a line of its own: the net units stay what they are.
      const lines = actuals.combination
        .flatMap((_, index) => {
          const back = actuals.returned?.[index] ?? 0;
          const netAmount = actuals.revenue[index] ?? 0;
          const cost = actuals.cost[index] ?? 0;
          const sold = line(index, (actuals.units[index] ?? 0) + back, { netAmount, cost });
          return back === 0 ? [sold] : [sold, line(index, -back, { netAmount: 0, cost: 0 })];
        })
        .map((own, place): CheckedLine => ({ ...own, row: place + 2, lineNumber: place + 1 }));
      const batchId = await insertBatch(tx, {
        workspaceId,
        fileName: `${file.name}, plan file`,
        state: 'applied',
        rows: lines.length,
        good: lines.length,
        faulty: 0,
        createdBy: personId,
        appliedAt: new Date(),
      });
      // The combinations are this very transaction's, so they are asked for in it.
      const staging = new Staging(
        client,
        workspaceId,
        batchId,
        new CombinationIds(tx, workspaceId),
      );
      await staging.take(lines);
      await staging.finish();
      await staging.keepSums(tx);
      await addSums(tx, workspaceId, batchId, 'books');
    }
    if (plan.facts.length > 0) {
      const rows = plan.facts.reduce((sum, { months }) => sum + months.length, 0);
      const batchId = await insertBatch(tx, {
        workspaceId,
        kind: 'facts',
        fileName: `${file.name}, plan file`,
        state: 'applied',
        rows,
        good: rows,
        faulty: 0,
        createdBy: personId,
        appliedAt: new Date(),
      });
      const facts = plan.facts.map((fact) => ({ ...fact, scope: mapped(fact.scope) }));
      await insertFacts(tx, workspaceId, batchId, facts);
    }
    await insertStreams(
      tx,
      plan.streams.map(({ combination, method, settings }) => ({
        workspaceId,
        method,
        settings: settingsOf(settings, (id) => combinationIds.get(id) ?? 0),
        combinationId: combinationIds.get(combination) ?? 0,
      })),
    );
    for (const driver of plan.drivers) await putDriver(tx, workspaceId, driver);
    await putOverrides(
      tx,
      workspaceId,
      personId,
      plan.overrides.map((row) => ({
        ...row,
        combination: combinationIds.get(row.combination) ?? 0,
      })),
    );
    // In the order of their ids, which is their rank among equals.
    const assumptions = plan.assumptions
      .toSorted((a, b) => a.id - b.id)
      .map((assumption) => ({ ...assumption, scope: mapped(assumption.scope) }));
    await insertAssumptions(tx, workspaceId, personId, assumptions);
    await insertAdjustments(
      tx,
      workspaceId,
      personId,
      plan.adjustments
        .toSorted((a, b) => a.id - b.id)
        .map((adjustment) => ({ ...adjustment, scope: mapped(adjustment.scope) })),
    );
    for (const kept of file.versions) {
      const { name, note, state, cells } = kept;
      const id = await insertVersion(tx, {
        workspaceId,
        name,
        note,
        state,
        fromMonth: `${kept.from}-01`,
        toMonth: `${kept.to}-01`,
        createdBy: personId,
      });
      const rows = cells.combination.map((combination, index) => ({
        combination: combinationIds.get(combination) ?? 0,
        month: monthFrom(cells.month[index] ?? ''),
        units: cells.units[index] ?? 0,
        revenue: cells.revenue[index] ?? 0,
        cost: cells.cost[index] ?? null,
      }));
      await insertCells(tx, workspaceId, id, rows);
    }
    const nodes = new Map<number, number>();
    for (const node of file.targets) {
      const parentId = node.parent === null ? null : nodes.get(node.parent);
      if (parentId === undefined) {
        throw badRequest(`The target of ${node.name} stands before the one above it`);
      }
      const { part } = node;
      const id = await insertNode(tx, {
        workspaceId,
        parentId,
        fiscalYear: node.fiscalYear,
        kind: node.kind,
        name: node.name,
        scope: mapped(node.scope),
        seller: node.seller,
        percent: part.kind === 'percent' ? String(part.percent) : null,
        amount: part.kind === 'amount' ? part.amount : null,
      });
      nodes.set(node.id, id);
    }
    return workspaceId;
  });
}
