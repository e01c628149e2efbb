import type { RequestHandler, Response } from 'express';
import type { DatabaseWatch } from './database-watch.ts';
import { HttpProblem } from './errors.ts';
import { sendProblem } from './http.ts';

const away = (): HttpProblem =>
  new HttpProblem(
    503,
    'Not ready',
    'The database does not answer. Try again in a moment; what is sent again under its key is not done twice',
  );

/** Answers whoever waits for a database that has gone silent, at once, and not when it wakes up. */
export function answersInTime(watch: DatabaseWatch): RequestHandler {
  const waiting = new Set<Response>();
  const refuse = (response: Response): void => {
    if (!response.headersSent) sendProblem(response.set('retry-after', '2'), away());
  };
  watch.whenAway(() => {
    for (const response of waiting) refuse(response);
  });
  return (_request, response, next) => {
    if (watch.isAway) {
      refuse(response);
      return;
    }
    waiting.add(response);
    response.once('close', () => waiting.delete(response));
    next();
  };
}
