import { actualsOperations } from '@dravex/contract';
import { monthText, type Grain, type Span } from '@dravex/core';
import type { usePlan } from '../plan/use-plan.ts';

/** Brings in what was sold by week of some months, where a table is read by week. */
export async function loadWeeks(
  plan: ReturnType<typeof usePlan>,
  { grain, span: { from, to } }: { readonly grain: Grain; readonly span: Span },
  books: boolean,
): Promise<void> {
  if (grain !== 'week' || (await plan.compute().hasWeeks(books, { from, to }))) return;
  const { weeks, before } = await plan.ask(actualsOperations.readSalesWeeks, {
    from: monthText(from),
    to: monthText(to),
    origin: books ? 'books' : 'all',
  });
  await plan.compute().setWeeks(books, { from, to }, { weeks, before });
}
