import { threadOperations } from '@dravex/contract';
import type { Router } from 'express';
import type { Plans } from '../plan/plans.ts';
import type { Connections } from '../platform/database.ts';
import { routesOf } from '../routing/routes.ts';
import { comment, resolve } from './service.ts';
import { threadsOf } from './store.ts';

/** What was said of numbers. */
export function threadRoutes(connections: Connections, plans: Plans): Router {
  return routesOf(connections, threadOperations, (connections) => ({
    readThreads: ({ actor, query }) => threadsOf(connections.db, actor.workspaceId, query.room),
    comment: ({ actor, body }) => comment(connections, plans, actor, body),
    resolveThread: ({ actor, name, body }) =>
      resolve(connections, actor, name('thread'), body.resolved),
  }));
}
