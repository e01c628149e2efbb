import { driversOperations } from '@dravex/contract';
import type { Router } from 'express';
import type { Connections } from '../platform/database.ts';
import { routesOf } from '../routing/routes.ts';
import type { Plans } from '../plan/plans.ts';
import * as assumptions from './assumptions.ts';
import * as drivers from './own-drivers.ts';
import { bringBack, statesOf } from './states.ts';
import { typeInto } from './typing.ts';

/** Drivers, and what is assumed of them. */
export function driverRoutes(connections: Connections, plans: Plans): Router {
  return routesOf(connections, driversOperations, (connections) => ({
    createAssumptions: async ({ actor, body }) => ({
      ids: await assumptions.createAssumptions(connections, plans, actor, body),
    }),
    addDriver: ({ actor, body }) => drivers.addDriver(connections, plans, actor, body),
    changeDriver: ({ actor, name, body }) =>
      drivers.changeDriver(connections, plans, actor, name('driver'), body),
    dropDriver: ({ actor, name }) => drivers.dropDriver(connections, plans, actor, name('driver')),
    setAssumption: ({ actor, name, body }) =>
      assumptions.setAssumption(connections, plans, actor, name('driver'), body),
    dropAssumption: ({ actor, name, id }) =>
      assumptions.dropAssumption(connections, plans, actor, name('driver'), id('assumptionId')),
    copyScope: ({ actor, body }) => assumptions.copyAssumptions(connections, plans, actor, body),
    readDriverStates: ({ actor, name }) =>
      statesOf(connections.db, actor.workspaceId, name('driver')),
    bringDriverBack: ({ actor, name, id }) =>
      bringBack(connections, plans, actor, name('driver'), id('journalId')),
    typeIntoDriver: ({ actor, name, body }) =>
      typeInto(connections, plans, actor, name('driver'), body),
  }));
}
