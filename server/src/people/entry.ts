import type { Invited, PasswordLink, Role } from '@dravex/contract';
import { journaled } from '../journal/service.ts';
import type { Connections, Database } from '../platform/database.ts';
import { conflict, HttpProblem, notFound } from '../platform/errors.ts';
import { hashOf, newSecret } from '../platform/secrets.ts';
import type { Actor } from './actor.ts';
import { hashPassword, passwordFits } from './passwords.ts';
import * as store from './store.ts';
import { membershipName } from './thing.ts';

/** How long a link holds by which somebody chooses a password. */
const LINK_HOLDS_MS = 7 * 24 * 60 * 60 * 1000;

/** Makes a link for somebody; an earlier one of theirs holds no longer. Only its hash is kept. */
async function makeLink(
  db: Database,
  personId: number,
  kind: 'invitation' | 'reset',
): Promise<PasswordLink> {
  const { text, hash } = newSecret('link');
  const expiresAt = new Date(Date.now() + LINK_HOLDS_MS);
  await store.setPasswordLink(db, { personId, kind, hash, expiresAt });
  return { token: text, expiresAt: expiresAt.toISOString() };
}

/**
 * Lets somebody into the actor's workspace. Whoever has an account already enters with it; whoever
 * is new chooses a password by a link that only the actor sees, once.
 * @throws HttpProblem 409 when they are in the workspace already
 */
export async function invite(
  connections: Connections,
  actor: Actor,
  { email, name, role }: Invited,
): Promise<{ id: number; link: PasswordLink | null }> {
  const address = email.toLowerCase();
  // A password that nobody knows: it cannot be used to sign in.
  const passwordHash = await hashPassword(newSecret('link').text);
  return journaled(connections, actor, 'people', async (tx, record) => {
    const known = await store.personByEmail(tx, address);
    if (known && (await store.membershipOf(tx, actor.workspaceId, known.id))) {
      throw conflict(`${known.name} can enter this workspace already`, 'email');
    }
    const id = known?.id ?? (await store.insertPerson(tx, { email: address, name, passwordHash }));
    await store.setMembership(tx, actor.workspaceId, id, role);
    const called = known?.name ?? name;
    record.changed('membership', id, null, { role }, membershipName(called));
    record.say(`Invited ${called} as ${role}`);
    return { id, link: known ? null : await makeLink(tx, id, 'invitation') };
  });
}

/** Somebody of the actor's workspace. @throws HttpProblem 404 */
async function memberOf(db: Database, { workspaceId }: Actor, personId: number) {
  const found = await store.membershipOf(db, workspaceId, personId);
  if (!found) throw notFound('such person');
  return found;
}

/** @throws HttpProblem 409 where nobody would be left who plans in the workspace */
async function keepAPlanner(db: Database, { workspaceId }: Actor, personId: number): Promise<void> {
  const people = await store.peopleOf(db, workspaceId);
  if (people.some(({ id, role }) => role === 'planner' && id !== personId)) return;
  throw conflict('A workspace needs a planner; make somebody else a planner first');
}

/** Gives somebody another role. @throws HttpProblem 404, 409 */
export async function changeRole(
  connections: Connections,
  actor: Actor,
  personId: number,
  role: Role,
): Promise<void> {
  await journaled(connections, actor, 'people', async (tx, record) => {
    const before = await memberOf(tx, actor, personId);
    if (role !== 'planner') await keepAPlanner(tx, actor, personId);
    await store.setMembership(tx, actor.workspaceId, personId, role);
    const [was, is] = [{ role: before.role }, { role }];
    record.changed('membership', personId, was, is, membershipName(before.name));
    record.say(`Made ${before.name} a ${role}`);
  });
}

/** Takes somebody out of the workspace; what they did stays. @throws HttpProblem 404, 409 */
export async function remove(
  connections: Connections,
  actor: Actor,
  personId: number,
): Promise<void> {
  await journaled(connections, actor, 'people', async (tx, record) => {
    const before = await memberOf(tx, actor, personId);
    await keepAPlanner(tx, actor, personId);
    await store.dropMembership(tx, actor.workspaceId, personId);
    record.changed(
      'membership',
      personId,
      { role: before.role },
      null,
      membershipName(before.name),
    );
    record.say(`Removed ${before.name}`);
  });
}

/**
 * Makes a link by which somebody chooses a new password. It opens everything that they may see, so
 * whoever makes it has to plan in all of their workspaces.
 * @throws HttpProblem 404, 403
 */
export async function offerReset(
  { db }: Connections,
  actor: Actor,
  personId: number,
): Promise<PasswordLink> {
  const member = await memberOf(db, actor, personId);
  const own = await store.workspacesOf(db, actor.personId);
  const planned = new Set(own.flatMap(({ id, role }) => (role === 'planner' ? [id] : [])));
  const theirs = await store.workspacesOf(db, personId);
  if (theirs.some(({ id }) => !planned.has(id))) {
    throw new HttpProblem(
      403,
      'This is not yours to reset',
      `${member.name} is in other workspaces too; they can change their password under Settings`,
    );
  }
  const invited = (await store.peopleOf(db, actor.workspaceId)).find(({ id }) => id === personId);
  return makeLink(db, personId, invited?.invited === true ? 'invitation' : 'reset');
}

/** Changes one's own password; one's other sessions end. @throws HttpProblem 400 */
export async function changePassword(
  { db }: Connections,
  personId: number,
  sessionId: string,
  { password, next }: { readonly password: string; readonly next: string },
): Promise<void> {
  const person = await store.personById(db, personId);
  if (!(await passwordFits(person?.passwordHash, password))) {
    const message = 'This is not your current password';
    throw new HttpProblem(400, 'This cannot be taken', message, [{ path: 'password', message }]);
  }
  const passwordHash = await hashPassword(next);
  await db.transaction((tx) => store.setPassword(tx, personId, passwordHash, sessionId));
}

/** Whose password a link chooses. @throws HttpProblem 404 for one that was used or is too old */
export async function readLink({ db }: { readonly db: Database }, token: string) {
  const person = await store.personByLink(db, hashOf(token));
  if (!person) {
    throw new HttpProblem(
      404,
      'Not found',
      'This link was used or is too old; ask for a new one in your workspace',
    );
  }
  return person;
}

/** Chooses a password by a link, once. @throws HttpProblem 404 */
export async function choosePassword(
  { db }: Connections,
  token: string,
  password: string,
): Promise<void> {
  const passwordHash = await hashPassword(password);
  await db.transaction(async (tx) => {
    const { id } = await readLink({ db: tx }, token);
    await store.setPassword(tx, id, passwordHash);
  });
}
