import { forecastOperations } from '@dravex/contract';
import type { Router } from 'express';
import type { Connections } from '../platform/database.ts';
import { routesOf } from '../routing/routes.ts';
import type { Plans } from '../plan/plans.ts';
import * as answers from './answers.ts';
import { createLike } from './like.ts';
import * as overrides from './overrides.ts';
import * as setStreams from './set-streams.ts';
import * as streams from './streams.ts';
import { measuredLines, tableLines } from './table-lines.ts';
import { sendTable, tableFormat } from '../platform/table-file.ts';
import { aboutTable } from '../plan/file-numbers.ts';

/** The plan, its streams and its tables. */
export function forecastRoutes(connections: Connections, plans: Plans): Router {
  return routesOf(connections, forecastOperations, (connections) => ({
    readPlan: ({ actor }) => answers.planFor(plans, actor),
    readChanges: ({ actor, query }) => answers.changesSince(connections, actor, query.since),
    createStreams: ({ actor, body }) => streams.createStreams(connections, actor, body),
    proposeStreams: ({ actor, body }) => streams.streamsFromSales(connections, plans, actor, body),
    createLike: ({ actor, body }) => createLike(connections, plans, actor, body),
    setMethod: ({ actor, body }) => setStreams.setMethod(connections, plans, actor, body),
    forecastAnew: ({ actor, body }) => setStreams.forecastAnew(connections, plans, actor, body),
    deleteStreams: ({ actor, body }) => streams.removeStreams(connections, plans, actor, body),
    typeOver: ({ actor, body }) => overrides.typeOver(connections, plans, actor, body),
    dropOverrides: ({ actor, body }) => overrides.dropOverrides(connections, plans, actor, body),
    readTable: async ({ actor, query }) =>
      (await answers.tableFor(connections, plans, actor, query)).table,
    readMeasured: async ({ actor, query }) =>
      (await answers.measuredFor(connections, plans, actor, query)).table,
    saveMeasured: async ({ actor, query: address, name, response }) => {
      const { table, query, version } = await answers.measuredFor(
        connections,
        plans,
        actor,
        address,
      );
      const loaded = await plans.current(actor.workspaceId);
      const lines = [...measuredLines(table, query, loaded.plan, loaded.model.tree, version)];
      const about = aboutTable(loaded, { ...address, what: version });
      await sendTable(response, tableFormat(name('format')), fileName(address), about, lines);
    },
    saveTable: async ({ actor, query: address, name, response }) => {
      const { table, query, version } = await answers.tableFor(connections, plans, actor, address);
      const loaded = await plans.current(actor.workspaceId);
      const lines = [...tableLines(table, query, loaded.plan, loaded.model.tree, version)];
      const about = aboutTable(loaded, { ...address, what: version });
      await sendTable(response, tableFormat(name('format')), fileName(address), about, lines);
    },
  }));
}

const fileName = ({ version }: { readonly version?: number | undefined }): string =>
  version === undefined ? 'forecast' : 'budget';
