import { sql } from 'drizzle-orm';
import type { Actor } from '../people/actor.ts';
import type { Connections } from '../platform/database.ts';
import { PROGRESS_CHANNEL } from './channels.ts';

/** Tells how far a write is, from 0 to 1. */
export type TellShare = (share: number) => void;

/** A write that is done sooner tells nothing; a longer one so often. */
const EVERY_MS = 150;

/**
 * Tells whoever sent a long write how far it is, while it is under way: on a connection of its own,
 * since a transaction's notices are heard when it ends. What cannot be told holds nothing up.
 */
export function tellingShare(
  { db }: Connections,
  { workspaceId, personId, requestKey }: Actor,
): TellShare {
  let told = Date.now();
  return (share) => {
    if (!requestKey || Date.now() - told < EVERY_MS) return;
    told = Date.now();
    const progress = { workspaceId, personId, key: requestKey.key, share };
    db.execute(sql`select pg_notify(${PROGRESS_CHANNEL}, ${JSON.stringify(progress)})`).catch(
      () => undefined,
    );
  };
}
