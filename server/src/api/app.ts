import { platformOperations } from '@dravex/contract';
import compression from 'compression';
import express, { Router, type Express } from 'express';
import type { Logger } from 'pino';
import { pinoHttp } from 'pino-http';
import swaggerUi from 'swagger-ui-express';
import { defineApplying } from '../actuals/apply.ts';
import { actualsRoutes, summaryRoutes } from '../actuals/routes.ts';
import { versionRoutes } from '../budgets/routes.ts';
import { defineClosing } from '../closing/by-itself.ts';
import { closingRoutes } from '../closing/routes.ts';
import { comparisonRoutes } from '../comparison/routes.ts';
import { connectionRoutes } from '../connections/routes.ts';
import { defineRunning, type FeedSettings } from '../connections/run.ts';
import type { Patience } from '../connections/feed.ts';
import { dimensionRoutes } from '../dimensions/routes.ts';
import { driverRoutes } from '../drivers/routes.ts';
import { factRoutes } from '../facts/routes.ts';
import { Plans } from '../plan/plans.ts';
import { forecastRoutes } from '../forecast/routes.ts';
import { Notices } from '../journal/notices.ts';
import { journalRoutes } from '../journal/routes.ts';
import { auditing } from '../people/audit.ts';
import { peopleRoutes, sessionRoutes } from '../people/routes.ts';
import { sessions, type SessionLimits } from '../people/session.ts';
import { planFileRoutes } from '../plan-file/routes.ts';
import { embedRoutes } from '../reporting/embed.ts';
import { reportingRoutes } from '../reporting/routes.ts';
import { targetRoutes } from '../targets/routes.ts';
import { ledgerRoutes } from '../ledger/routes.ts';
import { sheetRoutes } from '../sheets/routes.ts';
import { threadRoutes } from '../threads/routes.ts';
import { viewRoutes } from '../views/routes.ts';
import { workspaceRoutes } from '../workspaces/routes.ts';
import type { Config } from '../platform/config.ts';
import { connectJobs, type Connections } from '../platform/database.ts';
import { DatabaseWatch } from '../platform/database-watch.ts';
import { HttpProblem } from '../platform/errors.ts';
import { requestSerializers } from '../platform/log.ts';
import { noSuchRoute, personal, problemHandler } from '../platform/http.ts';
import { answersInTime } from '../platform/in-time.ts';
import { metricsOf, type Metrics } from '../platform/metrics.ts';
import { requestIdFor } from '../platform/request-id.ts';
import { openApi } from './openapi.ts';
import { pageRoutes } from '../platform/page.ts';
import { Queue } from '../platform/queue.ts';
import { Sealer } from '../platform/sealer.ts';
import { routesOf } from '../routing/routes.ts';
import { ownStyles, securityHeaders } from '../platform/security.ts';

/** The running application, and how to end what it keeps open. */
export interface Application {
  readonly app: Express;
  /** What is done in the background; the process starts it. */
  readonly queue: Queue;
  /** Ends the streams of change notices and their line to the database, and the background work. */
  close(): Promise<void>;
}

/** What the application asks of the configuration of a server. */
export type AppConfig = Pick<
  Config,
  | 'sessionSecret'
  | 'secure'
  | 'webFolder'
  | 'trustedProxies'
  | 'secretKey'
  | 'allowedNetworks'
  | 'metricsToken'
  | 'makeWorkspaces'
  | 'readOnly'
  | 'sessionIdleMs'
  | 'sessionMs'
> & {
  /** How long outside services are tried again; tests have less of it. */
  readonly patience?: Patience;
};

/** Whether it runs, and whether it can do something: for whoever starts it, and for a proxy. */
function healthRoutes(watch: DatabaseWatch, metrics: Metrics): Router {
  const router = Router();
  router.get('/health', (_request, response) => {
    response.set('cache-control', 'no-store').json({ status: 'ok' });
  });
  router.get('/ready', (_request, response) => {
    if (watch.isAway) throw new HttpProblem(503, 'Not ready', 'The database cannot be reached');
    response.set('cache-control', 'no-store').json({ status: 'ok' });
  });
  router.get('/metrics', metrics.telling);
  return router;
}

function platformRoutes(connections: Connections): Router {
  const description = openApi() as { openapi: string };
  return routesOf(connections, platformOperations, (connections) => ({
    readHealth: async () => {
      await connections.pool.query('select 1').catch(() => {
        throw new HttpProblem(503, 'Not ready', 'The database cannot be reached');
      });
      return { status: 'ok' as const };
    },
    readDescription: () => Promise.resolve(description),
  }));
}

/** The application: the API under `/api`, and the built page where a folder is configured. */
export function createApp(connections: Connections, config: AppConfig, log: Logger): Application {
  const plans = new Plans(connections);
  const notices = new Notices(connections, log);
  // What is done in the background holds locks for long: it never takes what requests wait for.
  const jobs = connectJobs(connections.url);
  const watch = new DatabaseWatch(connections.url, log);
  const metrics = metricsOf(connections, watch, config.metricsToken);
  const queue = new Queue(jobs, log);
  defineApplying(jobs, queue);
  const feeds: FeedSettings = {
    patience: config.patience,
    allowedNetworks: config.allowedNetworks,
    sealer: new Sealer(config.secretKey),
  };
  // On a replica nothing is done by itself.
  const stopping = config.readOnly
    ? []
    : [defineRunning(jobs, queue, feeds), defineClosing(jobs, plans, queue)];
  const api = Router();
  api.use(metrics.counting, answersInTime(watch), personal);
  api.use(platformRoutes(connections));
  if (config.readOnly) api.use(reportingRoutes(connections, plans), noSuchRoute);
  const limits: SessionLimits = { idleMs: config.sessionIdleMs, mostMs: config.sessionMs };
  const { sessionSecret: secret, secure } = config;
  api.use(sessions(connections, { secret, secure, idleMs: limits.idleMs }));
  const { makeWorkspaces } = config;
  const entry = { limits, makeWorkspaces, sealer: feeds.sealer };
  if (!config.readOnly) api.use(auditing(connections, log));
  api.use(sessionRoutes(connections, entry));
  api.use(workspaceRoutes(connections, entry));
  api.use(planFileRoutes(connections, entry));
  api.use(peopleRoutes(connections));
  api.use(dimensionRoutes(connections));
  api.use(actualsRoutes(connections, plans, queue));
  api.use(summaryRoutes(connections, plans));
  api.use(factRoutes(connections));
  api.use(connectionRoutes(connections, queue, feeds));
  api.use(driverRoutes(connections, plans));
  api.use(forecastRoutes(connections, plans));
  api.use(comparisonRoutes(connections, plans));
  api.use(versionRoutes(connections, plans));
  api.use(closingRoutes(connections, plans));
  api.use(targetRoutes(connections, plans));
  api.use(reportingRoutes(connections, plans));
  api.use(sheetRoutes(connections, plans));
  api.use(ledgerRoutes(connections, plans));
  api.use(threadRoutes(connections, plans));
  api.use(viewRoutes(connections));
  api.use(journalRoutes(connections, notices));
  api.use(noSuchRoute);

  const app = express();
  app.disable('x-powered-by');
  app.set('trust proxy', config.trustedProxies);
  app.use(
    pinoHttp({
      logger: log,
      genReqId: requestIdFor,
      serializers: requestSerializers,
      wrapSerializers: false,
      autoLogging: { ignore: ({ url }) => !url?.startsWith('/api') },
    }),
  );
  app.use(securityHeaders(config));
  // A stream of notices is sent line by line: held back to be compressed, it would come too late.
  app.use(
    compression({
      filter: (request, response) =>
        !String(response.getHeader('content-type')).startsWith('text/event-stream') &&
        compression.filter(request, response),
    }),
  );
  const page = {
    swaggerUrl: '/api/openapi.json',
    customSiteTitle: 'Dravex, its API',
    customCss: '.swagger-ui .topbar { display: none }',
  };
  app.use(healthRoutes(watch, metrics));
  app.use('/api/reference', ownStyles, swaggerUi.serve, swaggerUi.setup(undefined, page));
  app.use(embedRoutes(connections, plans));
  app.use('/api', api);
  if (config.webFolder !== undefined) app.use(pageRoutes(config.webFolder));
  app.use(problemHandler(log));
  const close = async (): Promise<void> => {
    await Promise.all(stopping.map((stop) => stop()));
    await Promise.all([notices.close(), queue.close(), watch.close()]);
    await jobs.close();
  };
  return { app, queue, close };
}
