import { ledgerBudgetOperations, type LedgerBudget } from '@dravex/contract';
import type { Response, Router } from 'express';
import { aboutTable, columnName, moneyField } from '../plan/file-numbers.ts';
import type { LoadedPlan, Plans } from '../plan/plans.ts';
import type { CsvField, CsvLine } from '../platform/csv.ts';
import type { Connections } from '../platform/database.ts';
import { sendTable, tableFormat, type TableFormat } from '../platform/table-file.ts';
import { routesOf } from '../routing/routes.ts';
import * as service from './service.ts';

/** The accounts of sales, and versions by account. */
export function ledgerRoutes(connections: Connections, plans: Plans): Router {
  return routesOf(connections, ledgerBudgetOperations, (connections) => ({
    readAccountScopes: ({ actor }) => service.readAccountScopes(connections, actor),
    putAccountScopes: ({ actor, body }) =>
      service.putAccountScopes(connections, plans, actor, body),
    readLedgerBudget: async ({ actor, id, query }) => {
      const found = await service.readLedgerBudget(
        connections,
        plans,
        actor,
        id('versionId'),
        query,
      );
      const { versionName: _, ...budget } = found;
      return budget;
    },
    saveLedgerBudget: async ({ actor, id, query, name, response }) => {
      const format = tableFormat(name('format'));
      const loaded = await plans.current(actor.workspaceId);
      const found = await service.readLedgerBudget(
        connections,
        plans,
        actor,
        id('versionId'),
        query,
      );
      await sendByAccount(response, format, loaded, found, query);
    },
  }));
}

/** One line an account and month, as ledgers read it; then what is on no account, so that nothing is lost. */
async function sendByAccount(
  response: Response,
  format: TableFormat,
  loaded: LoadedPlan,
  { months, accounts, without, unclear, versionName }: LedgerBudget & { versionName: string },
  window: { readonly from: string; readonly to: string },
): Promise<void> {
  const { currency } = loaded.plan;
  const minor = 10 ** currency.minorDigits;
  const money = (value: number | null | undefined): CsvField =>
    value === null || value === undefined ? null : moneyField(value / minor, currency.minorDigits);
  const revenue = columnName('revenue', currency);
  const rest = [
    { name: 'On no account', months: without.months },
    { name: 'On two accounts', months: unclear.months },
  ].filter(({ months: values }) => values.some((value) => value !== 0));
  const lines: CsvLine[] = [
    ['Month', 'Account', 'Account name', `Budget, ${revenue}`, `Books, ${revenue}`],
    ...accounts.flatMap(({ account, name, budget, books }) =>
      months.map((month, at): CsvLine => [
        month,
        account,
        name,
        money(budget[at]),
        money(books[at]),
      ]),
    ),
    ...rest.flatMap(({ name, months: values }) =>
      months.map((month, at): CsvLine => [month, '', name, money(values[at]), null]),
    ),
  ];
  const about = aboutTable(loaded, {
    ...window,
    scope: [],
    what: `${versionName} by account of the ledger`,
  });
  await sendTable(response, format, `budget-by-account-${window.from}-${window.to}`, about, lines);
}
