import { newAssumptionsSchema, typingSchema } from '@dravex/contract';
import { json, Router } from 'express';
import type { Connections } from '../platform/database.ts';
import { actorOf, read } from '../platform/http.ts';
import * as service from './service.ts';

/** Bringing in many assumptions takes more than an ordinary body. */
const MANY = json({ limit: '16mb' });

/** Assumptions of drivers: `/api/workspaces/:workspaceId/…`. */
export function driverRoutes(connections: Connections): Router {
  const router = Router();

  router.post('/assumptions', MANY, async (request, response) => {
    const input = read(newAssumptionsSchema, request.body);
    const ids = await service.createAssumptions(connections, actorOf(response), input);
    response.status(201).json({ ids });
  });

  router.put('/drivers/:driver/values', MANY, async (request, response) => {
    const input = read(typingSchema, request.body);
    const { driver } = request.params;
    response.json(await service.typeInto(connections, actorOf(response), String(driver), input));
  });
  return router;
}
