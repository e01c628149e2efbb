import argon2 from 'argon2';

/** Hashes a password with argon2id and the library's parameters. */
export function hashPassword(password: string): Promise<string> {
  return argon2.hash(password, { type: argon2.argon2id });
}

let decoy: Promise<string> | undefined;

/**
 * Whether a password fits. Without a hash (nobody has that address) a decoy is verified, so that
 * the time the answer takes does not tell whether the address is known.
 */
export async function passwordFits(hash: string | undefined, password: string): Promise<boolean> {
  decoy ??= hashPassword('a password that nobody has');
  const fits = await argon2.verify(hash ?? (await decoy), password);
  return hash !== undefined && fits;
}
