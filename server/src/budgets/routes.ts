import { budgetOperations } from '@dravex/contract';
import type { Router } from 'express';
import { sendFilled } from '../exchange/filled-table.ts';
import type { Plans } from '../plan/plans.ts';
import type { Connections } from '../platform/database.ts';
import { tableFormat } from '../platform/table-file.ts';
import { routesOf } from '../routing/routes.ts';
import { addLine } from './add-line.ts';
import * as copies from './copies.ts';
import * as entries from './entries.ts';
import { bringFilled, tableOfVersion } from './filled.ts';
import { readRevenueNeeded } from './needed.ts';
import { bringPlanned } from './planned-file.ts';
import * as service from './service.ts';
import * as versions from './versions.ts';

/** Kept versions and their entries. */
export function versionRoutes(connections: Connections, plans: Plans): Router {
  return routesOf(connections, budgetOperations, (connections) => ({
    listVersions: ({ actor }) => versions.listVersions(connections, actor),
    keepVersion: ({ actor, body }) => service.keepVersion(connections, plans, actor, body),
    importVersion: ({ actor, query, file }) =>
      service.importVersion(connections, plans, actor, query.name, file),
    readVersionCells: ({ actor, id, query }) =>
      service.cellsOf(connections, actor, id('versionId'), query.at),
    listEntries: ({ actor, id, query }) =>
      entries.listEntries(connections, plans, actor, id('versionId'), query),
    typeIntoVersion: ({ actor, id, body }) =>
      entries.typeInto(connections, plans, actor, id('versionId'), body),
    readRevenueNeeded: ({ actor, id, query }) =>
      readRevenueNeeded(connections, plans, actor, id('versionId'), query),
    saveFilled: async ({ actor, id, name, query, response }) => {
      const asked = { version: id('versionId'), ...query };
      const table = await tableOfVersion(connections, plans, actor, asked);
      await sendFilled(response, tableFormat(name('format')), table);
    },
    bringFilled: ({ actor, id, query, file }) =>
      bringFilled(connections, plans, actor, id('versionId'), file, query),
    bringPlanned: ({ actor, id, query, chunks }) =>
      bringPlanned(connections, plans, actor, id('versionId'), query, chunks),
    addLine: ({ actor, id, body }) => addLine(connections, plans, actor, id('versionId'), body),
    deleteVersion: ({ actor, id }) => versions.deleteVersion(connections, actor, id('versionId')),
    sealVersion: ({ actor, id }) => versions.sealVersion(connections, actor, id('versionId')),
    changeVersion: ({ actor, id, body }) =>
      versions.changeVersion(connections, plans, actor, id('versionId'), body),
    lookAtCopy: ({ actor, query }) => copies.lookAtCopy(connections, plans, actor, query),
    copyVersion: ({ actor, body }) => copies.copyVersion(connections, plans, actor, body),
  }));
}
