import type { Layout, Preferences, Role, WorkspacePerson } from '@dravex/contract';
import { and, asc, eq, gt, isNotNull, sql } from 'drizzle-orm';
import { one, type Database } from '../platform/database.ts';
import { workspace } from '../workspaces/tables.ts';
import { heldPart, membership, passwordLink, person, session } from './tables.ts';

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

export async function setPreferences(
  db: Database,
  id: number,
  preferences: Preferences,
): Promise<void> {
  await db.update(person).set({ preferences }).where(eq(person.id, id));
}

/** Gives somebody another password, and ends their sessions but one; links to choose one are void. */
export async function setPassword(
  db: Database,
  personId: number,
  passwordHash: string,
  sessionThatStays = '',
): Promise<void> {
  await db.update(person).set({ passwordHash }).where(eq(person.id, personId));
  await db.delete(passwordLink).where(eq(passwordLink.personId, personId));
  await db
    .delete(session)
    .where(
      sql`${session.sess} ->> 'personId' = ${String(personId)} and ${session.sid} <> ${sessionThatStays}`,
    );
}

/** Keeps a link in place of an earlier one of the same person. */
export async function setPasswordLink(
  db: Database,
  row: typeof passwordLink.$inferInsert,
): Promise<void> {
  await db
    .insert(passwordLink)
    .values(row)
    .onConflictDoUpdate({ target: passwordLink.personId, set: row });
}

/** Whose link it is, while it holds. */
export async function personByLink(db: Database, hash: string) {
  const [row] = await db
    .select({ id: person.id, name: person.name, email: person.email })
    .from(passwordLink)
    .innerJoin(person, eq(person.id, passwordLink.personId))
    .where(and(eq(passwordLink.hash, hash), gt(passwordLink.expiresAt, sql`now()`)));
  return row;
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

/** Gives somebody the nodes that they hold from now on. */
export async function setParts(
  db: Database,
  workspaceId: number,
  personId: number,
  parts: readonly number[],
): Promise<void> {
  const own = and(eq(heldPart.workspaceId, workspaceId), eq(heldPart.personId, personId));
  await db.delete(heldPart).where(own);
  if (parts.length === 0) return;
  await db.insert(heldPart).values(parts.map((nodeId) => ({ workspaceId, personId, nodeId })));
}

/** Which of some nodes of target trees are there. */
export async function nodesThere(
  db: Database,
  workspaceId: number,
  ids: readonly number[],
): Promise<Set<number>> {
  const { rows } = await db.execute<{ id: number }>(sql`
    select id from target_node
    where workspace_id = ${workspaceId} and id = any(${sql.param([...ids])}::int[])`);
  return new Set(rows.map(({ id }) => id));
}

/** The nodes that somebody holds, in the order of their ids. */
export async function partsOf(
  db: Database,
  workspaceId: number,
  personId: number,
): Promise<number[]> {
  const rows = await db
    .select({ id: heldPart.nodeId })
    .from(heldPart)
    .where(and(eq(heldPart.workspaceId, workspaceId), eq(heldPart.personId, personId)))
    .orderBy(asc(heldPart.nodeId));
  return rows.map(({ id }) => id);
}

/** Whoever holds a node holds another one with it: its copy in another year. */
export async function holdAlike(
  db: Database,
  workspaceId: number,
  copies: ReadonlyMap<number, number>,
): Promise<void> {
  const [from, to] = [[...copies.keys()], [...copies.values()]];
  await db.execute(sql`
    insert into held_part (workspace_id, person_id, node_id)
    select h.workspace_id, h.person_id, c.made from held_part h
      join unnest(${sql.param(from)}::int[], ${sql.param(to)}::int[]) as c(model, made)
        on c.model = h.node_id
    where h.workspace_id = ${workspaceId} on conflict do nothing`);
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
    .select({
      id: person.id,
      name: person.name,
      email: person.email,
      role: membership.role,
      parts: sql<number[]>`array(select h.node_id from held_part h
        where h.workspace_id = ${membership.workspaceId} and h.person_id = ${membership.personId}
        order by 1)`,
      invited: sql<boolean>`${isNotNull(passwordLink.personId)}`,
    })
    .from(membership)
    .innerJoin(person, eq(person.id, membership.personId))
    .leftJoin(
      passwordLink,
      and(eq(passwordLink.personId, person.id), eq(passwordLink.kind, 'invitation')),
    )
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
