import type {
  EntryRules,
  NewPerson,
  Session,
  signInSchema,
  WorkspacePerson,
} from '@dravex/contract';
import type { z } from 'zod';
import { HttpProblem, conflict, forbidden } from '../platform/errors.ts';
import type { Connections, Database } from '../platform/database.ts';
import type { Sealer } from '../platform/sealer.ts';
import { setSecondFactor, workspaceById } from '../workspaces/store.ts';
import type { Actor } from './actor.ts';
import { hashPassword, mustBeHard, passwordFits } from './passwords.ts';
import { takeCode, type ByFactor } from './second-factor.ts';
import * as store from './store.ts';

type SignIn = z.output<typeof signInSchema>;

/** One message for a wrong address and a wrong password, so that neither tells on the other. */
export function wrongPassword(): HttpProblem {
  return new HttpProblem(
    401,
    'Not signed in',
    'This e-mail address and password do not belong together',
  );
}

/** What people need besides the database. */
export interface EntrySettings {
  /** Seals the secrets of second factors. */
  readonly sealer: Sealer;
  readonly makeWorkspaces: 'owners' | 'everybody';
}

/** Who signs in, and by what. */
export interface Identified {
  readonly personId: number;
  readonly by: 'password' | ByFactor;
}

/**
 * Who signs in with these.
 * @throws HttpProblem 401 for a wrong password; with the path `code` where a code is needed as well
 */
export async function identify(
  { db }: Connections,
  { sealer }: EntrySettings,
  { email, password, code }: SignIn,
): Promise<Identified> {
  const person = await store.personByEmail(db, email.toLowerCase());
  if (!(await passwordFits(person?.passwordHash, password)) || !person) throw wrongPassword();
  const { id, secondFactor } = person;
  if (secondFactor === null) return { personId: id, by: 'password' };
  if (code === undefined || code === '') {
    const message = 'Enter the code that your authenticator shows';
    throw new HttpProblem(401, 'A code is needed', message, [{ path: 'code', message }]);
  }
  return { personId: id, by: await takeCode(db, sealer, { id, secondFactor }, code) };
}

/** Whether somebody may make workspaces here. */
export async function mayMakeWorkspaces(
  { db }: { readonly db: Database },
  { makeWorkspaces }: Pick<EntrySettings, 'makeWorkspaces'>,
  personId: number,
): Promise<boolean> {
  if (makeWorkspaces === 'everybody') return true;
  const person = await store.personById(db, personId);
  if (person?.makesWorkspaces) return true;
  return (await store.workspacesOf(db, personId)).some(({ role }) => role === 'owner');
}

/** @throws HttpProblem 403 for who may make no workspaces here */
export async function mustMakeWorkspaces(
  connections: { readonly db: Database },
  settings: Pick<EntrySettings, 'makeWorkspaces'>,
  personId: number,
): Promise<void> {
  if (await mayMakeWorkspaces(connections, settings, personId)) return;
  throw forbidden('Only owners of a workspace make new ones here; ask one of yours');
}

/** The signed-in person with their workspaces. @throws HttpProblem 401 when the person is gone */
export async function describeSession(
  { db }: Connections,
  settings: EntrySettings,
  personId: number,
): Promise<Omit<Session, 'csrfToken'>> {
  const person = await store.personById(db, personId);
  if (!person) throw wrongPassword();
  await store.dropInvitations(db, personId);
  return {
    person: { id: person.id, name: person.name, email: person.email },
    layout: person.layout,
    preferences: person.preferences,
    secondFactor: person.secondFactor !== null,
    makesWorkspaces: await mayMakeWorkspaces({ db }, settings, personId),
    workspaces: await store.workspacesOf(db, personId),
  };
}

/** Who owns a workspace has to be able to enter it. */
export async function readEntryRules(
  { db }: Connections,
  { workspaceId }: Actor,
): Promise<EntryRules> {
  const workspace = await workspaceById(db, workspaceId);
  return { secondFactor: workspace?.secondFactor ?? false };
}

/**
 * Says whether whoever enters needs a second factor.
 * @throws HttpProblem 409 for an owner who has none and would shut themselves out
 */
export async function setEntryRules(
  { db }: Connections,
  { workspaceId, personId }: Actor,
  { secondFactor }: EntryRules,
): Promise<void> {
  const person = await store.personById(db, personId);
  if (secondFactor && person?.secondFactor === null) {
    throw conflict('Set up a second factor of your own first; you could not enter any more');
  }
  await setSecondFactor(db, workspaceId, secondFactor);
}

/** The actor for a workspace, or `undefined` for somebody who is not in it. */
export async function actorIn(
  { db }: Connections,
  workspaceId: number,
  personId: number,
): Promise<Actor | undefined> {
  const membership = await store.membershipOf(db, workspaceId, personId);
  if (membership?.closed) {
    throw new HttpProblem(
      403,
      'A second factor is needed',
      'This workspace asks for a second factor. Set one up under your own settings, then come back',
    );
  }
  return membership && { personId, workspaceId, name: membership.name, role: membership.role };
}

/**
 * Creates somebody who can sign in but is in no workspace yet, and may make some: the first person
 * comes from the command line.
 */
export async function createPerson(
  { db }: { readonly db: Database },
  input: Omit<NewPerson, 'role'>,
): Promise<number> {
  const email = input.email.toLowerCase();
  if (await store.personByEmail(db, email)) {
    throw conflict(`Somebody with the address ${email} is there already`, 'email');
  }
  mustBeHard(input.password, input);
  const passwordHash = await hashPassword(input.password);
  return store.insertPerson(db, { email, name: input.name, passwordHash, makesWorkspaces: true });
}

export function listPeople(
  { db }: Connections,
  { workspaceId }: Actor,
): Promise<WorkspacePerson[]> {
  return store.peopleOf(db, workspaceId);
}
