import { newStreamsSchema, tableAddressSchema } from '@dravex/contract';
import { Router } from 'express';
import type { Connections } from '../platform/database.ts';
import { sendCsv } from '../platform/csv.ts';
import { actorOf, read } from '../platform/http.ts';
import type { Plans } from './plans.ts';
import * as service from './service.ts';
import { tableLines } from './table-lines.ts';

/** The plan, its streams and its tables: `/api/workspaces/:workspaceId/…`. */
export function forecastRoutes(connections: Connections, plans: Plans): Router {
  const router = Router();

  router.get('/plan', async (_request, response) => {
    response.json(await service.planFor(plans, actorOf(response)));
  });

  router.post('/streams', async (request, response) => {
    const input = read(newStreamsSchema, request.body);
    const streams = await service.createStreams(connections, actorOf(response), input);
    response.status(201).json({ streams });
  });

  router.get('/table', async (request, response) => {
    const address = read(tableAddressSchema, request.query);
    const { table } = await service.tableFor(connections, plans, actorOf(response), address);
    response.json(table);
  });

  router.get('/table.csv', async (request, response) => {
    const address = read(tableAddressSchema, request.query);
    const actor = actorOf(response);
    const { table, query } = await service.tableFor(connections, plans, actor, address);
    const { plan, model } = await plans.current(actor.workspaceId);
    sendCsv(response, `${address.version === undefined ? 'forecast' : 'budget'}.csv`, [
      ...tableLines(table, query, plan, model.tree),
    ]);
  });
  return router;
}
