import { actualsOperations, closingOperations, factOperations } from '@dravex/contract';
import {
  MEASURES,
  monthText,
  originOf,
  versionIn,
  type Grain,
  type MeasuredCode,
  type Source,
  type Span,
} from '@dravex/core';
import type { usePlan } from '../plan/use-plan.ts';

type PlanStore = ReturnType<typeof usePlan>;

/** Brings in the forecasts of closed months as they were kept, where a source shows them. */
async function loadKept(plan: PlanStore, source: Source): Promise<void> {
  const origin = originOf(source);
  if (origin.kind !== 'forecast' || !origin.kept || (await plan.compute().hasKept())) return;
  await plan.compute().setKept(await plan.ask(closingOperations.readKeptMonths, {}));
}

/** Brings in what a table of a source needs beside the plan. */
export async function loadKnown(
  plan: PlanStore,
  source: Source,
  query: {
    readonly grain: Grain;
    readonly span: Span;
    readonly measures?: readonly MeasuredCode[];
  },
  books: boolean,
): Promise<void> {
  await plan.loadSource(source);
  await loadKept(plan, source);
  if (versionIn(source) === undefined) await loadWeeks(plan, query, books);
  await loadRecorded(plan, source, query.measures ?? []);
}

/** Brings in how subscribers moved in closed months, where the forecast shows subscriptions. */
export async function loadRecorded(
  plan: PlanStore,
  source: Source,
  measures: readonly MeasuredCode[],
): Promise<void> {
  const subscribed = measures.some((code) => MEASURES[code].making.kind === 'subscription');
  if (!subscribed || source.kind !== 'forecast' || (await plan.compute().hasRecorded())) return;
  await plan.compute().setRecorded(await plan.ask(factOperations.readRecordedMonths, {}));
}

/** Brings in what was sold by week of some months, where a table is read by week. */
async function loadWeeks(
  plan: PlanStore,
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
