import type { NewPerson, Session, WorkspacePerson } from '@dravex/contract';
import { HttpProblem, conflict } from '../platform/errors.ts';
import { journaled } from '../journal/service.ts';
import type { Connections, Database } from '../platform/database.ts';
import { mustOwn, type Actor } from './actor.ts';
import { hashPassword, passwordFits } from './passwords.ts';
import * as store from './store.ts';
import { membershipName } from './thing.ts';

/** One message for a wrong address and a wrong password, so that neither tells on the other. */
export function wrongPassword(): HttpProblem {
  return new HttpProblem(
    401,
    'Not signed in',
    'This e-mail address and password do not belong together',
  );
}

/** Who signs in with these; @throws HttpProblem 401 */
export async function identify(
  { db }: Connections,
  { email, password }: { email: string; password: string },
): Promise<number> {
  const person = await store.personByEmail(db, email.toLowerCase());
  if (!(await passwordFits(person?.passwordHash, password)) || !person) throw wrongPassword();
  return person.id;
}

/** The signed-in person with their workspaces. @throws HttpProblem 401 when the person is gone */
export async function describeSession(
  { db }: Connections,
  personId: number,
): Promise<Omit<Session, 'csrfToken'>> {
  const person = await store.personById(db, personId);
  if (!person) throw wrongPassword();
  return {
    person: { id: person.id, name: person.name, email: person.email },
    layout: person.layout,
    preferences: person.preferences,
    workspaces: await store.workspacesOf(db, personId),
  };
}

/** The actor for a workspace, or `undefined` for somebody who is not in it. */
export async function actorIn(
  { db }: Connections,
  workspaceId: number,
  personId: number,
): Promise<Actor | undefined> {
  const membership = await store.membershipOf(db, workspaceId, personId);
  return membership && { personId, workspaceId, name: membership.name, role: membership.role };
}

/** Creates somebody who can sign in but is in no workspace yet; the first one comes from the command line. */
export async function createPerson(
  { db }: { readonly db: Database },
  input: Omit<NewPerson, 'role'>,
): Promise<number> {
  const email = input.email.toLowerCase();
  if (await store.personByEmail(db, email)) {
    throw conflict(`Somebody with the address ${email} is there already`, 'email');
  }
  const passwordHash = await hashPassword(input.password);
  return store.insertPerson(db, { email, name: input.name, passwordHash });
}

export function listPeople(
  { db }: Connections,
  { workspaceId }: Actor,
): Promise<WorkspacePerson[]> {
  return store.peopleOf(db, workspaceId);
}

/** Brings a new person into the actor's workspace. */
export async function addPerson(
  connections: Connections,
  actor: Actor,
  input: NewPerson,
): Promise<number> {
  return journaled(
    connections,
    actor,
    'people',
    async (tx, record) => {
      const id = await createPerson({ db: tx }, input);
      await store.setMembership(tx, actor.workspaceId, id, input.role);
      record.changed('membership', id, null, { role: input.role }, membershipName(input.name));
      record.say(`Added ${input.name} as ${input.role}`);
      return id;
    },
    { may: mustOwn },
  );
}
