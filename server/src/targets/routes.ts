import { fiscalYearSchema, targetOperations, type TargetTree } from '@dravex/contract';
import type { Router } from 'express';
import { z } from 'zod';
import type { Actor } from '../people/actor.ts';
import type { Plans } from '../plan/plans.ts';
import type { Connections } from '../platform/database.ts';
import { read } from '../platform/http.ts';
import { sendTable, tableFormat } from '../platform/table-file.ts';
import { routesOf } from '../routing/routes.ts';
import { madeDeals } from './deals.ts';
import { bringTargets, treeLines } from './file.ts';
import * as division from './division.ts';
import * as objectives from './objectives.ts';
import { gapOf, treeOf, type AskedTree } from './reading.ts';
import { listParts } from './own-part.ts';
import { salesOf } from './sales.ts';
import * as service from './service.ts';
import { nodesOf } from './store.ts';
import { objectiveAbove } from './tree.ts';

function yearOf(name: (of: string) => string): number {
  const year = z.object({ fiscalYear: fiscalYearSchema });
  return read(year, { fiscalYear: name('fiscalYear') }).fiscalYear;
}

/** A fiscal year's targets. */
export function targetRoutes(connections: Connections, plans: Plans): Router {
  const tree = (actor: Actor, asked: AskedTree): Promise<TargetTree> =>
    treeOf(connections, plans, actor, asked);
  /** The tree in which a node lies, of the objective of whichever it is. */
  const treeAround = async (
    actor: Actor,
    fiscalYear: number,
    node: number,
  ): Promise<TargetTree> => {
    const rows = await nodesOf(connections.db, actor.workspaceId, fiscalYear);
    return tree(actor, { fiscalYear, objective: objectiveAbove(rows, node)?.id, rows });
  };
  return routesOf(connections, targetOperations, (connections) => ({
    listParts: ({ actor }) => listParts(connections, actor),
    readTargets: ({ actor, name, query }) => tree(actor, { fiscalYear: yearOf(name), ...query }),
    setObjective: async ({ actor, name, body }) => {
      await objectives.setObjective(connections, plans, actor, yearOf(name), body);
      return tree(actor, { fiscalYear: yearOf(name) });
    },
    addObjective: async ({ actor, name, body }) => {
      const fiscalYear = yearOf(name);
      const id = await objectives.addObjective(connections, plans, actor, fiscalYear, body);
      return { id, tree: await tree(actor, { fiscalYear, objective: id }) };
    },
    renameObjective: async ({ actor, name, id, body }) => {
      const [fiscalYear, objective] = [yearOf(name), id('objectiveId')];
      await objectives.renameObjective(connections, actor, fiscalYear, objective, body.name);
      return tree(actor, { fiscalYear, objective });
    },
    removeObjective: async ({ actor, name, id }) => {
      await objectives.removeObjective(connections, actor, yearOf(name), id('objectiveId'));
      return tree(actor, { fiscalYear: yearOf(name) });
    },
    saveTargets: async ({ actor, name, query, response }) => {
      const fiscalYear = yearOf(name);
      const lines = await treeLines(connections, plans, actor, { fiscalYear, ...query });
      const { name: workspace } = await plans.current(actor.workspaceId);
      const title = `targets FY ${fiscalYear}`;
      await sendTable(response, tableFormat(name('format')), title, [workspace, title], lines);
    },
    bringTargets: ({ actor, name, query: { apply, objective, reason }, file }) => {
      const asked = { fiscalYear: yearOf(name), objective };
      return bringTargets(connections, plans, actor, asked, file, {
        ...{ apply: apply === 'yes', reason },
      });
    },
    addTarget: async ({ actor, name, body }) => {
      const id = await service.addNode(connections, plans, actor, yearOf(name), body);
      return { id, tree: await treeAround(actor, yearOf(name), id) };
    },
    changeTarget: async ({ actor, name, id, body }) => {
      const node = id('nodeId');
      await service.changeNode(connections, plans, actor, yearOf(name), node, body);
      return treeAround(actor, yearOf(name), node);
    },
    proposeTargets: ({ actor, name, id, body }) =>
      division.propose(connections, plans, actor, {
        ...{ fiscalYear: yearOf(name), node: id('nodeId'), division: body },
      }),
    listTargetSales: ({ actor, name, id, query }) =>
      salesOf(connections, plans, actor, { fiscalYear: yearOf(name), node: id('nodeId') }, query),
    readDeals: ({ actor, name, id }) =>
      madeDeals(connections, plans, actor, yearOf(name), id('nodeId')),
    explainGap: ({ actor, name, id }) =>
      gapOf(connections, plans, actor, yearOf(name), id('nodeId')),
    divideTargets: async ({ actor, name, id, body }) => {
      const asked = { fiscalYear: yearOf(name), node: id('nodeId'), division: body.division };
      await division.divide(connections, plans, actor, asked, body.reason);
      return treeAround(actor, asked.fiscalYear, asked.node);
    },
    handOutTargets: async ({ actor, name, id }) => {
      await division.handOut(connections, actor, yearOf(name), id('nodeId'));
      return treeAround(actor, yearOf(name), id('nodeId'));
    },
    setTargetParts: async ({ actor, name, body }) => {
      await service.setParts(connections, actor, yearOf(name), body);
      return treeAround(actor, yearOf(name), body.parts[0]?.node ?? 0);
    },
    removeTarget: async ({ actor, name, id }) => {
      const fiscalYear = yearOf(name);
      const rows = await nodesOf(connections.db, actor.workspaceId, fiscalYear);
      const objective = objectiveAbove(rows, id('nodeId'))?.id;
      await service.removeNode(connections, actor, fiscalYear, id('nodeId'));
      return tree(actor, { fiscalYear, objective });
    },
  }));
}
