import { journalOperations } from '@dravex/contract';
import type { Router } from 'express';
import type { Connections } from '../platform/database.ts';
import { routesOf } from '../routing/routes.ts';
import { workspaceById } from '../workspaces/store.ts';
import type { Notices } from './notices.ts';
import { readJournal, sayWhy } from './service.ts';
import { doAgain, redo, takeBack, undo } from './undo.ts';

/** History, undo, and change notices. */
export function journalRoutes(connections: Connections, notices: Notices): Router {
  return routesOf(connections, journalOperations, (connections) => ({
    readJournal: ({ actor, query }) => readJournal(connections, actor, query),
    sayWhy: ({ actor, id, body }) => sayWhy(connections, actor, id('journalId'), body.why),
    takeBack: ({ actor, id }) => takeBack(connections, actor, id('journalId')),
    doAgain: ({ actor, id }) => doAgain(connections, actor, id('journalId')),
    undo: ({ actor, query }) => undo(connections, actor, query),
    redo: ({ actor, query }) => redo(connections, actor, query),
    followNotices: ({ actor, request, response }) =>
      notices.follow(request, response, actor, async () => {
        const workspace = await workspaceById(connections.db, actor.workspaceId);
        return workspace?.revision ?? 0;
      }),
  }));
}
