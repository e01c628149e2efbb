import { closingOperations } from '@dravex/contract';
import type { Router } from 'express';
import type { Plans } from '../plan/plans.ts';
import type { Connections } from '../platform/database.ts';
import { routesOf } from '../routing/routes.ts';
import { accuracyFor } from './accuracy.ts';
import { readClosing } from './look.ts';
import { keptMonths } from './store.ts';
import * as service from './service.ts';

/** Closing months, the calendar, and how good forecasts were. */
export function closingRoutes(connections: Connections, plans: Plans): Router {
  return routesOf(connections, closingOperations, (connections) => ({
    readClosing: ({ actor }) => readClosing(connections, plans, actor),
    closeMonth: ({ actor, body }) => service.closeMonth(connections, plans, actor, body),
    reopenMonth: ({ actor, body }) => service.reopenMonth(connections, actor, body),
    setClosingRules: ({ actor, body }) => service.setRules(connections, actor, body),
    changeCalendar: ({ actor, body }) => service.setCalendar(connections, actor, body),
    bringKeptForecast: ({ actor, query, file }) =>
      service.bringKept(connections, plans, actor, query, file),
    readKeptMonths: ({ actor }) => keptMonths(connections.db, actor.workspaceId),
    readAccuracy: ({ actor, query }) => accuracyFor(connections, plans, actor, query),
  }));
}
