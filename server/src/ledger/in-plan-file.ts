import { randomUUID } from 'node:crypto';
import type { FilePart } from '../journal/file-part.ts';
import { putNamed } from '../journal/named.ts';
import { accountScopes } from './store.ts';
import { ACCOUNT_SCOPE } from './thing.ts';

/** On which accounts revenue is booked. */
export const accountScopesInPlanFile: FilePart = {
  async give(db, workspaceId) {
    const kept = await accountScopes(db, workspaceId);
    return { accountScopes: kept.map(({ scope, account }) => ({ scope, account })) };
  },
  async take({ tx, workspaceId, personId, file, members }) {
    for (const { scope, account } of file.accountScopes) {
      const cells = { scope: members(scope), account };
      await putNamed(tx, ACCOUNT_SCOPE, { workspaceId, personId }, randomUUID(), cells);
    }
  },
};
