import { peopleOperations, sessionOperations } from '@dravex/contract';
import type { Router } from 'express';
import type { Connections } from '../platform/database.ts';
import { HttpProblem } from '../platform/errors.ts';
import { routesOf } from '../routing/routes.ts';
import * as entry from './entry.ts';
import * as service from './service.ts';
import { setLayout, setPreferences } from './store.ts';
import { endSession, startSession, type SessionLimits } from './session.ts';
import { SignInThrottle } from './throttle.ts';

/** Signing in and out. */
export function sessionRoutes(connections: Connections, limits: SessionLimits): Router {
  const throttle = new SignInThrottle(connections);
  return routesOf(connections, sessionOperations, {
    signIn: async ({ body, request }) => {
      const ip = request.ip ?? '';
      await throttle.check(body.email, ip);
      let personId: number;
      try {
        personId = await service.identify(connections, body);
      } catch (error) {
        if (error instanceof HttpProblem) await throttle.failed(body.email, ip);
        throw error;
      }
      await throttle.succeeded(body.email, ip);
      const csrfToken = await startSession(request, personId, limits);
      return { ...(await service.describeSession(connections, personId)), csrfToken };
    },
    readSession: async ({ personId, request }) => ({
      ...(await service.describeSession(connections, personId)),
      csrfToken: request.session.csrfToken ?? '',
    }),
    keepLayout: ({ personId, body }) => setLayout(connections.db, personId, body),
    keepPreferences: ({ personId, body }) => setPreferences(connections.db, personId, body),
    changePassword: async ({ personId, body, request }) => {
      const throttled = `password of ${personId}`;
      await throttle.check(throttled, '');
      try {
        await entry.changePassword(connections, personId, request.sessionID, body);
      } catch (error) {
        if (error instanceof HttpProblem) await throttle.failed(throttled, '');
        throw error;
      }
    },
    readPasswordLink: async ({ body }) => {
      const { name, email } = await entry.readLink(connections, body.token);
      return { name, email };
    },
    choosePassword: ({ body }) => entry.choosePassword(connections, body.token, body.password),
    signOut: async ({ request, response }) => {
      await endSession(request);
      response.clearCookie('dravex');
    },
  });
}

/** The people of a workspace. */
export function peopleRoutes(connections: Connections): Router {
  return routesOf(connections, peopleOperations, {
    listPeople: ({ actor }) => service.listPeople(connections, actor),
    addPerson: async ({ actor, body }) => ({
      id: await service.addPerson(connections, actor, body),
    }),
    invitePerson: ({ actor, body }) => entry.invite(connections, actor, body),
    changeRole: ({ actor, id, body }) => entry.changeRole(connections, actor, id('personId'), body),
    removePerson: ({ actor, id }) => entry.remove(connections, actor, id('personId')),
    resetPassword: ({ actor, id }) => entry.offerReset(connections, actor, id('personId')),
  });
}
