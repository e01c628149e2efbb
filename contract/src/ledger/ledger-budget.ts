import { z } from 'zod';
import { idSchema, monthSchema, scopeSchema } from '../common.ts';
import { inOrder, order } from '../forecast/tables.ts';
import { operations } from '../operation.ts';

/** The account on which revenue of a scope is booked; of everything where the scope is empty. */
export const keptAccountScopeSchema = z.strictObject({
  scope: scopeSchema,
  account: z
    .string()
    .trim()
    .min(1, 'name an account')
    .max(60, 'an account has at most 60 characters')
    .refine((text) => !/\p{Cc}/u.test(text), 'an account has no control characters'),
});
export type KeptAccountScope = z.infer<typeof keptAccountScopeSchema>;

/** The most scopes that have an account of their own. */
export const MOST_ACCOUNT_SCOPES = 200;
export const accountScopesSchema = z.strictObject({
  accounts: z
    .array(keptAccountScopeSchema)
    .max(MOST_ACCOUNT_SCOPES)
    .refine(
      (all) =>
        new Set(all.map(({ scope }) => scope.toSorted((a, b) => a - b).join())).size === all.length,
      'the same sales stand here twice; leave one of them out',
    ),
});

const monthsSchema = z.array(z.number());
/** Lines that are on no account: combinations by their members, the first of them. */
const linesSchema = z.object({
  months: monthsSchema,
  total: z.number(),
  lines: z.number(),
  members: z.array(z.array(idSchema)),
});
/** A budget's revenue by account beside the books; money in minor units. */
export const ledgerBudgetSchema = z.object({
  months: z.array(monthSchema),
  /** Which months the books have. */
  booked: z.array(z.boolean()),
  accounts: z.array(
    z.object({
      account: z.string(),
      /** As the books call it; the account itself where they do not have it. */
      name: z.string(),
      /** Null where it is not in the budget, or where the books do not have the month. */
      budget: z.array(z.number().nullable()),
      books: z.array(z.number().nullable()),
      /** Over the months that the books have: what is booked less what was planned. */
      difference: z.number(),
      state: z.enum(['both', 'budgetOnly', 'booksOnly']),
    }),
  ),
  without: linesSchema,
  /** Held by two accounts, of which neither is the narrower. */
  unclear: linesSchema,
});
export type LedgerBudget = z.infer<typeof ledgerBudgetSchema>;

const windowSchema = z.strictObject({ from: monthSchema, to: monthSchema }).refine(inOrder, order);

const workspace = '/workspaces/{workspaceId}';
const version = `${workspace}/versions/{versionId}` as const;

export const ledgerBudgetOperations = operations({
  readAccountScopes: {
    method: 'get',
    path: `${workspace}/account-scopes`,
    summary: 'On which accounts of the ledger revenue is booked',
    access: 'reads',
    answer: accountScopesSchema,
  },
  putAccountScopes: {
    method: 'put',
    path: `${workspace}/account-scopes`,
    summary: 'Says anew on which accounts revenue is booked; the narrowest scope holds',
    access: 'plans',
    body: accountScopesSchema,
    answer: accountScopesSchema,
  },
  readLedgerBudget: {
    method: 'get',
    path: `${version}/ledger`,
    summary: 'A version by account of the ledger beside the books, with how they differ',
    access: 'reads',
    query: windowSchema,
    answer: ledgerBudgetSchema,
  },
  saveLedgerBudget: {
    method: 'get',
    path: `${version}/ledger.{format}`,
    summary: 'A version by account and month as a file for finance',
    access: 'reads',
    query: windowSchema,
    writes: 'text/csv',
  },
});
