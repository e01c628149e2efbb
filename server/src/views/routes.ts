import { viewOperations } from '@dravex/contract';
import type { Router } from 'express';
import type { Connections } from '../platform/database.ts';
import { routesOf } from '../routing/routes.ts';
import * as service from './service.ts';
import { viewsOf } from './store.ts';

/** Rooms as they were laid out, under a name. */
export function viewRoutes(connections: Connections): Router {
  return routesOf(connections, viewOperations, {
    readKeptViews: ({ actor }) => viewsOf(connections.db, actor.workspaceId),
    keepView: ({ actor, name, body }) => service.keepView(connections, actor, name('view'), body),
    dropView: ({ actor, name }) => service.dropView(connections, actor, name('view')),
  });
}
