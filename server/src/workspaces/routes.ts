import { newWorkspaceSchema } from '@dravex/contract';
import { Router } from 'express';
import { csrfGuard, signedIn } from '../people/session.ts';
import type { Connections } from '../platform/database.ts';
import { read } from '../platform/http.ts';
import { createWorkspace } from './service.ts';

/** `/api/workspaces` itself; what lies in a workspace has its own rooms. */
export function workspaceRoutes(connections: Connections): Router {
  const router = Router();
  router.post('/', csrfGuard, async (request, response) => {
    const input = read(newWorkspaceSchema, request.body);
    const id = await createWorkspace(connections, signedIn(request), input);
    response.status(201).json({ id });
  });
  return router;
}
