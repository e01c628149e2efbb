import { sheetOperations } from '@dravex/contract';
import type { Router } from 'express';
import { sendFilled } from '../exchange/filled-table.ts';
import type { Plans } from '../plan/plans.ts';
import type { Connections } from '../platform/database.ts';
import { routesOf } from '../routing/routes.ts';
import { tableFormat } from '../platform/table-file.ts';
import { bringSheet, tableOfSheet } from './file.ts';
import * as service from './service.ts';

/** Budget sheets that people fill in. */
export function sheetRoutes(connections: Connections, plans: Plans): Router {
  return routesOf(connections, sheetOperations, (connections) => ({
    listSheets: ({ actor }) => service.listSheets(connections, actor),
    addSheet: ({ actor, body }) => service.addSheet(connections, plans, actor, body),
    readSheet: ({ actor, name }) => service.readSheet(connections, plans, actor, name('sheet')),
    changeSheet: ({ actor, name, body }) =>
      service.changeSheet(connections, plans, actor, name('sheet'), body),
    removeSheet: ({ actor, name }) => service.removeSheet(connections, actor, name('sheet')),
    stepSheet: ({ actor, name, body }) =>
      service.stepSheet(connections, actor, name('sheet'), body),
    changeSheetLine: ({ actor, name, body }) =>
      service.changeSheetLine(connections, plans, actor, name('sheet'), body),
    saveSheet: async ({ actor, name, response }) => {
      const sheet = await service.readSheet(connections, plans, actor, name('sheet'));
      await sendFilled(response, tableFormat(name('format')), tableOfSheet(sheet));
    },
    bringSheet: ({ actor, name, query, file }) =>
      bringSheet(connections, plans, actor, name('sheet'), file, query),
    typeIntoSheet: ({ actor, name, body }) =>
      service.typeIntoSheet(connections, plans, actor, name('sheet'), body),
  }));
}
