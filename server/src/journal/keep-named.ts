import { nameSchema, type JournalRoom } from '@dravex/contract';
import type { Actor } from '../people/actor.ts';
import type { Connections } from '../platform/database.ts';
import { badRequest, notFound } from '../platform/errors.ts';
import type { Cells } from './cells.ts';
import { deleteNamed, putNamed, readNamed, type Named } from './named.ts';
import { journaled } from './service.ts';
import type { Kind } from './things.ts';

const titled = (word: string): string => word.charAt(0).toUpperCase() + word.slice(1);

/** Keeps a thing under a name, or gives the one of this name other values. @throws HttpProblem 400 */
export async function keepNamed(
  connections: Connections,
  actor: Actor,
  room: JournalRoom,
  of: Named<Kind>,
  wanted: string,
  value: Cells,
): Promise<void> {
  const parsed = nameSchema.safeParse(wanted);
  if (!parsed.success) {
    const message = parsed.error.issues[0]?.message ?? 'give it a name';
    throw badRequest(message, [{ path: of.word, message }]);
  }
  await change(connections, actor, room, of, parsed.data, value);
}

/** Forgets the thing of a name. @throws HttpProblem 404 */
export function dropNamed(
  connections: Connections,
  actor: Actor,
  room: JournalRoom,
  of: Named<Kind>,
  name: string,
): Promise<void> {
  return change(connections, actor, room, of, name, null);
}

async function change(
  connections: Connections,
  actor: Actor,
  room: JournalRoom,
  of: Named<Kind>,
  name: string,
  next: Cells | null,
): Promise<void> {
  await journaled(connections, actor, room, async (tx, record) => {
    const now = (await readNamed(tx, of, actor.workspaceId, [name])).get(name) ?? null;
    if (!now && !next) throw notFound(`such ${of.word}`);
    if (next) await putNamed(tx, of, actor, name, next);
    else await deleteNamed(tx, of, actor.workspaceId, name);
    const verb = next ? (now ? 'Changed' : 'Kept') : 'Forgot';
    record.say(`${verb} the ${of.word} ${name}`);
    record.changed(of.kind, name, now, next, (cell) => ({
      label: `${titled(of.word)} ${name}, ${cell}`,
      unit: 'text',
    }));
    return {};
  });
}
