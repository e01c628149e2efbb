import { driversOperations } from '@dravex/contract';
import type { Router } from 'express';
import type { Connections } from '../platform/database.ts';
import { routesOf } from '../platform/routes.ts';
import * as service from './service.ts';

/** Assumptions of drivers. */
export function driverRoutes(connections: Connections): Router {
  return routesOf(connections, driversOperations, {
    createAssumptions: async ({ actor, body }) => ({
      ids: await service.createAssumptions(connections, actor, body),
    }),
    typeIntoDriver: ({ actor, name, body }) =>
      service.typeInto(connections, actor, name('driver'), body),
  });
}
