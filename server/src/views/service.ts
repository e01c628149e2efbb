import { nameSchema, type KeepView } from '@dravex/contract';
import { journaled } from '../journal/service.ts';
import type { Actor } from '../people/actor.ts';
import type { Connections } from '../platform/database.ts';
import { badRequest, notFound } from '../platform/errors.ts';
import * as store from './store.ts';
import { viewCells } from './thing.ts';

const named = (name: string) => (cell: string) => ({
  label: `View ${name}, ${cell}`,
  unit: 'text' as const,
});

/** Keeps a room's address under a name. @throws HttpProblem 400 for a name that is none */
export async function keepView(
  connections: Connections,
  actor: Actor,
  wanted: string,
  view: KeepView,
): Promise<void> {
  const parsed = nameSchema.safeParse(wanted);
  if (!parsed.success) {
    const message = parsed.error.issues[0]?.message ?? 'give it a name';
    throw badRequest(message, [{ path: 'view', message }]);
  }
  const name = parsed.data;
  await journaled(connections, actor, 'workspace', async (tx, record) => {
    const viewOfName = (await store.viewsOf(tx, actor.workspaceId)).find(
      (one) => one.name === name,
    );
    await store.putView(tx, actor.workspaceId, actor.personId, name, view);
    record.say(`${viewOfName ? 'Changed' : 'Kept'} the view ${name}`);
    record.changed(
      'view',
      name,
      viewOfName ? viewCells(viewOfName) : null,
      viewCells(view),
      named(name),
    );
    return {};
  });
}

/** Forgets a view. @throws HttpProblem 404 */
export async function dropView(
  connections: Connections,
  actor: Actor,
  name: string,
): Promise<void> {
  await journaled(connections, actor, 'workspace', async (tx, record) => {
    const viewOfName = (await store.viewsOf(tx, actor.workspaceId)).find(
      (one) => one.name === name,
    );
    if (!viewOfName) throw notFound('such view');
    await store.deleteView(tx, actor.workspaceId, name);
    record.say(`Forgot the view ${name}`);
    record.changed('view', name, viewCells(viewOfName), null, named(name));
    return {};
  });
}
