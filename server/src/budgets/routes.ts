import { nameSchema, newVersionSchema } from '@dravex/contract';
import { raw, Router } from 'express';
import { z } from 'zod';
import type { Plans } from '../forecast/plans.ts';
import type { Connections } from '../platform/database.ts';
import { badRequest } from '../platform/errors.ts';
import { actorOf, read, readId } from '../platform/http.ts';
import * as service from './service.ts';

/** Kept versions: `/api/workspaces/:workspaceId/versions`. */
export function versionRoutes(connections: Connections, plans: Plans): Router {
  const router = Router();

  router.get('/', async (_request, response) => {
    response.json(await service.listVersions(connections, actorOf(response)));
  });

  router.post('/', async (request, response) => {
    const input = read(newVersionSchema, request.body);
    const kept = await service.keepVersion(connections, plans, actorOf(response), input);
    response.status(201).json(kept);
  });

  router.post('/import', raw({ type: () => true, limit: '64mb' }), async (request, response) => {
    const { name } = read(z.object({ name: nameSchema }), request.query);
    const body: unknown = request.body;
    if (!Buffer.isBuffer(body)) throw badRequest('The file is empty; nothing was taken in');
    const actor = actorOf(response);
    response.status(201).json(await service.importVersion(connections, plans, actor, name, body));
  });

  router.get('/:versionId/cells', async (request, response) => {
    const id = readId(request, 'versionId');
    response.json(await service.cellsOf(connections, actorOf(response), id));
  });
  return router;
}
