import express, { json, Router, type Express } from 'express';
import type { Logger } from 'pino';
import { pinoHttp } from 'pino-http';
import { importRoutes } from '../actuals/routes.ts';
import { versionRoutes } from '../budgets/routes.ts';
import { comparisonRoutes } from '../comparison/routes.ts';
import { driverRoutes } from '../drivers/routes.ts';
import { Plans } from '../forecast/plans.ts';
import { forecastRoutes } from '../forecast/routes.ts';
import { peopleRoutes, sessionRoutes } from '../people/routes.ts';
import { csrfGuard, sessions, workspaceGuard } from '../people/session.ts';
import { targetRoutes } from '../targets/routes.ts';
import { workspaceRoutes } from '../workspaces/routes.ts';
import type { Config } from './config.ts';
import type { Connections } from './database.ts';
import { HttpProblem } from './errors.ts';
import { noSuchRoute, problemHandler } from './http.ts';
import { pageRoutes } from './page.ts';
import { securityHeaders } from './security.ts';

/** Bodies that bring in whole lists read themselves with their own limit, after the guards. */
const LISTS = [/\/imports$/, /\/versions\/import$/, /\/assumptions$/, /\/drivers\/[^/]+\/values$/];
/** Dimensions and streams come whole. */
const LARGEST_BODY = '4mb';

/** The application: the API under `/api`, and the built page where a folder is configured. */
export function createApp(
  connections: Connections,
  config: Pick<Config, 'sessionSecret' | 'secure' | 'webFolder'>,
  log: Logger,
): Express {
  const plans = new Plans(connections);
  const ofWorkspace = Router({ mergeParams: true });
  ofWorkspace.use(csrfGuard);
  ofWorkspace.use('/people', peopleRoutes(connections));
  ofWorkspace.use('/imports', importRoutes(connections));
  ofWorkspace.use('/versions', versionRoutes(connections, plans));
  ofWorkspace.use('/targets', targetRoutes(connections, plans));
  ofWorkspace.use(driverRoutes(connections));
  ofWorkspace.use(forecastRoutes(connections, plans));
  ofWorkspace.use(comparisonRoutes(connections, plans));

  const api = Router();
  api.get('/health', async (_request, response) => {
    await connections.pool.query('select 1').catch(() => {
      throw new HttpProblem(503, 'Not ready', 'The database cannot be reached');
    });
    response.json({ status: 'ok' });
  });
  api.use(sessions(connections, { secret: config.sessionSecret, secure: config.secure }));
  const body = json({ limit: LARGEST_BODY });
  api.use((request, response, next) => {
    if (LISTS.some((list) => list.test(request.path))) next();
    else body(request, response, next);
  });
  api.use('/session', sessionRoutes(connections));
  api.use('/workspaces', workspaceRoutes(connections));
  api.use('/workspaces/:workspaceId', workspaceGuard(connections), ofWorkspace);
  api.use(noSuchRoute);

  const app = express();
  app.disable('x-powered-by');
  app.set('trust proxy', 'loopback');
  app.use(
    pinoHttp({ logger: log, autoLogging: { ignore: ({ url }) => !url?.startsWith('/api') } }),
  );
  app.use(securityHeaders(config));
  app.use('/api', api);
  if (config.webFolder !== undefined) app.use(pageRoutes(config.webFolder));
  app.use(problemHandler(log));
  return app;
}
