import { comparisonAddressSchema } from '@dravex/contract';
import { monthText, type ComparisonRow } from '@dravex/core';
import { Router } from 'express';
import type { Plans } from '../forecast/plans.ts';
import { rowHeadings, rowNames } from '../forecast/table-lines.ts';
import { sendCsv, type CsvLine } from '../platform/csv.ts';
import type { Connections } from '../platform/database.ts';
import { badRequest } from '../platform/errors.ts';
import { actorOf, read } from '../platform/http.ts';
import { comparisonFor } from './service.ts';

/** Actual against plan: `/api/workspaces/:workspaceId/comparison`, and the same as a file. */
export function comparisonRoutes(connections: Connections, plans: Plans): Router {
  const router = Router();

  router.get('/comparison', async (request, response) => {
    const address = read(comparisonAddressSchema, request.query);
    const { comparison } = await comparisonFor(connections, plans, actorOf(response), address);
    response.json(comparison);
  });

  router.get('/comparison.csv', async (request, response) => {
    const address = read(comparisonAddressSchema, request.query);
    const { comparison, loaded } = await comparisonFor(
      connections,
      plans,
      actorOf(response),
      address,
    );
    if (!comparison.span || !comparison.total) {
      throw badRequest('No month of this window is closed, so there is nothing to compare');
    }
    const { from, to } = comparison.span;
    const period = `${monthText(from)} to ${monthText(to)}`;
    const figures = (row: ComparisonRow): CsvLine => [
      period,
      row.actual.value,
      row.plan.value,
      row.variance?.amount ?? null,
      row.variance?.percent ?? null,
      row.variance?.judgement ?? null,
    ];
    const lines: CsvLine[] = [
      [
        ...rowHeadings(loaded.plan, address.rows),
        'Period',
        'Actual',
        'Budget',
        'Variance',
        'Variance as a fraction',
        'Judgement',
      ],
      ...comparison.rows.map((row) => [
        ...rowNames(loaded.model.tree, address.rows, row.scope),
        ...figures(row),
      ]),
      [
        ...address.rows.map((_, place) => (place === 0 ? 'Total' : '')),
        ...figures(comparison.total),
      ],
    ];
    sendCsv(response, `comparison-${monthText(from)}-${monthText(to)}.csv`, lines);
  });
  return router;
}
