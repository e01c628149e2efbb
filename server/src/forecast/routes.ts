import { forecastOperations } from '@dravex/contract';
import type { Router } from 'express';
import type { Connections } from '../platform/database.ts';
import { sendCsv } from '../platform/csv.ts';
import { routesOf } from '../routing/routes.ts';
import type { Plans } from './plans.ts';
import * as service from './service.ts';
import { measuredLines, tableLines } from './table-lines.ts';

/** The plan, its streams and its tables. */
export function forecastRoutes(connections: Connections, plans: Plans): Router {
  return routesOf(connections, forecastOperations, {
    readPlan: ({ actor }) => service.planFor(plans, actor),
    readChanges: ({ actor, query }) => service.changesSince(connections, actor, query.since),
    createStreams: ({ actor, body }) => service.createStreams(connections, actor, body),
    proposeStreams: ({ actor, body }) => service.streamsFromSales(connections, actor, body),
    setMethod: ({ actor, body }) => service.setMethod(connections, actor, body),
    deleteStreams: ({ actor, body }) => service.removeStreams(connections, actor, body),
    typeOver: ({ actor, body }) => service.typeOver(connections, plans, actor, body),
    dropOverrides: ({ actor, body }) => service.dropOverrides(connections, actor, body),
    readTable: async ({ actor, query }) =>
      (await service.tableFor(connections, plans, actor, query)).table,
    readMeasured: async ({ actor, query }) =>
      (await service.measuredFor(connections, plans, actor, query)).table,
    saveMeasured: async ({ actor, query: address, response }) => {
      const { table, query, version } = await service.measuredFor(
        connections,
        plans,
        actor,
        address,
      );
      const { plan, model } = await plans.current(actor.workspaceId);
      sendCsv(response, `${address.version === undefined ? 'forecast' : 'budget'}.csv`, [
        ...measuredLines(table, query, plan, model.tree, version),
      ]);
    },
    saveTable: async ({ actor, query: address, response }) => {
      const { table, query, version } = await service.tableFor(connections, plans, actor, address);
      const { plan, model } = await plans.current(actor.workspaceId);
      sendCsv(response, `${address.version === undefined ? 'forecast' : 'budget'}.csv`, [
        ...tableLines(table, query, plan, model.tree, version),
      ]);
    },
  });
}
