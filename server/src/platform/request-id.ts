import { randomUUID } from 'node:crypto';
import type { IncomingMessage, ServerResponse } from 'node:http';

const HEADER = 'x-request-id';
/** What a proxy may call a request: no line of a log is broken by it. */
const NAME = /^[\w.:-]{1,64}$/;

/** The id of a request: a proxy's, where it gives one, else our own. The answer bears it too. */
export function requestIdFor(request: IncomingMessage, response: ServerResponse): string {
  const given = request.headers[HEADER];
  const id = typeof given === 'string' && NAME.test(given) ? given : randomUUID();
  response.setHeader(HEADER, id);
  // Who counts, who answers in time and who tells wait for the end of each answer.
  response.setMaxListeners(20);
  return id;
}
