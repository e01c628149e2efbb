import type { KeptAccountScope, LedgerBudget } from '@dravex/contract';
import {
  budgetByAccount,
  monthFrom,
  monthText,
  narrowestOf,
  reconcile,
  ScopesCross,
  type Scope,
} from '@dravex/core';
import { randomUUID } from 'node:crypto';
import { cellsNow } from '../budgets/store.ts';
import { versionById } from '../budgets/versions.ts';
import { readLedger } from '../facts/service.ts';
import { deleteNamed, putNamed } from '../journal/named.ts';
import { journaled } from '../journal/service.ts';
import { mustPlan, type Actor } from '../people/actor.ts';
import { checkFrame, windowOf } from '../plan/frame.ts';
import type { LoadedPlan, Plans } from '../plan/plans.ts';
import type { Connections, Database } from '../platform/database.ts';
import { badRequest } from '../platform/errors.ts';
import { accountScopes, memberAccounts } from './store.ts';
import { ACCOUNT_SCOPE } from './thing.ts';

/** On which accounts revenue is booked. */
export async function readAccountScopes(
  { db }: Connections,
  { workspaceId }: Actor,
): Promise<{ accounts: KeptAccountScope[] }> {
  const kept = await accountScopes(db, workspaceId);
  return { accounts: kept.map(({ scope, account }) => ({ scope, account })) };
}

const keyOf = (scope: Scope): string => scope.toSorted((a, b) => a - b).join();

/** What is said here, and of what nothing is said here what members have of their own. */
async function allAccounts(
  db: Database,
  workspaceId: number,
  said: readonly KeptAccountScope[],
): Promise<KeptAccountScope[]> {
  const keys = new Set(said.map(({ scope }) => keyOf(scope)));
  const own = await memberAccounts(db, workspaceId);
  return [...said, ...own.filter(({ scope }) => !keys.has(keyOf(scope)))];
}

/** @throws HttpProblem 400 where two of them hold the same sales, and neither is the narrower one */
function checkClear({ plan, model }: LoadedPlan, accounts: readonly KeptAccountScope[]): void {
  for (const { members } of plan.combinations) {
    try {
      narrowestOf(model.tree, members, accounts);
    } catch (error) {
      if (!(error instanceof ScopesCross)) throw error;
      const [one, other] = error.places.map((place) =>
        model.tree.label(accounts[place]?.scope ?? []),
      );
      const message = `${one} and ${other} both hold ${model.tree.label(members)}; add a line for both together, or leave one out`;
      throw badRequest(message, [{ path: `accounts.${error.places[1]}.scope`, message }]);
    }
  }
}

/** Says anew on which accounts revenue is booked, as one act. @throws HttpProblem 400 */
export async function putAccountScopes(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  { accounts }: { readonly accounts: readonly KeptAccountScope[] },
): Promise<{ accounts: KeptAccountScope[] }> {
  mustPlan(actor);
  const { workspaceId } = actor;
  const loaded = await plans.current(workspaceId);
  for (const { scope } of accounts) checkFrame(loaded, [], scope);
  checkClear(loaded, await allAccounts(connections.db, workspaceId, accounts));
  await journaled(connections, actor, 'budget', async (tx, record) => {
    const before = new Map(
      (await accountScopes(tx, workspaceId)).map((one) => [keyOf(one.scope), one]),
    );
    const wanted = new Set(accounts.map(({ scope }) => keyOf(scope)));
    const named = (scope: Scope) => () => ({
      label: `Account of ${scope.length === 0 ? 'all sales' : loaded.model.tree.label(scope)}`,
      unit: 'text' as const,
    });
    for (const [key, { id, scope, account }] of before) {
      if (wanted.has(key)) continue;
      await deleteNamed(tx, ACCOUNT_SCOPE, workspaceId, id);
      record.changed('accountScope', id, { scope, account }, null, named(scope));
    }
    for (const { scope, account } of accounts) {
      const was = before.get(keyOf(scope));
      if (was?.account === account) continue;
      const id = was?.id ?? randomUUID();
      const next = { scope: scope.toSorted((a, b) => a - b), account };
      await putNamed(tx, ACCOUNT_SCOPE, actor, id, next);
      const old = was ? { scope: was.scope, account: was.account } : null;
      record.changed('accountScope', id, old, next, named(scope));
    }
    record.say('Changed the accounts of sales');
    return {};
  });
  return readAccountScopes(connections, actor);
}

/** So many of the lines without an account are named. */
const NAMED = 12;

/** A version by account beside the books. @throws HttpProblem 400, 404 */
export async function readLedgerBudget(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  versionId: number,
  window: { readonly from: string; readonly to: string },
): Promise<LedgerBudget & { readonly versionName: string }> {
  const { db } = connections;
  const { workspaceId } = actor;
  const { plan, model } = await plans.current(workspaceId);
  const span = windowOf(plan.calendar, window);
  const { name: versionName } = await versionById(db, workspaceId, versionId);
  const [cells, said, ledger] = await Promise.all([
    cellsNow(db, workspaceId, versionId, span),
    accountScopes(db, workspaceId),
    readLedger(connections, actor, window),
  ]);
  const accounts = await allAccounts(db, workspaceId, said);
  const members = new Map(plan.combinations.map((one) => [one.id, one.members]));
  const membersOf = (combination: number): Scope => members.get(combination) ?? [];
  const budget = budgetByAccount(model.tree, membersOf, cells, accounts, span);
  const months = Array.from({ length: span.to - span.from + 1 }, (_, at) =>
    monthText(span.from + at),
  );
  const placeOf = new Map(ledger.months.map((month, at) => [month, at]));
  const inWindow = (values: readonly number[]): number[] =>
    months.map((month) => values[placeOf.get(month) ?? -1] ?? 0);
  const closed = monthFrom(plan.calendar.closedThrough);
  const booked = months.map(
    (month, at) =>
      span.from + at <= closed &&
      ledger.accounts.some(({ values }) => (values[placeOf.get(month) ?? -1] ?? 0) !== 0),
  );
  const revenue = ledger.accounts.filter(
    ({ kind, values }) => kind === 'revenue' && values.some((value) => value !== 0),
  );
  const nameOf = new Map(ledger.accounts.map(({ code, name }) => [code, name]));
  const lines = (values: readonly number[], of: readonly number[]) => ({
    months: [...values],
    total: values.reduce((sum, value) => sum + value, 0),
    lines: of.length,
    members: of.slice(0, NAMED).map((id) => [...membersOf(id)]),
  });
  return {
    versionName,
    months,
    booked,
    accounts: reconcile(
      budget.accounts,
      revenue.map(({ code, values }) => ({ account: code, months: inWindow(values) })),
      booked,
    ).map((one) => ({
      ...one,
      budget: [...one.budget],
      books: [...one.books],
      name: nameOf.get(one.account) ?? one.account,
    })),
    without: lines(budget.without, budget.withoutLines),
    unclear: lines(budget.unclear, budget.unclearLines),
  };
}
