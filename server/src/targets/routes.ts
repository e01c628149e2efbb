import { fiscalYearSchema, targetOperations } from '@dravex/contract';
import type { Router } from 'express';
import { z } from 'zod';
import type { Plans } from '../plan/plans.ts';
import type { Connections } from '../platform/database.ts';
import { read } from '../platform/http.ts';
import { routesOf } from '../routing/routes.ts';
import * as service from './service.ts';

function yearOf(name: (of: string) => string): number {
  const year = z.object({ fiscalYear: fiscalYearSchema });
  return read(year, { fiscalYear: name('fiscalYear') }).fiscalYear;
}

/** A fiscal year's targets. */
export function targetRoutes(connections: Connections, plans: Plans): Router {
  return routesOf(connections, targetOperations, {
    readTargets: ({ actor, name, query }) =>
      service.treeOf(connections, plans, actor, yearOf(name), query.origin),
    setObjective: async ({ actor, name, body }) => {
      await service.setObjective(connections, plans, actor, yearOf(name), body);
      return service.treeOf(connections, plans, actor, yearOf(name));
    },
    addTarget: async ({ actor, name, body }) => {
      const id = await service.addNode(connections, plans, actor, yearOf(name), body);
      return { id, tree: await service.treeOf(connections, plans, actor, yearOf(name)) };
    },
    changeTarget: async ({ actor, name, id, body }) => {
      await service.changeNode(connections, actor, yearOf(name), id('nodeId'), body);
      return service.treeOf(connections, plans, actor, yearOf(name));
    },
    setTargetParts: async ({ actor, name, body }) => {
      await service.setParts(connections, actor, yearOf(name), body);
      return service.treeOf(connections, plans, actor, yearOf(name));
    },
    removeTarget: async ({ actor, name, id }) => {
      await service.removeNode(connections, actor, yearOf(name), id('nodeId'));
      return service.treeOf(connections, plans, actor, yearOf(name));
    },
  });
}
