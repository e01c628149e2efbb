import type { Layout, Preferences, Role, WorkspacePerson } from '@dravex/contract';
import { and, asc, eq, gt, inArray, isNotNull, isNull, lt, sql } from 'drizzle-orm';
import { one, type Database } from '../platform/database.ts';
import { workspace } from '../workspaces/tables.ts';
import {
  heldPart,
  invitation,
  membership,
  passwordLink,
  person,
  recoveryCode,
  session,
} from './tables.ts';

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
  row: { email: string; name: string; passwordHash: string; makesWorkspaces?: boolean },
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

/** Keeps a second factor; the step is the one whose code confirmed it. */
export async function setFactor(
  db: Database,
  personId: number,
  secondFactor: string,
  lastStep: number,
): Promise<void> {
  await db.update(person).set({ secondFactor, lastStep }).where(eq(person.id, personId));
}

/** Takes a second factor away, with its recovery codes. @returns whether there was one */
export async function dropFactor(db: Database, personId: number): Promise<boolean> {
  await db.delete(recoveryCode).where(eq(recoveryCode.personId, personId));
  const { rowCount } = await db
    .update(person)
    .set({ secondFactor: null })
    .where(and(eq(person.id, personId), isNotNull(person.secondFactor)));
  return (rowCount ?? 0) > 0;
}

export async function setRecoveryCodes(
  db: Database,
  personId: number,
  hashes: readonly string[],
): Promise<void> {
  await db.delete(recoveryCode).where(eq(recoveryCode.personId, personId));
  await db.insert(recoveryCode).values(hashes.map((hash) => ({ personId, hash })));
}

/** Takes the code of a step, unless it or a later one was taken. @returns whether it was */
export async function takeStep(db: Database, personId: number, step: number): Promise<boolean> {
  const { rowCount } = await db
    .update(person)
    .set({ lastStep: step })
    .where(and(eq(person.id, personId), lt(person.lastStep, step)));
  return (rowCount ?? 0) > 0;
}

/** Takes a recovery code. @returns whether it was there */
export async function takeRecoveryCode(
  db: Database,
  personId: number,
  hash: string,
): Promise<boolean> {
  const { rowCount } = await db
    .delete(recoveryCode)
    .where(and(eq(recoveryCode.personId, personId), eq(recoveryCode.hash, hash)));
  return (rowCount ?? 0) > 0;
}

/** The browsers in which somebody is signed in, by what the server knows them by. */
export async function sessionsOf(db: Database, personId: number) {
  const { rows } = await db.execute<{ sid: string; sess: unknown; expire: Date }>(sql`
    select sid, sess, expire at time zone current_setting('TimeZone') as expire from session
    where sess ->> 'personId' = ${String(personId)} and expire > now() order by expire desc`);
  return rows;
}

/** Ends sessions. */
export async function endSessions(db: Database, sids: readonly string[]): Promise<void> {
  if (sids.length > 0) await db.delete(session).where(inArray(session.sid, [...sids]));
}

/** Which of some sessions still hold. */
export async function sessionsThere(db: Database, sids: readonly string[]): Promise<Set<string>> {
  if (sids.length === 0) return new Set();
  const rows = await db
    .select({ sid: session.sid })
    .from(session)
    .where(and(inArray(session.sid, [...sids]), sql`${session.expire} > now()`));
  return new Set(rows.map(({ sid }) => sid));
}

/** Keeps the invitation of somebody who has an account already. */
export async function setInvitation(
  db: Database,
  row: typeof invitation.$inferInsert,
): Promise<void> {
  await db
    .insert(invitation)
    .values(row)
    .onConflictDoUpdate({ target: [invitation.workspaceId, invitation.personId], set: row });
}

/** Whoever has come is invited no longer. */
export async function dropInvitations(db: Database, personId: number): Promise<void> {
  await db.delete(invitation).where(eq(invitation.personId, personId));
}

/** Whose invitation it is, while it holds. */
export async function personByInvitation(db: Database, hash: string) {
  const [row] = await db
    .select({
      id: person.id,
      name: invitation.name,
      email: person.email,
      passwordHash: person.passwordHash,
    })
    .from(invitation)
    .innerJoin(person, eq(person.id, invitation.personId))
    .where(and(eq(invitation.hash, hash), gt(invitation.expiresAt, sql`now()`)));
  return row;
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
      name: sql<string>`coalesce(${invitation.name}, ${person.name})`,
      email: person.email,
      role: membership.role,
      parts: sql<number[]>`array(select h.node_id from held_part h
        where h.workspace_id = ${membership.workspaceId} and h.person_id = ${membership.personId}
        order by 1)`,
      invited: sql<boolean>`${isNotNull(passwordLink.personId)} or ${isNotNull(invitation.personId)}`,
      secondFactor: sql<boolean>`${isNotNull(person.secondFactor)} and ${isNull(invitation.personId)}`,
    })
    .from(membership)
    .innerJoin(person, eq(person.id, membership.personId))
    .leftJoin(
      passwordLink,
      and(eq(passwordLink.personId, person.id), eq(passwordLink.kind, 'invitation')),
    )
    .leftJoin(
      invitation,
      and(
        eq(invitation.workspaceId, membership.workspaceId),
        eq(invitation.personId, membership.personId),
      ),
    )
    .where(eq(membership.workspaceId, workspaceId))
    .orderBy(asc(person.id));
}

export async function membershipOf(db: Database, workspaceId: number, personId: number) {
  const [row] = await db
    .select({
      role: membership.role,
      name: person.name,
      /** Whether the workspace asks for a second factor, and they have none. */
      closed: sql<boolean>`${workspace.secondFactor} and ${isNull(person.secondFactor)}`,
    })
    .from(membership)
    .innerJoin(person, eq(person.id, membership.personId))
    .innerJoin(workspace, eq(workspace.id, membership.workspaceId))
    .where(and(eq(membership.workspaceId, workspaceId), eq(membership.personId, personId)));
  return row;
}

export function workspacesOf(db: Database, personId: number) {
  return db
    .select({
      ...{ id: workspace.id, name: workspace.name, role: membership.role },
      closed: sql<boolean>`${workspace.secondFactor} and ${isNull(person.secondFactor)}`,
    })
    .from(membership)
    .innerJoin(workspace, eq(workspace.id, membership.workspaceId))
    .innerJoin(person, eq(person.id, membership.personId))
    .where(eq(membership.personId, personId))
    .orderBy(asc(workspace.id));
}

/** Takes a link to choose a password. @returns whether it was there, and held */
export async function takeLink(db: Database, hash: string): Promise<boolean> {
  const { rowCount } = await db
    .delete(passwordLink)
    .where(and(eq(passwordLink.hash, hash), gt(passwordLink.expiresAt, sql`now()`)));
  return (rowCount ?? 0) > 0;
}

export async function dropPasswordLink(db: Database, personId: number): Promise<void> {
  await db.delete(passwordLink).where(eq(passwordLink.personId, personId));
}

export async function invitationOf(db: Database, workspaceId: number, personId: number) {
  const [row] = await db
    .select()
    .from(invitation)
    .where(and(eq(invitation.workspaceId, workspaceId), eq(invitation.personId, personId)));
  return row;
}

/** The roles in some workspaces, by workspace and person. */
export async function rolesOf(
  db: Database,
  workspaceIds: readonly number[],
): Promise<Map<string, Role>> {
  if (workspaceIds.length === 0) return new Map();
  const rows = await db
    .select()
    .from(membership)
    .where(inArray(membership.workspaceId, [...workspaceIds]));
  return new Map(rows.map((row) => [`${row.workspaceId} ${row.personId}`, row.role]));
}
