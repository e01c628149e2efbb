import { reportingOperations, reportTableSchema } from '@dravex/contract';
import type { Router } from 'express';
import type { Plans } from '../plan/plans.ts';
import { sendCsv } from '../platform/csv.ts';
import type { Connections } from '../platform/database.ts';
import { notFound } from '../platform/errors.ts';
import { routesOf } from '../routing/routes.ts';
import { asJson, readReport } from './report.ts';
import * as service from './service.ts';
import { sendTable, tableFormat } from '../platform/table-file.ts';

/** What reporting tools read, and by what they are let in. */
export function reportingRoutes(connections: Connections, plans: Plans): Router {
  return routesOf(connections, reportingOperations, (connections) => ({
    readReport: async ({ actor, name, query, response }) => {
      const table = reportTableSchema.safeParse(name('table')).data;
      if (!table) throw notFound('such table');
      const report = await readReport(connections, plans, actor, table, query);
      if (query.format === 'json') {
        response.json(asJson(report));
        return;
      }
      if (report.next !== null) response.set('x-next-after', String(report.next));
      sendCsv(response, `${table}.csv`, [report.columns, ...report.rows]);
    },
    listTokens: ({ actor }) => service.listTokens(connections, actor),
    makeToken: ({ actor, body }) => service.makeToken(connections, actor, body.name),
    withdrawToken: ({ actor, id }) => service.withdrawToken(connections, actor, id('tokenId')),
    listViews: ({ actor }) => service.listViews(connections, actor),
    saveView: ({ actor, body }) =>
      service.saveView(connections, plans, actor, body.name, body.query),
    withdrawView: ({ actor, id }) => service.withdrawView(connections, actor, id('viewId')),
    saveShownTable: ({ body, name, response }) =>
      sendTable(response, tableFormat(name('format')), body.name, body.about, body.lines),
    saveSupply: ({ actor, query, name, response }) =>
      service.writeSupply(plans, actor, query, tableFormat(name('format')), response),
  }));
}
