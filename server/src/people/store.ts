import type { Layout, Role, WorkspacePerson } from '@dravex/contract';
import { and, asc, eq } from 'drizzle-orm';
import { one, type Database } from '../platform/database.ts';
import { workspace } from '../workspaces/tables.ts';
import { membership, person } from './tables.ts';

export async function personByEmail(db: Database, email: string) {
  const [row] = await db.select().from(person).where(eq(person.email, email));
  return row;
}

export async function personById(db: Database, id: number) {
  const [row] = await db.select().from(person).where(eq(person.id, id));
  return row;
}

export async function insertPerson(
  db: Database,
  row: { email: string; name: string; passwordHash: string },
): Promise<number> {
  return one(await db.insert(person).values(row).returning({ id: person.id })).id;
}

export async function setLayout(db: Database, id: number, layout: Layout): Promise<void> {
  await db.update(person).set({ layout }).where(eq(person.id, id));
}

export async function setMembership(
  db: Database,
  workspaceId: number,
  personId: number,
  role: Role,
): Promise<void> {
  await db
    .insert(membership)
    .values({ workspaceId, personId, role })
    .onConflictDoUpdate({
      target: [membership.workspaceId, membership.personId],
      set: { role },
    });
}

export async function dropMembership(
  db: Database,
  workspaceId: number,
  personId: number,
): Promise<void> {
  await db
    .delete(membership)
    .where(and(eq(membership.workspaceId, workspaceId), eq(membership.personId, personId)));
}

/** Who may enter a workspace, in the order in which they came. */
export function peopleOf(db: Database, workspaceId: number): Promise<WorkspacePerson[]> {
  return db
    .select({ id: person.id, name: person.name, email: person.email, role: membership.role })
    .from(membership)
    .innerJoin(person, eq(person.id, membership.personId))
    .where(eq(membership.workspaceId, workspaceId))
    .orderBy(asc(person.id));
}

export async function membershipOf(db: Database, workspaceId: number, personId: number) {
  const [row] = await db
    .select({ role: membership.role, name: person.name })
    .from(membership)
    .innerJoin(person, eq(person.id, membership.personId))
    .where(and(eq(membership.workspaceId, workspaceId), eq(membership.personId, personId)));
  return row;
}

export function workspacesOf(db: Database, personId: number) {
  return db
    .select({ id: workspace.id, name: workspace.name, role: membership.role })
    .from(membership)
    .innerJoin(workspace, eq(workspace.id, membership.workspaceId))
    .where(eq(membership.personId, personId))
    .orderBy(asc(workspace.id));
}
