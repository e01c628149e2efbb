/** Passwords: which are taken, how they are kept, and how they are compared. */
import { availableParallelism } from 'node:os';
import { dictionary } from '@zxcvbn-ts/language-common';
import argon2 from 'argon2';
import { badRequest, HttpProblem } from '../platform/errors.ts';
import { TookTooLong, Turns } from '../platform/turns.ts';

/** argon2id as OWASP has it for many sign-ins at once: 19 MB and two rounds each. */
const COST = { type: argon2.argon2id, memoryCost: 19_456, timeCost: 2, parallelism: 1 } as const;

/** So many passwords are hashed at once; each takes a core, and memory. */
const AT_ONCE = new Turns(Math.max(1, availableParallelism() - 1));
/** Nobody waits longer for others' sign-ins. */
const PATIENCE_MS = 5000;

/** @throws HttpProblem 429 when so many sign in at once that it would take too long */
async function inTurn<T>(work: () => Promise<T>): Promise<T> {
  try {
    return await AT_ONCE.take(work, PATIENCE_MS);
  } catch (error) {
    if (!(error instanceof TookTooLong)) throw error;
    throw new HttpProblem(
      429,
      'Too many at once',
      'Many people are signing in at this moment. Try again in a few seconds',
    );
  }
}

/** Hashes a password with argon2id. @throws HttpProblem 429 */
export function hashPassword(password: string): Promise<string> {
  return inTurn(() => argon2.hash(password, COST));
}

let decoy: Promise<string> | undefined;

/**
 * Whether a password fits. Without a hash (nobody has that address) a decoy is verified, so that
 * the time the answer takes does not tell whether the address is known.
 * @throws HttpProblem 429
 */
export function passwordFits(hash: string | undefined, password: string): Promise<boolean> {
  decoy ??= argon2.hash('a password that nobody has', COST);
  const compared = decoy.then((other) => inTurn(() => argon2.verify(hash ?? other, password)));
  return compared.then((fits) => hash !== undefined && fits);
}

let common: Set<string> | undefined;
/** A name is known again in a password from so many letters on. */
const SHORTEST_NAME = 4;

const plain = (text: string): string => text.toLowerCase().replaceAll(/[^\p{L}\p{N}]/gu, '');

/**
 * Refuses passwords that are guessed first: those that many people have (a list that ships), such
 * a one with digits or signs around it, and one's own name or address.
 * @param path where it stands in the request
 * @throws HttpProblem 400
 */
export function mustBeHard(
  password: string,
  { name, email }: { readonly name: string; readonly email: string },
  path = 'password',
): void {
  const refuse = (message: string): never => {
    throw badRequest(message, [{ path, message }]);
  };
  common ??= new Set(dictionary['passwords-common'] as readonly string[]);
  const word = password.toLowerCase();
  const bare = word.replaceAll(/^[^\p{L}]+|[^\p{L}]+$/gu, '');
  if (common.has(word) || common.has(bare) || /^(.{1,3})\1+$/u.test(word)) {
    refuse('Many people have this password, so it is guessed first; choose another one');
  }
  const [local = ''] = email.split('@');
  const own = [...name.split(/\s+/), local, ...local.split(/[._+-]/)].map(plain);
  const rest = plain(password);
  const named = own.find((part) => part.length >= SHORTEST_NAME && rest.includes(part));
  if (named !== undefined && rest.length - named.length < SHORTEST_NAME * 2) {
    refuse('A password with your own name in it is guessed first; choose another one');
  }
}
