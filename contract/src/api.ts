import { z } from 'zod';
import { actualsOperations } from './actuals/actuals.ts';
import { summaryOperations } from './actuals/summary.ts';
import { budgetOperations } from './budgets/budgets.ts';
import { closingOperations } from './closing/closing.ts';
import { comparisonOperations } from './comparison/comparison.ts';
import { connectionOperations } from './connections/connections.ts';
import { dimensionOperations } from './dimensions/dimensions.ts';
import { driversOperations } from './drivers/drivers.ts';
import { factOperations } from './facts/facts.ts';
import { forecastOperations } from './forecast/forecast.ts';
import { journalOperations } from './journal/journal.ts';
import { ledgerBudgetOperations } from './ledger/ledger-budget.ts';
import { operations, type Operation } from './operation.ts';
import { peopleOperations, sessionOperations } from './people/people.ts';
import { planFileOperations } from './plan-file/plan-file.ts';
import { reportingOperations } from './reporting/reporting.ts';
import { targetOperations } from './targets/targets.ts';
import { sheetOperations } from './sheets/sheets.ts';
import { threadOperations } from './threads/threads.ts';
import { viewOperations } from './views/views.ts';
import { workspaceOperations } from './workspaces/workspaces.ts';

export const platformOperations = operations({
  readHealth: {
    method: 'get',
    path: '/health',
    summary: 'Whether the server and its database are there',
    access: 'anybody',
    answer: z.object({ status: z.literal('ok') }),
  },
  readDescription: {
    method: 'get',
    path: '/openapi.json',
    summary: 'This description',
    access: 'anybody',
    answer: z.looseObject({ openapi: z.string() }),
  },
});

/** Everything the API does, by room. */
export const API: Readonly<Record<string, Readonly<Record<string, Operation>>>> = {
  platform: platformOperations,
  session: sessionOperations,
  workspaces: workspaceOperations,
  people: peopleOperations,
  dimensions: dimensionOperations,
  actuals: actualsOperations,
  summary: summaryOperations,
  facts: factOperations,
  connections: connectionOperations,
  drivers: driversOperations,
  forecast: forecastOperations,
  comparison: comparisonOperations,
  budgets: budgetOperations,
  closing: closingOperations,
  targets: targetOperations,
  ledger: ledgerBudgetOperations,
  sheets: sheetOperations,
  threads: threadOperations,
  views: viewOperations,
  reporting: reportingOperations,
  journal: journalOperations,
  planFile: planFileOperations,
};
