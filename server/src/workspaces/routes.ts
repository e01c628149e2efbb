import { workspaceOperations } from '@dravex/contract';
import type { Router } from 'express';
import type { Connections } from '../platform/database.ts';
import { mustMakeWorkspaces, type EntrySettings } from '../people/service.ts';
import { routesOf } from '../routing/routes.ts';
import { lookAtFirstFile, proposeWorkspace } from './propose.ts';
import { createWorkspace } from './service.ts';

/** `/api/workspaces` itself; what lies in a workspace has its own rooms. */
export function workspaceRoutes(
  connections: Connections,
  settings: Pick<EntrySettings, 'makeWorkspaces'>,
): Router {
  return routesOf(connections, workspaceOperations, (connections) => ({
    createWorkspace: async ({ personId, requestKey, body }) => {
      await mustMakeWorkspaces(connections, settings, personId);
      return { id: await createWorkspace(connections, personId, requestKey, body) };
    },
    lookAtFirstFile: async ({ personId, chunks, query }) => {
      await mustMakeWorkspaces(connections, settings, personId);
      return lookAtFirstFile(chunks, query);
    },
    proposeWorkspace: async ({ personId, chunks, query }) => {
      await mustMakeWorkspaces(connections, settings, personId);
      return proposeWorkspace(chunks, query);
    },
  }));
}
