import { keptAccountScopeSchema } from '@dravex/contract';
import { namedThing, type Named } from '../journal/named.ts';
import { accountScope } from './tables.ts';

/** On which account revenue of a scope is booked. */
export const ACCOUNT_SCOPE: Named<'accountScope'> = {
  kind: 'accountScope',
  word: 'account of sales',
  table: accountScope,
  value: keptAccountScopeSchema,
  stamp: (changedBy) => ({ changedBy, changedAt: new Date() }),
};
export const accountScopeThing = namedThing(ACCOUNT_SCOPE);
