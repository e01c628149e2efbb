import { newPersonSchema, signInSchema } from '@dravex/contract';
import { Router } from 'express';
import type { Connections } from '../platform/database.ts';
import { HttpProblem } from '../platform/errors.ts';
import { actorOf, read } from '../platform/http.ts';
import * as service from './service.ts';
import { csrfGuard, endSession, signedIn, startSession } from './session.ts';
import { SignInThrottle } from './throttle.ts';

/** Signing in and out: `/api/session`. */
export function sessionRoutes(connections: Connections): Router {
  const throttle = new SignInThrottle(connections);
  const router = Router();

  router.post('/', async (request, response) => {
    const credentials = read(signInSchema, request.body);
    const ip = request.ip ?? '';
    await throttle.check(credentials.email, ip);
    let personId: number;
    try {
      personId = await service.identify(connections, credentials);
    } catch (error) {
      if (error instanceof HttpProblem) await throttle.failed(credentials.email, ip);
      throw error;
    }
    await throttle.succeeded(credentials.email, ip);
    const csrfToken = await startSession(request, personId);
    response.json({ ...(await service.describeSession(connections, personId)), csrfToken });
  });

  router.get('/', async (request, response) => {
    const described = await service.describeSession(connections, signedIn(request));
    if (!described) throw service.wrongPassword();
    response.json({ ...described, csrfToken: request.session.csrfToken });
  });

  router.delete('/', csrfGuard, async (request, response) => {
    await endSession(request);
    response.clearCookie('dravex').status(204).end();
  });
  return router;
}

/** The people of a workspace: `/api/workspaces/:workspaceId/people`. */
export function peopleRoutes(connections: Connections): Router {
  const router = Router();
  router.post('/', async (request, response) => {
    const input = read(newPersonSchema, request.body);
    const id = await service.addPerson(connections, actorOf(response), input);
    response.status(201).json({ id });
  });
  return router;
}
