/** Numbers of a server process for whoever watches it, in the text format of Prometheus. */
import { timingSafeEqual } from 'node:crypto';
import type { RequestHandler } from 'express';
import { collectDefaultMetrics, Gauge, Histogram, Registry } from 'prom-client';
import type { Connections } from './database.ts';
import type { DatabaseWatch } from './database-watch.ts';
import { HttpProblem, notFound } from './errors.ts';
import { hashOf } from './secrets.ts';

/** Of most requests it is told whether they took longer than these; in seconds. */
const BUCKETS = [0.01, 0.025, 0.05, 0.1, 0.25, 0.5, 1, 2.5, 5, 10, 30, 120];

/** What is counted, and how it is read. */
export interface Metrics {
  /** Counts requests by operation and status. */
  readonly counting: RequestHandler;
  /** Answers with the numbers, for whoever brings the token. */
  readonly telling: RequestHandler;
}

/** The route that answered, with its places left open: one line for all workspaces. */
const routeOf = (path: unknown): string => (typeof path === 'string' ? path : 'none');

/** @param token which whoever reads the numbers brings; without one there are none */
export function metricsOf(
  connections: Connections,
  watch: DatabaseWatch,
  token: string | undefined,
): Metrics {
  const register = new Registry();
  if (token !== undefined) collectDefaultMetrics({ register });
  const seconds = new Histogram({
    name: 'dravex_request_seconds',
    help: 'How long requests took, by route and status',
    labelNames: ['method', 'route', 'status'],
    buckets: BUCKETS,
    registers: [register],
  });
  const { pool, writers } = connections;
  new Gauge({
    name: 'dravex_database_connections',
    help: 'Connections to the database, by pool and what they do',
    labelNames: ['pool', 'state'],
    registers: [register],
    collect() {
      for (const [name, of] of [['read', pool] as const, ['write', writers] as const]) {
        this.set({ pool: name, state: 'idle' }, of.idleCount);
        this.set({ pool: name, state: 'busy' }, of.totalCount - of.idleCount);
        this.set({ pool: name, state: 'waited for' }, of.waitingCount);
      }
    },
  });
  new Gauge({
    name: 'dravex_database_away',
    help: '1 while the database does not answer',
    registers: [register],
    collect() {
      this.set(watch.isAway ? 1 : 0);
    },
  });
  return {
    counting: (request, response, next) => {
      const end = seconds.startTimer();
      response.once('close', () => {
        const { path } = (request.route as { path?: unknown } | undefined) ?? {};
        end({ method: request.method, route: routeOf(path), status: response.statusCode });
      });
      next();
    },
    telling: async (request, response) => {
      if (token === undefined) throw notFound('such page');
      const [, given = ''] = /^Bearer (.+)$/.exec(request.get('authorization') ?? '') ?? [];
      // Hashes are of one length: how far a wrong token is right cannot be told by the time.
      if (!timingSafeEqual(Buffer.from(hashOf(given)), Buffer.from(hashOf(token)))) {
        response.set('www-authenticate', 'Bearer');
        throw new HttpProblem(
          401,
          'No access',
          'Send the token of METRICS_TOKEN as a bearer token',
        );
      }
      response.type(register.contentType).send(await register.metrics());
    },
  };
}
