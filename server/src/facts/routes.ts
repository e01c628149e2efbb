import { factOperations } from '@dravex/contract';
import type { Router } from 'express';
import type { Connections } from '../platform/database.ts';
import { routesOf } from '../routing/routes.ts';
import * as service from './service.ts';
import { readCohorts, readRecordedMonths, readSubscribers } from './subscribers.ts';

/** What was measured besides sales. */
export function factRoutes(connections: Connections): Router {
  return routesOf(connections, factOperations, (connections) => ({
    readFacts: ({ actor, query }) => service.readFacts(connections, actor, query),
    changeMeasure: ({ actor, name, body }) =>
      service.changeMeasure(connections, actor, name('measure'), body),
    readLedger: ({ actor, query }) => service.readLedger(connections, actor, query),
    changeAccount: ({ actor, name, body }) =>
      service.changeAccount(connections, actor, name('account'), body),
    readCohorts: ({ actor, query }) => readCohorts(connections, actor, query),
    readRecordedMonths: ({ actor }) => readRecordedMonths(connections, actor),
    readSubscribers: ({ actor, query }) => readSubscribers(connections, actor, query),
  }));
}
