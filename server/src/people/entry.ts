import { holdsPart, type Invited, type PasswordLink, type Role } from '@dravex/contract';
import { journaled } from '../journal/service.ts';
import type { Connections, Database } from '../platform/database.ts';
import { badRequest, conflict, HttpProblem, notFound } from '../platform/errors.ts';
import { hashOf, newSecret } from '../platform/secrets.ts';
import { mustOwn, type Actor } from './actor.ts';
import { hashPassword, passwordFits } from './passwords.ts';
import { keepAnOwner } from './owners.ts';
import * as store from './store.ts';
import { membershipCells, membershipName } from './thing.ts';

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
  { email, name, role, parts = [] }: Invited,
): Promise<{ id: number; link: PasswordLink | null }> {
  const address = email.toLowerCase();
  // A password that nobody knows: it cannot be used to sign in.
  const passwordHash = await hashPassword(newSecret('link').text);
  return journaled(
    connections,
    actor,
    'people',
    async (tx, record) => {
      const known = await store.personByEmail(tx, address);
      if (known && (await store.membershipOf(tx, actor.workspaceId, known.id))) {
        throw conflict(`${known.name} can enter this workspace already`, 'email');
      }
      const id =
        known?.id ?? (await store.insertPerson(tx, { email: address, name, passwordHash }));
      const held = await partsFor(tx, actor, role, parts);
      await store.setMembership(tx, actor.workspaceId, id, role);
      await store.setParts(tx, actor.workspaceId, id, held);
      const called = known?.name ?? name;
      record.changed('membership', id, null, membershipCells(role, held), membershipName(called));
      record.say(`Invited ${called} as ${role}`);
      return { id, link: known ? null : await makeLink(tx, id, 'invitation') };
    },
    OWN,
  );
}

const OWN = { may: mustOwn };

/**
 * What somebody of a role holds: of other roles than those that have a part, nothing.
 * @throws HttpProblem 400 for a node that is not there
 */
async function partsFor(
  db: Database,
  { workspaceId }: Actor,
  role: Role,
  parts: readonly number[],
): Promise<number[]> {
  if (!holdsPart(role) || parts.length === 0) return [];
  const wanted = [...new Set(parts)].sort((a, b) => a - b);
  const there = await store.nodesThere(db, workspaceId, wanted);
  const place = wanted.findIndex((id) => !there.has(id));
  if (place < 0) return wanted;
  const message = `There is no part ${wanted[place] ?? 0} in the targets`;
  throw badRequest(message, [{ path: 'parts', message }]);
}

/** Somebody of the actor's workspace. @throws HttpProblem 404 */
async function memberOf(db: Database, { workspaceId }: Actor, personId: number) {
  const found = await store.membershipOf(db, workspaceId, personId);
  if (!found) throw notFound('such person');
  return found;
}

/** `a manager`, `an owner`. */
const withArticle = (role: Role): string => `${role === 'owner' ? 'an' : 'a'} ${role}`;

/**
 * Gives somebody another role, or other parts of the targets; those that are left out stay.
 * @throws HttpProblem 400, 404, 409
 */
export async function changeRole(
  connections: Connections,
  actor: Actor,
  personId: number,
  { role, parts }: { readonly role: Role; readonly parts?: readonly number[] | undefined },
): Promise<void> {
  await journaled(
    connections,
    actor,
    'people',
    async (tx, record) => {
      const before = await memberOf(tx, actor, personId);
      if (role !== 'owner') await keepAnOwner(tx, actor.workspaceId, personId);
      const held = await store.partsOf(tx, actor.workspaceId, personId);
      const next = holdsPart(role) && !parts ? held : await partsFor(tx, actor, role, parts ?? []);
      await store.setMembership(tx, actor.workspaceId, personId, role);
      await store.setParts(tx, actor.workspaceId, personId, next);
      const [was, is] = [membershipCells(before.role, held), membershipCells(role, next)];
      record.changed('membership', personId, was, is, membershipName(before.name));
      record.say(
        before.role === role
          ? `Changed the part of ${before.name}`
          : `Made ${before.name} ${withArticle(role)}`,
      );
    },
    OWN,
  );
}

/** Takes somebody out of the workspace; what they did stays. @throws HttpProblem 404, 409 */
export async function remove(
  connections: Connections,
  actor: Actor,
  personId: number,
): Promise<void> {
  await journaled(
    connections,
    actor,
    'people',
    async (tx, record) => {
      const before = await memberOf(tx, actor, personId);
      await keepAnOwner(tx, actor.workspaceId, personId);
      const held = await store.partsOf(tx, actor.workspaceId, personId);
      await store.dropMembership(tx, actor.workspaceId, personId);
      const was = membershipCells(before.role, held);
      record.changed('membership', personId, was, null, membershipName(before.name));
      record.say(`Removed ${before.name}`);
    },
    OWN,
  );
}

/**
 * Makes a link by which somebody chooses a new password. It opens everything that they may see, so
 * whoever makes it has to own all of their workspaces.
 * @throws HttpProblem 404, 403
 */
export async function offerReset(
  { db }: Connections,
  actor: Actor,
  personId: number,
): Promise<PasswordLink> {
  const member = await memberOf(db, actor, personId);
  const own = await store.workspacesOf(db, actor.personId);
  const owned = new Set(own.flatMap(({ id, role }) => (role === 'owner' ? [id] : [])));
  const theirs = await store.workspacesOf(db, personId);
  if (theirs.some(({ id }) => !owned.has(id))) {
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
