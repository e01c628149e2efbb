import { connectionOperations } from '@dravex/contract';
import type { Router } from 'express';
import type { Connections } from '../platform/database.ts';
import type { Queue } from '../platform/queue.ts';
import { routesOf } from '../routing/routes.ts';
import type { FeedSettings } from './run.ts';
import * as service from './service.ts';

/** Connected sources. */
export function connectionRoutes(
  connections: Connections,
  queue: Queue,
  settings: FeedSettings,
): Router {
  return routesOf(connections, connectionOperations, (connections) => ({
    listConnections: ({ actor }) => service.listConnections(connections, actor),
    addConnection: ({ actor, body }) => service.addConnection(connections, settings, actor, body),
    changeConnection: ({ actor, id, body }) =>
      service.changeConnection(connections, settings, actor, id('connectionId'), body),
    dropConnection: ({ actor, id }) =>
      service.dropConnection(connections, actor, id('connectionId')),
    testConnection: ({ actor, id }) =>
      service.testConnection(connections, settings, actor, id('connectionId')),
    runConnection: ({ actor, id }) => service.runNow(connections, queue, actor, id('connectionId')),
    stopConnection: ({ actor, id }) => service.stopNow(connections, actor, id('connectionId')),
    listRuns: ({ actor, id }) => service.listRuns(connections, actor, id('connectionId')),
    settleHeld: ({ actor, id, body }) =>
      service.settleHeld(connections, queue, actor, id('connectionId'), body),
    listHeld: ({ actor, id }) => service.listHeld(connections, actor, id('connectionId')),
  }));
}
