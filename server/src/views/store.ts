import type { KeepView, View } from '@dravex/contract';
import { and, asc, eq } from 'drizzle-orm';
import { person } from '../people/tables.ts';
import type { Database } from '../platform/database.ts';
import { roomView } from './tables.ts';

export function viewsOf(db: Database, workspaceId: number): Promise<View[]> {
  return db
    .select({
      name: roomView.name,
      room: roomView.room,
      address: roomView.address,
      by: person.name,
    })
    .from(roomView)
    .innerJoin(person, eq(person.id, roomView.keptBy))
    .where(eq(roomView.workspaceId, workspaceId))
    .orderBy(asc(roomView.name));
}

/** Keeps a view; one of the same name is written over. */
export async function putView(
  db: Database,
  workspaceId: number,
  personId: number,
  name: string,
  { room, address }: KeepView,
): Promise<void> {
  const values = { room, address, keptBy: personId, keptAt: new Date() };
  await db
    .insert(roomView)
    .values({ workspaceId, name, ...values })
    .onConflictDoUpdate({ target: [roomView.workspaceId, roomView.name], set: values });
}

export async function deleteView(db: Database, workspaceId: number, name: string): Promise<void> {
  await db
    .delete(roomView)
    .where(and(eq(roomView.workspaceId, workspaceId), eq(roomView.name, name)));
}
