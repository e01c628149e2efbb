import { peopleOperations, sessionOperations } from '@dravex/contract';
import type { Request, Router } from 'express';
import { sendCsv } from '../platform/csv.ts';
import type { Connections } from '../platform/database.ts';
import { conflict, HttpProblem, notFound } from '../platform/errors.ts';
import { routesOf } from '../routing/routes.ts';
import type { Actor } from './actor.ts';
import { auditOf, tell } from './audit.ts';
import * as entry from './entry.ts';
import { confirmFactor, newFactor, takeCode } from './second-factor.ts';
import * as service from './service.ts';
import {
  dropFactor,
  endSessions,
  personByEmail,
  sessionsOf,
  setLayout,
  setPreferences,
} from './store.ts';
import { endSession, idOf, shownSession, startSession, type SessionLimits } from './session.ts';
import { SignInThrottle } from './throttle.ts';

/** What signing in needs besides the database. */
export interface EntryOptions extends service.EntrySettings {
  readonly limits: SessionLimits;
}

/** Signing in and out. */
export function sessionRoutes(connections: Connections, options: EntryOptions): Router {
  const throttle = new SignInThrottle(connections);
  const { limits, sealer } = options;
  /** Does what a password is needed for; a wrong one is counted, a right one is not. */
  async function throttled<T>(
    account: string,
    address: string,
    work: () => Promise<T>,
  ): Promise<T> {
    await throttle.attempt(account, address);
    const result = await work();
    await throttle.succeeded(account, address);
    return result;
  }
  const ofPerson = (personId: number): string => `password of ${personId}`;
  return routesOf(connections, sessionOperations, (connections) => ({
    signIn: async ({ body, request }) => {
      const ip = request.ip ?? '';
      let entered: service.Identified;
      try {
        entered = await throttled(body.email, ip, () =>
          service.identify(connections, options, body),
        );
      } catch (error) {
        // That a code is needed as well is no failure.
        const asks = error instanceof HttpProblem && error.title === 'A code is needed';
        if (asks) await throttle.succeeded(body.email, ip);
        else if (error instanceof HttpProblem) await tellFailure(connections, request, body.email);
        throw error;
      }
      const { personId, by } = entered;
      const csrfToken = await startSession(request, personId, limits);
      const detail =
        by === 'password' ? '' : by === 'code' ? 'with a code' : 'with a recovery code';
      await tell(connections, request, { kind: 'signedIn', personId, detail });
      if (by === 'recovery')
        await tell(connections, request, { kind: 'recoveryCodeUsed', personId });
      return { ...(await service.describeSession(connections, options, personId)), csrfToken };
    },
    readSession: async ({ personId, request }) => ({
      ...(await service.describeSession(connections, options, personId)),
      csrfToken: request.session.csrfToken ?? '',
    }),
    keepLayout: ({ personId, body }) => setLayout(connections.db, personId, body),
    keepPreferences: ({ personId, body }) => setPreferences(connections.db, personId, body),
    changePassword: async ({ personId, body, request }) => {
      await throttled(ofPerson(personId), '', () =>
        entry.changePassword(connections, personId, request.sessionID, body),
      );
      await tell(connections, request, { kind: 'passwordChanged', personId });
    },
    readPasswordLink: async ({ body }) => {
      const { name, email } = await entry.readLink(connections, body.token);
      return { name, email };
    },
    choosePassword: async ({ body, request }) => {
      const { id } = await entry.readLink(connections, body.token);
      await throttled(ofPerson(id), request.ip ?? '', () =>
        entry.choosePassword(connections, body.token, body.password),
      );
      await tell(connections, request, { kind: 'passwordChosen', personId: id });
    },
    listSessions: async ({ personId, request }) =>
      (await sessionsOf(connections.db, personId)).map((row) =>
        shownSession(row, request.sessionID, limits),
      ),
    endSession: async ({ personId, name, request }) => {
      const wanted = name('session');
      const all = await sessionsOf(connections.db, personId);
      const ended = all
        .filter(({ sid }) =>
          wanted === 'others' ? sid !== request.sessionID : idOf(sid) === wanted,
        )
        .map(({ sid }) => sid);
      if (ended.length === 0 && wanted !== 'others') throw notFound('such session');
      await endSessions(connections.db, ended);
      const detail = ended.length === 1 ? '' : `${ended.length} sessions`;
      await tell(connections, request, { kind: 'sessionEnded', personId, detail });
    },
    beginSecondFactor: async ({ personId, body, request }) => {
      const person = await throttled(ofPerson(personId), '', () =>
        entry.mustFit(connections, personId, body.password),
      );
      if (person.secondFactor !== null) throw conflict('You have a second factor already');
      const factor = newFactor(person.email);
      request.session.newFactor = sealer.seal(factor.secret, `session of ${personId}`);
      return factor;
    },
    confirmSecondFactor: async ({ personId, body, request }) => {
      const { newFactor: sealed = '' } = request.session;
      const secret = sealer.open(sealed, `session of ${personId}`);
      if (secret === undefined) throw conflict('Begin to set up the second factor first');
      const codes = await confirmFactor(connections, sealer, personId, secret, body.code);
      delete request.session.newFactor;
      await tell(connections, request, { kind: 'secondFactorOn', personId });
      return { codes };
    },
    dropSecondFactor: async ({ personId, body, request }) => {
      await throttled(ofPerson(personId), '', async () => {
        const { id, secondFactor } = await entry.mustFit(connections, personId, body.password);
        if (secondFactor === null) throw conflict('You have no second factor');
        await takeCode(connections.db, sealer, { id, secondFactor }, body.code);
        await connections.db.transaction((tx) => dropFactor(tx, personId));
      });
      await tell(connections, request, { kind: 'secondFactorOff', personId });
    },
    signOut: async ({ personId, request, response }) => {
      await tell(connections, request, { kind: 'signedOut', personId });
      await endSession(request);
      response.clearCookie('dravex');
    },
  }));
}

/** A failed sign-in is told of whoever has the address; of nobody, of nobody. */
async function tellFailure(
  connections: Connections,
  request: Request,
  email: string,
): Promise<void> {
  const known = await personByEmail(connections.db, email.toLowerCase());
  if (known) await tell(connections, request, { kind: 'signInFailed', personId: known.id });
}

/** The people of a workspace. */
export function peopleRoutes(connections: Connections): Router {
  return routesOf(connections, peopleOperations, (connections) => ({
    listPeople: ({ actor }) => service.listPeople(connections, actor),
    addPerson: async ({ actor, body, request }) => {
      const id = await entry.addPerson(connections, actor, body);
      const detail = `${body.name}, ${body.role}`;
      await tell(connections, request, { kind: 'invited', ...by(actor), detail });
      return { id };
    },
    invitePerson: async ({ actor, body, request }) => {
      const made = await entry.invite(connections, actor, body);
      const detail = `${body.name}, ${body.role}`;
      await tell(connections, request, { kind: 'invited', ...by(actor), detail });
      return made;
    },
    changeRole: async ({ actor, id, body, request }) => {
      await entry.changeRole(connections, actor, id('personId'), body);
      const detail = `${await nameOf(connections, actor, id('personId'))}: ${body.role}`;
      await tell(connections, request, { kind: 'roleChanged', ...by(actor), detail });
    },
    removePerson: async ({ actor, id, request }) => {
      const detail = await nameOf(connections, actor, id('personId'));
      await entry.remove(connections, actor, id('personId'));
      await tell(connections, request, { kind: 'removed', ...by(actor), detail });
    },
    resetPassword: async ({ actor, id, request }) => {
      const link = await entry.offerReset(connections, actor, id('personId'));
      const detail = await nameOf(connections, actor, id('personId'));
      await tell(connections, request, { kind: 'passwordLinkMade', ...by(actor), detail });
      return link;
    },
    takeSecondFactor: async ({ actor, id, request }) => {
      const detail = await entry.takeFactor(connections, actor, id('personId'));
      await tell(connections, request, { kind: 'secondFactorOff', ...by(actor), detail });
    },
    readEntryRules: ({ actor }) => service.readEntryRules(connections, actor),
    setEntryRules: async ({ actor, body, request }) => {
      await service.setEntryRules(connections, actor, body);
      const detail = body.secondFactor ? 'a second factor is needed' : 'a password is enough';
      await tell(connections, request, { kind: 'entryRules', ...by(actor), detail });
    },
    readAudit: ({ actor, query }) => auditOf(connections, actor.workspaceId, query),
    saveAudit: async ({ actor, query, response }) => {
      const events = await auditOf(connections, actor.workspaceId, { ...query, limit: MOST_SAVED });
      sendCsv(response, 'audit.csv', [
        ['at', 'what', 'person', 'e-mail', 'address', 'detail'],
        ...events.map(({ at, kind, person, email, address, detail }) => [
          ...[at, kind, person, email, address, detail],
        ]),
      ]);
    },
  }));
}

const MOST_SAVED = 50_000;

const by = ({ personId, workspaceId }: Actor) => ({ personId, workspaceId });

async function nameOf(connections: Connections, actor: Actor, id: number): Promise<string> {
  const people = await service.listPeople(connections, actor);
  return people.find((one) => one.id === id)?.name ?? '';
}
