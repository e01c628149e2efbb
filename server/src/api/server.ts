import { createServer, type Server } from 'node:http';
import type { Express } from 'express';

/** How long the head of a request may take; its body may take as long as it comes. */
const HEAD_MS = 60_000;

/**
 * The HTTP server around the application. A file over a slow line takes as long as it takes: silence
 * ends a request, see `hearsSender`, and not its length.
 */
export function serverOf(app: Express): Server {
  const server = createServer({ requestTimeout: 0, headersTimeout: HEAD_MS }, app);
  // Who asks before sending a body is told by the route, which knows how much it takes.
  server.on('checkContinue', (request, response) => void app(request, response));
  return server;
}
