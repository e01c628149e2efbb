import {
  fiscalYearSchema,
  newTargetNodeSchema,
  objectiveSchema,
  targetNodeChangeSchema,
} from '@dravex/contract';
import { Router, type Request } from 'express';
import { z } from 'zod';
import type { Plans } from '../forecast/plans.ts';
import type { Connections } from '../platform/database.ts';
import { actorOf, read, readId } from '../platform/http.ts';
import * as service from './service.ts';

function yearOf(request: Request): number {
  return read(z.object({ fiscalYear: fiscalYearSchema }), request.params).fiscalYear;
}

/** A fiscal year's targets: `/api/workspaces/:workspaceId/targets/:fiscalYear`. */
export function targetRoutes(connections: Connections, plans: Plans): Router {
  const router = Router();

  router.get('/:fiscalYear', async (request, response) => {
    response.json(await service.treeOf(connections, plans, actorOf(response), yearOf(request)));
  });

  router.put('/:fiscalYear', async (request, response) => {
    const { objective } = read(objectiveSchema, request.body);
    const actor = actorOf(response);
    await service.setObjective(connections, plans, actor, yearOf(request), objective);
    response.json(await service.treeOf(connections, plans, actor, yearOf(request)));
  });

  router.post('/:fiscalYear/nodes', async (request, response) => {
    const input = read(newTargetNodeSchema, request.body);
    const actor = actorOf(response);
    const id = await service.addNode(connections, plans, actor, yearOf(request), input);
    const tree = await service.treeOf(connections, plans, actor, yearOf(request));
    response.status(201).json({ id, tree });
  });

  router.patch('/:fiscalYear/nodes/:nodeId', async (request, response) => {
    const change = read(targetNodeChangeSchema, request.body);
    const actor = actorOf(response);
    const id = readId(request, 'nodeId');
    await service.changeNode(connections, actor, yearOf(request), id, change);
    response.json(await service.treeOf(connections, plans, actor, yearOf(request)));
  });

  router.delete('/:fiscalYear/nodes/:nodeId', async (request, response) => {
    const actor = actorOf(response);
    await service.removeNode(connections, actor, yearOf(request), readId(request, 'nodeId'));
    response.json(await service.treeOf(connections, plans, actor, yearOf(request)));
  });
  return router;
}
