import type { RequestHandler } from 'express';
import { mustReadAll } from '../people/actor.ts';
import { actorIn } from '../people/service.ts';
import type { Connections } from '../platform/database.ts';
import { HttpProblem } from '../platform/errors.ts';
import { hashOf } from '../platform/secrets.ts';
import { tokenOwner } from './store.ts';

/**
 * Lets requests with an access token pass: they read what the token's owner may read, in the
 * workspace it was made for, as long as its owner is in it.
 */
export function tokenGuard(connections: Connections): RequestHandler {
  return async (request, response, next) => {
    const [, token = ''] =
      /^Bearer ([\w-]{10,200})$/.exec(request.get('authorization') ?? '') ?? [];
    const owner = token === '' ? undefined : await tokenOwner(connections.db, hashOf(token));
    const actor = owner && (await actorIn(connections, owner.workspaceId, owner.personId));
    if (!actor) {
      response.set('www-authenticate', 'Bearer');
      throw new HttpProblem(
        401,
        'No access',
        'Send an access token that was not withdrawn: Authorization: Bearer drx_…',
      );
    }
    // Whatever its owner may do, a token only reads; and it reads no more than its owner.
    mustReadAll(actor);
    response.locals['actor'] = { ...actor, role: 'reader' };
    next();
  };
}
