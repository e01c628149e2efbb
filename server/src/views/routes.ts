import { viewOperations } from '@dravex/contract';
import type { Router } from 'express';
import { dropNamed, keepNamed } from '../journal/keep-named.ts';
import type { Connections } from '../platform/database.ts';
import { routesOf } from '../routing/routes.ts';
import { viewsOf } from './store.ts';
import { VIEW } from './thing.ts';

/** Rooms as they were laid out, under a name. */
export function viewRoutes(connections: Connections): Router {
  return routesOf(connections, viewOperations, (connections) => ({
    readKeptViews: ({ actor }) => viewsOf(connections.db, actor.workspaceId),
    keepView: ({ actor, name, body }) =>
      keepNamed(connections, actor, 'workspace', VIEW, name('view'), body),
    dropView: ({ actor, name }) => dropNamed(connections, actor, 'workspace', VIEW, name('view')),
  }));
}
