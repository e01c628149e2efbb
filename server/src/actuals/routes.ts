import { actualsOperations } from '@dravex/contract';
import type { Router } from 'express';
import type { Plans } from '../forecast/plans.ts';
import type { Connections } from '../platform/database.ts';
import { routesOf } from '../platform/routes.ts';
import * as service from './service.ts';

/** Files of sales lines, and the lines themselves. */
export function actualsRoutes(connections: Connections, plans: Plans): Router {
  return routesOf(connections, actualsOperations, {
    listImports: ({ actor }) => service.listBatches(connections, actor),
    previewImport: ({ actor, query, chunks }) =>
      service.previewFile(connections, actor, query.fileName, chunks),
    readImport: ({ actor, id }) => service.previewOf(connections, actor, id('importId')),
    listImportProblems: ({ actor, id }) => service.listProblems(connections, actor, id('importId')),
    applyImport: ({ actor, id }) => service.applyBatch(connections, actor, id('importId')),
    takeBackImport: ({ actor, id }) => service.takeBackBatch(connections, actor, id('importId')),
    putAwayImport: ({ actor, id }) => service.putAwayBatch(connections, actor, id('importId')),
    listSalesLines: ({ actor, query }) => service.listSalesLines(connections, plans, actor, query),
  });
}
