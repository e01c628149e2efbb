import { randomBytes, timingSafeEqual } from 'node:crypto';
import type { OwnSession } from '@dravex/contract';
import connectPgSimple from 'connect-pg-simple';
import type { Request, RequestHandler } from 'express';
import expressSession, { type SessionData } from 'express-session';
import type { Connections } from '../platform/database.ts';
import { HttpProblem, notFound } from '../platform/errors.ts';
import { hashOf } from '../platform/secrets.ts';
import { readId } from '../platform/http.ts';
import { actorIn } from './service.ts';

declare module 'express-session' {
  interface SessionData {
    personId: number;
    csrfToken: string;
    /** When it was begun, and when it ends at the latest, whatever is done in it. */
    signedInAt: number;
    endsAt: number;
    /** The browser, as it calls itself. */
    browser: string;
    /** The sealed secret of a second factor that is being set up. */
    newFactor?: string;
  }
}

/** How long sessions hold, in milliseconds. */
export interface SessionLimits {
  /** After the last request. */
  readonly idleMs: number;
  /** After signing in. */
  readonly mostMs: number;
}

/** A session is lengthened no more often; writing it down for every request would cost a save each. */
const LENGTHENED_EVERY_MS = 60_000;

/** Sessions kept in the database, known to the browser by an HttpOnly, SameSite cookie. */
export function sessions(
  { pool }: Connections,
  options: { secret: string; secure: boolean; idleMs: number },
): RequestHandler {
  const PgStore = connectPgSimple(expressSession);
  /**
   * A session that could not be lengthened after an answer went out: the answer stands. Handed on,
   * the failure would find no handler left and break the connection under the next request.
   */
  class Store extends PgStore {
    /** When each was lengthened; those that are due again are forgotten. */
    readonly #lengthened = new Map<string, number>();

    override touch(id: string, data: SessionData, done?: () => void): void {
      const now = Date.now();
      if (
        (this.#lengthened.get(id) ?? 0) >
        now - Math.min(LENGTHENED_EVERY_MS, options.idleMs / 4)
      ) {
        done?.();
        return;
      }
      for (const [other, at] of this.#lengthened) {
        if (at > now - LENGTHENED_EVERY_MS) break;
        this.#lengthened.delete(other);
      }
      this.#lengthened.delete(id);
      this.#lengthened.set(id, now);
      super.touch(id, data, () => done?.());
    }
  }
  return expressSession({
    name: 'dravex',
    secret: options.secret,
    resave: false,
    saveUninitialized: false,
    rolling: true,
    // What goes wrong in the store is answered like any other failure.
    store: new Store({ pool, tableName: 'session', errorLog: () => undefined }),
    cookie: { httpOnly: true, sameSite: 'strict', secure: options.secure, maxAge: options.idleMs },
  });
}

/** Starts a fresh session for a person, so that an older session id is worth nothing. */
export function startSession(
  request: Request,
  personId: number,
  { mostMs }: SessionLimits,
): Promise<string> {
  const csrfToken = randomBytes(24).toString('base64url');
  return new Promise((resolve, reject) => {
    request.session.regenerate((failure) => {
      if (failure) {
        reject(failure as Error);
        return;
      }
      request.session.personId = personId;
      request.session.csrfToken = csrfToken;
      request.session.signedInAt = Date.now();
      request.session.endsAt = Date.now() + mostMs;
      request.session.browser = (request.get('user-agent') ?? '').slice(0, 300);
      request.session.save((unsaved) => {
        if (unsaved) reject(unsaved as Error);
        else resolve(csrfToken);
      });
    });
  });
}

export function endSession(request: Request): Promise<void> {
  return new Promise((resolve, reject) => {
    request.session.destroy((failure) => {
      if (failure) reject(failure as Error);
      else resolve();
    });
  });
}

/** By what a person knows a session: not what the cookie holds. */
export const idOf = (sid: string): string => hashOf(sid).slice(0, 24);

/** A session as its person sees it. */
export function shownSession(
  row: { readonly sid: string; readonly sess: unknown; readonly expire: Date },
  own: string,
  { idleMs }: SessionLimits,
): OwnSession {
  const { signedInAt = 0, browser = '' } = row.sess as Partial<SessionData>;
  return {
    id: idOf(row.sid),
    signedInAt: new Date(signedInAt).toISOString(),
    seenAt: new Date(new Date(row.expire).getTime() - idleMs).toISOString(),
    browser,
    own: row.sid === own,
  };
}

/** Who is signed in. @throws HttpProblem 401 */
export function signedIn(request: Request): number {
  const { personId, endsAt = 0 } = request.session;
  if (personId === undefined || endsAt <= Date.now()) {
    throw new HttpProblem(401, 'Not signed in', 'Sign in to go on; what you typed is still there');
  }
  return personId;
}

const SAFE = new Set(['GET', 'HEAD', 'OPTIONS']);

/** Refuses writes that do not bring the session's token: a page elsewhere cannot read it. */
export const csrfGuard: RequestHandler = (request, _response, next) => {
  if (SAFE.has(request.method)) {
    next();
    return;
  }
  signedIn(request);
  const expected = Buffer.from(request.session.csrfToken ?? '');
  const given = Buffer.from(request.get('x-csrf-token') ?? '');
  if (
    expected.length === 0 ||
    expected.length !== given.length ||
    !timingSafeEqual(expected, given)
  ) {
    throw new HttpProblem(
      403,
      'This request did not come from our page',
      'Reload the page and try again',
    );
  }
  next();
};

/** Lets only members of the workspace in the address pass, and says who acts. */
export function workspaceGuard(connections: Connections): RequestHandler {
  return async (request, response, next) => {
    const actor = await actorIn(connections, readId(request, 'workspaceId'), signedIn(request));
    if (!actor) throw notFound('such workspace');
    response.locals['actor'] = actor;
    next();
  };
}
