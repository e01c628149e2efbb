import { nameSchema } from '@dravex/contract';
import { raw, Router } from 'express';
import { z } from 'zod';
import type { Connections } from '../platform/database.ts';
import { badRequest } from '../platform/errors.ts';
import { actorOf, read, readId } from '../platform/http.ts';
import * as service from './service.ts';

const LARGEST_FILE = '64mb';
const querySchema = z.object({ fileName: nameSchema.default('sales lines') });

/** Files of sales lines: `/api/workspaces/:workspaceId/imports`. */
export function importRoutes(connections: Connections): Router {
  const router = Router();

  router.get('/', async (_request, response) => {
    response.json(await service.listBatches(connections, actorOf(response)));
  });

  router.post('/', raw({ type: () => true, limit: LARGEST_FILE }), async (request, response) => {
    const { fileName } = read(querySchema, request.query);
    const body: unknown = request.body;
    if (!Buffer.isBuffer(body)) throw badRequest('The file is empty; nothing was taken in');
    const preview = await service.previewFile(connections, actorOf(response), fileName, body);
    response.status(201).json(preview);
  });

  router.get('/:importId', async (request, response) => {
    const id = readId(request, 'importId');
    response.json(await service.previewOf(connections, actorOf(response), id));
  });

  router.get('/:importId/problems', async (request, response) => {
    const id = readId(request, 'importId');
    response.json(await service.listProblems(connections, actorOf(response), id));
  });

  router.post('/:importId/apply', async (request, response) => {
    const id = readId(request, 'importId');
    response.json(await service.applyBatch(connections, actorOf(response), id));
  });

  router.delete('/:importId', async (request, response) => {
    await service.discardBatch(connections, actorOf(response), readId(request, 'importId'));
    response.status(204).end();
  });
  return router;
}
