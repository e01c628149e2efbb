import type { View } from '@dravex/contract';
import { asc, eq } from 'drizzle-orm';
import { person } from '../people/tables.ts';
import type { Database } from '../platform/database.ts';
import { roomView } from './tables.ts';

export function viewsOf(db: Database, workspaceId: number): Promise<View[]> {
  const { name, room, address } = roomView;
  return db
    .select({ name, room, address, by: person.name })
    .from(roomView)
    .innerJoin(person, eq(person.id, roomView.keptBy))
    .where(eq(roomView.workspaceId, workspaceId))
    .orderBy(asc(roomView.name));
}
