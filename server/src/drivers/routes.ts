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
    addDriver: ({ actor, body }) => service.addDriver(connections, actor, body),
    changeDriver: ({ actor, name, body }) =>
      service.changeDriver(connections, actor, name('driver'), body),
    dropDriver: ({ actor, name }) => service.dropDriver(connections, actor, name('driver')),
    setAssumption: ({ actor, name, body }) =>
      service.setAssumption(connections, actor, name('driver'), body),
    dropAssumption: ({ actor, name, id }) =>
      service.dropAssumption(connections, actor, name('driver'), id('assumptionId')),
    typeIntoDriver: ({ actor, name, body }) =>
      service.typeInto(connections, actor, name('driver'), body),
  });
}
