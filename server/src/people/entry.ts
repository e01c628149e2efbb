import {
  holdsPart,
  type Invited,
  type NewPerson,
  type PasswordLink,
  type Role,
} from '@dravex/contract';
import { journaled } from '../journal/service.ts';
import type { Connections, Database } from '../platform/database.ts';
import { badRequest, conflict, HttpProblem, notFound } from '../platform/errors.ts';
import { hashOf, newSecret } from '../platform/secrets.ts';
import { mustOwn, type Actor } from './actor.ts';
import { hashPassword, mustBeHard, passwordFits } from './passwords.ts';
import { keepAnOwner } from './owners.ts';
import * as store from './store.ts';
import type { person as personTable } from './tables.ts';
import { membershipCells, membershipName } from './thing.ts';

type PersonRow = typeof personTable.$inferSelect;

/** How long a link holds by which somebody chooses a password. */
const LINK_HOLDS_MS = 60 * 60 * 1000;

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

/** Somebody who is let in: with a password that is chosen for them, or one that they choose. */
interface LetIn extends Invited {
  readonly password?: string;
}

/**
 * Lets somebody into the actor's workspace. The answer is the same whether they have an account
 * already or not: what is done elsewhere is nobody's business here. Whoever is new chooses a
 * password by the link; whoever has an account confirms the invitation by it with the one they have.
 * @throws HttpProblem 409 when they are in the workspace already
 */
async function letIn(
  connections: Connections,
  actor: Actor,
  { email, name, role, parts = [], password }: LetIn,
): Promise<{ id: number; link: PasswordLink }> {
  const address = email.toLowerCase();
  if (password !== undefined) mustBeHard(password, { name, email: address });
  // Without one, a password that nobody knows: it cannot be used to sign in.
  const passwordHash = await hashPassword(password ?? newSecret('link').text);
  return journaled(
    connections,
    actor,
    'people',
    async (tx, record) => {
      const known = await store.personByEmail(tx, address);
      if (known && (await store.membershipOf(tx, actor.workspaceId, known.id))) {
        throw conflict('Somebody with this address can enter this workspace already', 'email');
      }
      const id =
        known?.id ?? (await store.insertPerson(tx, { email: address, name, passwordHash }));
      const held = await partsFor(tx, actor, role, parts);
      await store.setMembership(tx, actor.workspaceId, id, role);
      await store.setParts(tx, actor.workspaceId, id, held);
      record.changed('membership', id, null, membershipCells(role, held), membershipName(name));
      record.say(`${password === undefined ? 'Invited' : 'Added'} ${name} as ${role}`);
      if (!known) {
        const link = await makeLink(tx, id, 'invitation');
        // With a password of their own they need no link.
        if (password !== undefined) await store.dropPasswordLink(tx, id);
        return { id, link };
      }
      const { text, hash } = newSecret('link');
      const expiresAt = new Date(Date.now() + LINK_HOLDS_MS);
      const { workspaceId } = actor;
      await store.setInvitation(tx, { workspaceId, personId: id, name, hash, expiresAt });
      return { id, link: { token: text, expiresAt: expiresAt.toISOString() } };
    },
    OWN,
  );
}

/** Lets somebody in who chooses a password by a link that only the actor sees, once. */
export function invite(
  connections: Connections,
  actor: Actor,
  input: Invited,
): Promise<{ id: number; link: PasswordLink }> {
  return letIn(connections, actor, input);
}

/** Lets somebody in with a password that the actor chose. */
export async function addPerson(
  connections: Connections,
  actor: Actor,
  input: NewPerson,
): Promise<number> {
  return (await letIn(connections, actor, input)).id;
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

/** @throws HttpProblem 403 unless the actor owns all workspaces of somebody: it opens all of them */
async function mustOwnAllOf(
  db: Database,
  actor: Actor,
  personId: number,
  name: string,
): Promise<void> {
  const own = await store.workspacesOf(db, actor.personId);
  const owned = new Set(own.flatMap(({ id, role }) => (role === 'owner' ? [id] : [])));
  const theirs = await store.workspacesOf(db, personId);
  if (theirs.every(({ id }) => owned.has(id))) return;
  throw new HttpProblem(
    403,
    'This is not yours to reset',
    `${name} can change this under their own settings`,
  );
}

/**
 * Makes a link by which somebody chooses a new password. It opens everything that they may see, so
 * whoever makes it has to own all of their workspaces. Somebody with an account who was invited
 * gets a new link to confirm that.
 * @throws HttpProblem 404, 403
 */
export async function offerReset(
  { db }: Connections,
  actor: Actor,
  personId: number,
): Promise<PasswordLink> {
  await memberOf(db, actor, personId);
  const member = (await store.peopleOf(db, actor.workspaceId)).find(({ id }) => id === personId);
  const link = await renewedInvitation(db, actor, personId);
  if (link) return link;
  await mustOwnAllOf(db, actor, personId, member?.name ?? '');
  return makeLink(db, personId, member?.invited === true ? 'invitation' : 'reset');
}

async function renewedInvitation(
  db: Database,
  { workspaceId }: Actor,
  personId: number,
): Promise<PasswordLink | undefined> {
  const before = await store.invitationOf(db, workspaceId, personId);
  if (!before) return undefined;
  const { text, hash } = newSecret('link');
  const expiresAt = new Date(Date.now() + LINK_HOLDS_MS);
  await store.setInvitation(db, { ...before, hash, expiresAt });
  return { token: text, expiresAt: expiresAt.toISOString() };
}

/** Takes away the second factor of somebody who lost it. @throws HttpProblem 404, 403, 409 */
export async function takeFactor(
  { db }: Connections,
  actor: Actor,
  personId: number,
): Promise<string> {
  const { name } = await memberOf(db, actor, personId);
  await mustOwnAllOf(db, actor, personId, name);
  const done = await db.transaction((tx) => store.dropFactor(tx, personId));
  if (!done) throw conflict(`${name} has no second factor`);
  return name;
}

/** @throws HttpProblem 400 unless it is one's own password */
export async function mustFit(
  { db }: Connections,
  personId: number,
  password: string,
): Promise<PersonRow> {
  const person = await store.personById(db, personId);
  if (!(await passwordFits(person?.passwordHash, password)) || !person) {
    const message = 'This is not your current password';
    throw new HttpProblem(400, 'This cannot be accepted', message, [{ path: 'password', message }]);
  }
  return person;
}

/** Changes one's own password; one's other sessions end. @throws HttpProblem 400 */
export async function changePassword(
  connections: Connections,
  personId: number,
  sessionId: string,
  { password, next }: { readonly password: string; readonly next: string },
): Promise<void> {
  const person = await mustFit(connections, personId, password);
  mustBeHard(next, person, 'next');
  const passwordHash = await hashPassword(next);
  await connections.db.transaction((tx) =>
    store.setPassword(tx, personId, passwordHash, sessionId),
  );
}

const oldLink = (): HttpProblem =>
  new HttpProblem(
    404,
    'Not found',
    'This link was used or is too old; ask for a new one in your workspace',
  );

/** Whose link it is. @throws HttpProblem 404 for one that was used or is too old */
export async function readLink({ db }: { readonly db: Database }, token: string) {
  const hash = hashOf(token);
  const person = (await store.personByLink(db, hash)) ?? (await store.personByInvitation(db, hash));
  if (!person) throw oldLink();
  return person;
}

/**
 * Chooses a password by a link, once; whoever has an account confirms an invitation with theirs.
 * @returns whose it is
 * @throws HttpProblem 404, 400
 */
export async function choosePassword(
  { db }: Connections,
  token: string,
  password: string,
): Promise<number> {
  const hash = hashOf(token);
  const invited = await store.personByInvitation(db, hash);
  if (invited) {
    if (!(await passwordFits(invited.passwordHash, password))) {
      const message =
        'This password cannot be used. If you have signed in to Dravex before, enter the password that you have';
      throw badRequest(message, [{ path: 'password', message }]);
    }
    await store.dropInvitations(db, invited.id);
    return invited.id;
  }
  const person = await store.personByLink(db, hash);
  if (!person) throw oldLink();
  mustBeHard(password, person);
  const passwordHash = await hashPassword(password);
  return db.transaction(async (tx) => {
    // Taken by whoever is first: a link works once.
    if (!(await store.takeLink(tx, hash))) throw oldLink();
    await store.setPassword(tx, person.id, passwordHash);
    return person.id;
  });
}
