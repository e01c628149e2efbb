import { workspaceOperations } from '@dravex/contract';
import type { Router } from 'express';
import type { Connections } from '../platform/database.ts';
import { routesOf } from '../routing/routes.ts';
import { lookAtFirstFile, proposeWorkspace } from './propose.ts';
import { createWorkspace } from './service.ts';

/** `/api/workspaces` itself; what lies in a workspace has its own rooms. */
export function workspaceRoutes(connections: Connections): Router {
  return routesOf(connections, workspaceOperations, {
    createWorkspace: async ({ personId, requestKey, body }) => ({
      id: await createWorkspace(connections, personId, requestKey, body),
    }),
    lookAtFirstFile: ({ chunks, query }) => lookAtFirstFile(chunks, query),
    proposeWorkspace: ({ chunks, query }) => proposeWorkspace(chunks, query),
  });
}
