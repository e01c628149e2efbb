import { planFileOperations } from '@dravex/contract';
import type { Router } from 'express';
import type { Connections } from '../platform/database.ts';
import { mustMakeWorkspaces, type EntrySettings } from '../people/service.ts';
import { routesOf } from '../routing/routes.ts';
import { loadInThread } from './load.ts';
import { writePlanFile } from './service.ts';

/** A whole plan as a file, out and in. */
export function planFileRoutes(
  connections: Connections,
  settings: Pick<EntrySettings, 'makeWorkspaces'>,
): Router {
  return routesOf(connections, planFileOperations, (connections) => ({
    savePlanFile: async ({ actor, response }) => {
      const file = await writePlanFile(connections, actor);
      const name = file.name.replaceAll(/[^\p{L}\p{N}]+/gu, '-').toLowerCase();
      response.attachment(`${name}.dravex.json`).json(file);
    },
    loadPlanFile: async ({ personId, requestKey, path, response }) => {
      await mustMakeWorkspaces(connections, settings, personId);
      return { id: await loadInThread(connections, personId, requestKey, path, response) };
    },
  }));
}
