/** Secrets of tokens, saved views and links: only their hashes are kept. */
import { createHash, randomBytes } from 'node:crypto';

/** How many characters of a secret are shown to tell it apart. */
const SHOWN = 10;

export interface Secret {
  readonly text: string;
  readonly start: string;
  readonly hash: string;
}

/** 256 random bits: nobody guesses them, so a plain hash keeps them well. */
export function newSecret(prefix: 'drx' | 'view' | 'link'): Secret {
  const text = `${prefix}_${randomBytes(32).toString('base64url')}`;
  return { text, start: text.slice(0, SHOWN), hash: hashOf(text) };
}

export function hashOf(text: string): string {
  return createHash('sha256').update(text).digest('hex');
}
