import { actualsOperations, summaryOperations } from '@dravex/contract';
import type { Router } from 'express';
import type { Plans } from '../plan/plans.ts';
import type { Connections } from '../platform/database.ts';
import type { Queue } from '../platform/queue.ts';
import { routesOf } from '../routing/routes.ts';
import { applyBatch, stopBatch } from './apply.ts';
import { dropLine, enterLine } from './hand-lines.ts';
import { repairBatch } from './repair.ts';
import * as service from './service.ts';
import { readSummary, writeSummary } from './summary.ts';
import { lookAt, previewTable } from './take-in.ts';
import { tableFormat } from '../platform/table-file.ts';
import { readSalesWeeks } from './weeks.ts';

/** Files of what happened, and the sales lines themselves. */
export function actualsRoutes(connections: Connections, plans: Plans, queue: Queue): Router {
  return routesOf(connections, actualsOperations, (connections) => ({
    listImports: ({ actor }) => service.listBatches(connections, actor),
    lookAtTable: ({ actor, query, chunks }) =>
      lookAt(connections, actor, { ...query, chunks, reading: query.reading }),
    previewImport: async ({ actor, query, chunks }) => {
      const id = await previewTable(connections, actor, {
        ...query,
        chunks,
        reading: query.reading,
      });
      return service.previewOf(connections, actor, id);
    },
    readImport: ({ actor, id }) => service.previewOf(connections, actor, id('importId')),
    listImportProblems: ({ actor, id }) => service.listProblems(connections, actor, id('importId')),
    saveLeftOut: ({ actor, id, response }) =>
      service.writeLeftOut(connections, actor, id('importId'), response),
    repairImport: async ({ actor, id, body }) => {
      const { id: repaired } = await repairBatch(connections, actor, id('importId'), body);
      return service.previewOf(connections, actor, repaired);
    },
    applyImport: ({ actor, id }) => applyBatch(connections, queue, actor, id('importId')),
    stopImport: ({ actor, id }) => stopBatch(connections, actor, id('importId')),
    takeBackImport: ({ actor, id }) => service.takeBackBatch(connections, actor, id('importId')),
    putAwayImport: ({ actor, id }) => service.putAwayBatch(connections, actor, id('importId')),
    listMappings: ({ actor }) => service.listMappings(connections, actor),
    keepMapping: ({ actor, body }) => service.keepMapping(connections, actor, body),
    dropMapping: ({ actor, id }) => service.dropMapping(connections, actor, id('mappingId')),
    listRemembered: ({ actor }) => service.listRemembered(connections, actor),
    forgetRemembered: ({ actor, query }) => service.forgetRemembered(connections, actor, query),
    readSalesWeeks: ({ actor, query }) => readSalesWeeks(connections, plans, actor, query),
    listSalesLines: ({ actor, query }) => service.listSalesLines(connections, plans, actor, query),
  }));
}

/** Summaries on demand, and sales that are not in the books. */
export function summaryRoutes(connections: Connections, plans: Plans): Router {
  return routesOf(connections, summaryOperations, (connections) => ({
    readSummary: async ({ actor, query, response }) => {
      const start = performance.now();
      const summary = await readSummary(connections, plans, actor, query);
      response.set('server-timing', `summary;dur=${(performance.now() - start).toFixed(2)}`);
      return summary;
    },
    saveSummary: ({ actor, query, name, response }) =>
      writeSummary(connections, plans, actor, query, tableFormat(name('format')), response),
    enterLine: ({ actor, body }) => enterLine(connections, actor, body),
    dropLine: ({ actor, id }) => dropLine(connections, actor, id('lineId')),
  }));
}
