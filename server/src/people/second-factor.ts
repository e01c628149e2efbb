/**
 * A second factor by codes of the half minute (RFC 6238), and recovery codes for whoever lost it.
 * The secret is kept sealed, codes for recovery as hashes; each code is taken once.
 */
import { randomBytes } from 'node:crypto';
import { Secret, TOTP } from 'otpauth';
import type { Connections, Database } from '../platform/database.ts';
import { badRequest, type HttpProblem } from '../platform/errors.ts';
import type { Sealer } from '../platform/sealer.ts';
import { hashOf } from '../platform/secrets.ts';
import * as store from './store.ts';

const ISSUER = 'Dravex';
const SECRET_BYTES = 20;
const RECOVERY_CODES = 10;
const STEP_SECONDS = 30;
/** A clock that goes wrong by so many steps is forgiven. */
const WINDOW = 1;

const factorOf = (secret: string, email: string): TOTP =>
  new TOTP({
    issuer: ISSUER,
    label: email,
    secret: Secret.fromBase32(secret),
    period: STEP_SECONDS,
  });

const ownerOf = (personId: number): string => `person ${personId}`;

/** A new secret; nothing is kept of it yet. */
export function newFactor(email: string): { secret: string; uri: string } {
  const secret = new Secret({ size: SECRET_BYTES }).base32;
  return { secret, uri: factorOf(secret, email).toString() };
}

/** `7KQ2-M4XD-9TPA`: without letters and digits that are taken for each other. */
function newRecoveryCode(): string {
  const signs = '23456789ABCDEFGHJKMNPQRSTVWXYZ';
  const code = [...randomBytes(12)].map((byte) => signs[byte % signs.length]).join('');
  return code.replaceAll(/(.{4})(?=.)/g, '$1-');
}

const plain = (code: string): string => code.toUpperCase().replaceAll(/[^0-9A-Z]/g, '');

/** The step whose code it is; nothing for a wrong one. */
function stepOf(secret: string, code: string, now = Date.now()): number | undefined {
  const token = code.replaceAll(/\s/g, '');
  const delta = factorOf(secret, '').validate({ token, window: WINDOW, timestamp: now });
  return delta === null ? undefined : Math.floor(now / 1000 / STEP_SECONDS) + delta;
}

const wrongCode = (): HttpProblem => {
  const message = 'This code is not right, or was used already; wait for the next one';
  return badRequest(message, [{ path: 'code', message }]);
};

/**
 * Keeps a factor once a code of it is right.
 * @returns recovery codes, to be shown once
 * @throws HttpProblem 400
 */
export async function confirmFactor(
  { db }: Connections,
  sealer: Sealer,
  personId: number,
  secret: string,
  code: string,
): Promise<string[]> {
  const step = stepOf(secret, code);
  if (step === undefined) throw wrongCode();
  const codes = Array.from({ length: RECOVERY_CODES }, newRecoveryCode);
  await db.transaction(async (tx) => {
    await store.setFactor(tx, personId, sealer.seal(secret, ownerOf(personId)), step);
    await store.setRecoveryCodes(
      tx,
      personId,
      codes.map((one) => hashOf(plain(one))),
    );
  });
  return codes;
}

/** By what somebody with a factor came in. */
export type ByFactor = 'code' | 'recovery';

/**
 * Sees that a code is right, and takes it: it is right once.
 * @throws HttpProblem 400
 */
export async function takeCode(
  db: Database,
  sealer: Sealer,
  { id, secondFactor }: { readonly id: number; readonly secondFactor: string },
  code: string,
): Promise<ByFactor> {
  const secret = sealer.open(secondFactor, ownerOf(id));
  const step = secret === undefined ? undefined : stepOf(secret, code);
  if (step !== undefined && (await store.takeStep(db, id, step))) return 'code';
  if (await store.takeRecoveryCode(db, id, hashOf(plain(code)))) return 'recovery';
  throw wrongCode();
}
