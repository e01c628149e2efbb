import type { FactMeasure, Facts, Ledger } from '@dravex/contract';
import { factOverTime, ledgerShares, monthFrom, monthText } from '@dravex/core';
import { journaled } from '../journal/service.ts';
import type { Actor } from '../people/actor.ts';
import { toFirst, type Connections } from '../platform/database.ts';
import { badRequest, notFound } from '../platform/errors.ts';
import * as store from './store.ts';

export interface Window {
  readonly from: string;
  readonly to: string;
}
const MOST_MONTHS = 240;

/** The months of a window in order. @throws HttpProblem 400 for one that ends before it starts */
export function monthsOf({ from, to }: Window): string[] {
  const first = monthFrom(from);
  const count = monthFrom(to) - first + 1;
  if (count < 1 || count > MOST_MONTHS) {
    const message = count < 1 ? 'The window ends before it starts' : 'The window is too long';
    throw badRequest(message, [{ path: 'to', message }]);
  }
  return Array.from({ length: count }, (_, t) => monthText(first + t));
}

/** What was measured, by scope and month. A fact of a wider scope is a row of its own: it counts once. */
export async function readFacts(
  { db }: Pick<Connections, 'db'>,
  { workspaceId }: Pick<Actor, 'workspaceId'>,
  window: Window,
): Promise<Facts> {
  const months = monthsOf(window);
  const [measures, measured] = await Promise.all([
    store.measures(db, workspaceId),
    store.observations(db, workspaceId, toFirst(window.from), toFirst(window.to)),
  ]);
  const natures = new Map(measures.map(({ code, nature }) => [code, nature]));
  const rows = new Map<
    string,
    { measure: string; members: number[]; values: (number | null)[]; total: number | null }
  >();
  for (const { measure, members, month, value } of measured) {
    const key = `${measure} ${members.join()}`;
    const row = rows.get(key) ?? { measure, members, values: months.map(() => null), total: null };
    rows.set(key, row);
    row.values[months.indexOf(month)] = value;
  }
  for (const row of rows.values()) {
    row.total = factOverTime(natures.get(row.measure) ?? 'flow', row.values);
  }
  return {
    months,
    measures: measures.map(({ code, name, unit, nature }) => ({ code, name, unit, nature })),
    rows: [...rows.values()],
  };
}

export async function changeMeasure(
  connections: Connections,
  actor: Actor,
  code: string,
  change: { [P in Exclude<keyof FactMeasure, 'code'>]?: FactMeasure[P] | undefined },
): Promise<void> {
  const { workspaceId } = actor;
  await journaled(connections, actor, 'actuals', async (tx, record) => {
    const keptMeasure = (await store.measures(tx, workspaceId)).find(
      (measure) => measure.code === code,
    );
    if (!keptMeasure) throw notFound('such measure');
    const { name, unit, nature } = keptMeasure;
    const next = {
      name: change.name ?? name,
      unit: change.unit ?? unit,
      nature: change.nature ?? nature,
    };
    await store.setMeasure(tx, workspaceId, code, next);
    record.say(`Changed the measure ${name}`);
    record.changed('measure', code, { name, unit, nature }, next, (cell) => ({
      label: `${name}, ${cell}`,
      unit: 'text',
    }));
    return {};
  });
}

export async function readLedger(
  { db }: Pick<Connections, 'db'>,
  { workspaceId }: Pick<Actor, 'workspaceId'>,
  window: Window,
): Promise<Ledger> {
  const months = monthsOf(window);
  const [accounts, amounts] = await Promise.all([
    store.accounts(db, workspaceId),
    store.ledgerAmounts(db, workspaceId, toFirst(window.from), toFirst(window.to)),
  ]);
  const accountTotals = accounts.map(({ code, name, kind, behaviour }) => {
    const amountsOfAccount = amounts.filter(({ account }) => account === code);
    const raw = months.map(
      (month) => amountsOfAccount.find((one) => one.month === month)?.amount ?? 0,
    );
    return { code, name, kind, behaviour, raw, sum: raw.reduce((all, one) => all + one, 0) };
  });
  const shares = ledgerShares(
    accountTotals.map(({ code, kind, sum }) => ({ account: code, kind, amount: sum })),
  );
  return {
    months,
    accounts: accountTotals.map(({ raw, sum, ...account }, place) => {
      const share = shares[place];
      // One sign for the whole account, so that a correction in a month stays one.
      const sign = share && share.amount !== sum ? -1 : 1;
      return {
        ...account,
        values: raw.map((amount) => (amount === 0 ? 0 : amount * sign)),
        total: share?.amount ?? sum,
        share: share?.share ?? null,
      };
    }),
  };
}

export async function changeAccount(
  connections: Connections,
  actor: Actor,
  code: string,
  change: {
    name?: string | undefined;
    kind?: 'revenue' | 'expense' | undefined;
    behaviour?: 'fixed' | 'variable' | null | undefined;
  },
): Promise<void> {
  const { workspaceId } = actor;
  await journaled(connections, actor, 'actuals', async (tx, record) => {
    const keptAccount = (await store.accounts(tx, workspaceId)).find(
      (account) => account.code === code,
    );
    if (!keptAccount) throw notFound('such account');
    const { name, kind, behaviour } = keptAccount;
    const next = {
      name: change.name ?? name,
      kind: change.kind ?? kind,
      behaviour: change.behaviour === undefined ? behaviour : change.behaviour,
    };
    await store.setAccount(tx, workspaceId, code, next);
    record.say(`Changed the account ${code} ${name}`);
    record.changed('account', code, { name, kind, behaviour }, next, (cell) => ({
      label: `${code} ${name}, ${cell}`,
      unit: 'text',
    }));
    return {};
  });
}
