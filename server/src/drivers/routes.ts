import { driversOperations } from '@dravex/contract';
import type { Router } from 'express';
import type { Connections } from '../platform/database.ts';
import { routesOf } from '../routing/routes.ts';
import type { Plans } from '../forecast/plans.ts';
import * as service from './service.ts';
import { bringBack, statesOf } from './states.ts';

/** Assumptions of drivers. */
export function driverRoutes(connections: Connections, plans: Plans): Router {
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
    copyScope: ({ actor, body }) => service.copyAssumptions(connections, actor, body),
    readDriverStates: ({ actor, name }) =>
      statesOf(connections.db, actor.workspaceId, name('driver')),
    bringDriverBack: ({ actor, name, id }) =>
      bringBack(connections, actor, name('driver'), id('journalId')),
    typeIntoDriver: ({ actor, name, body }) =>
      service.typeInto(connections, plans, actor, name('driver'), body),
  });
}
