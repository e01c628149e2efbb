import type { KeptAccountScope } from '@dravex/contract';
import { asc, eq } from 'drizzle-orm';
import { memberRows } from '../dimensions/store.ts';
import type { Database } from '../platform/database.ts';
import { accountScope } from './tables.ts';

/** What is said of accounts, by account. */
export async function accountScopes(
  db: Database,
  workspaceId: number,
): Promise<(KeptAccountScope & { readonly id: string })[]> {
  const rows = await db
    .select()
    .from(accountScope)
    .where(eq(accountScope.workspaceId, workspaceId))
    .orderBy(asc(accountScope.account), asc(accountScope.name));
  return rows.map(({ name, scope, account }) => ({ id: name, scope, account }));
}

/** The accounts that members have of their own, as scopes of one member each. */
export async function memberAccounts(
  db: Database,
  workspaceId: number,
): Promise<KeptAccountScope[]> {
  const rows = await memberRows(db, workspaceId);
  return rows.flatMap(({ id, account }) => (account === null ? [] : [{ scope: [id], account }]));
}
