import {
  inScope,
  monthFrom,
  periodsOf,
  rowTree,
  type Calendar,
  type Grain,
  type Span,
} from '@dravex/core';
import { badRequest } from '../platform/errors.ts';
import type { LoadedPlan } from './plans.ts';

/** @throws HttpProblem 400 for a dimension or member that the workspace does not have */
export function checkFrame(
  { plan, model }: Pick<LoadedPlan, 'plan' | 'model'>,
  rows: readonly string[],
  scope: readonly number[],
  columns = 'time',
): void {
  const dimensionCodes = plan.dimensions.map(({ code }) => code);
  const errors: { path: string; message: string }[] = [];
  for (const code of rows) {
    if (!dimensionCodes.includes(code))
      errors.push({ path: 'rows', message: `There is no dimension "${code}"` });
  }
  if (new Set(rows).size !== rows.length) {
    errors.push({ path: 'rows', message: 'A dimension stands on the rows once' });
  }
  if (columns !== 'time' && !dimensionCodes.includes(columns)) {
    errors.push({ path: 'columns', message: `There is no dimension "${columns}"` });
  }
  for (const member of scope) {
    if (!model.tree.has(member))
      errors.push({ path: 'scope', message: `There is no member ${member}` });
  }
  if (errors.length > 0) throw badRequest(errors[0]?.message ?? '', errors);
}

/**
 * A window, cut to the months of the plan: nothing lies outside, and nobody waits for it.
 * @throws HttpProblem 400 for a window that ends before it starts or lies outside the plan
 */
export function windowOf(
  { first, last }: Calendar,
  { from, to }: { readonly from: string; readonly to: string },
): Span {
  const fail = (message: string): never => {
    throw badRequest(message, [{ path: 'to', message }]);
  };
  if (monthFrom(to) < monthFrom(from)) return fail('The window ends before it starts');
  const span = {
    from: Math.max(monthFrom(from), monthFrom(first)),
    to: Math.min(monthFrom(to), monthFrom(last)),
  };
  return span.from <= span.to
    ? span
    : fail(`${from} to ${to} lies outside the months of the plan, ${first} to ${last}`);
}

/** The most numbers of one answer. */
const MOST_CELLS = 300_000;

/**
 * Refuses a table that nobody could read before it is made.
 * @param measures how many numbers stand in each of its cells
 * @throws HttpProblem 400 that says how many cells there would be
 */
export function mustBeReadable(
  { plan, model }: LoadedPlan,
  rows: readonly string[],
  scope: readonly number[],
  columns: number,
  measures = 1,
): void {
  const held = inScope(model.tree, plan.combinations, scope);
  const count = rowTree(model.tree, plan.combinations, rows, (index) => held.has(index)).length;
  const cells = (count + 1) * (columns + 1) * measures;
  if (cells <= MOST_CELLS) return;
  const size = `${count} rows and ${columns} columns`;
  const times = measures > 1 ? ` of ${measures} measures` : '';
  const message = `This table would have ${size}${times}, ${cells} numbers; at most ${MOST_CELLS} are answered. Take fewer rows, a narrower scope or a shorter window`;
  throw badRequest(message, [{ path: 'rows', message }]);
}

/** How many columns a table has: stretches of time, the topmost members of a dimension, or measures. */
export function columnCount(
  { plan }: LoadedPlan,
  columns: string,
  span: Span,
  grain: Grain,
  measures: number,
): number {
  if (columns === 'time') return periodsOf(span, grain, plan.calendar.fiscalStart).length;
  if (columns === 'measures') return measures;
  const dimension = plan.dimensions.find(({ code }) => code === columns);
  return dimension?.members.filter(({ parent }) => parent === null).length ?? 0;
}

/** The combinations in a scope, by their ids. */
export function combinationsIn(
  { plan, model }: Pick<LoadedPlan, 'plan' | 'model'>,
  scope: readonly number[],
): number[] {
  const held = inScope(model.tree, plan.combinations, scope);
  return [...held].map((index) => plan.combinations[index]?.id ?? -1);
}
