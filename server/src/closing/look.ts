/** What the next month needs before it is closed. */
import type { Closing } from '@dravex/contract';
import { closingDay, isOver, lookAtMonth, monthFrom, monthText, type Jump } from '@dravex/core';
import type { Actor } from '../people/actor.ts';
import type { LoadedPlan, Plans } from '../plan/plans.ts';
import { atOneMoment, type Connections } from '../platform/database.ts';
import { notFound } from '../platform/errors.ts';
import { workspaceById } from '../workspaces/store.ts';
import * as store from './store.ts';

/** The next month to close, or undefined where the horizon ends. */
function nextMonth({ plan: { calendar } }: LoadedPlan): string | undefined {
  const next = monthFrom(calendar.closedThrough) + 1;
  return next <= monthFrom(calendar.last) ? monthText(next) : undefined;
}

/** Reads what the next month needs, and what was closed. @throws HttpProblem 404 */
export async function readClosing(
  connections: Connections,
  plans: Plans,
  { workspaceId }: Pick<Actor, 'workspaceId'>,
): Promise<Closing> {
  const loaded = await plans.current(workspaceId);
  const month = nextMonth(loaded);
  const { asOf } = loaded.plan.calendar;
  const kept = await atOneMoment(connections, async (db) => {
    const workspace = await workspaceById(db, workspaceId);
    if (!workspace) throw notFound('such workspace');
    return {
      asOfBy: workspace.asOfBy,
      rules: await store.rulesOf(db, workspaceId),
      sources: month === undefined ? [] : await store.sourcesOf(db, workspaceId, month),
      waiting: await store.waitingFor(db, workspaceId),
      late: await store.lateLines(db, workspaceId),
      closes: await store.closes(db, workspaceId),
    };
  });
  if (month === undefined) {
    return { month: null, over: false, due: null, asOf, jumps: [], unsold: [], ...kept };
  }
  const over = isOver(monthFrom(month), asOf);
  // A month that is not over is far from its forecast everywhere; that is no news.
  const { jumps, unsold } = over
    ? lookAtMonth(loaded.actual, loaded.forecast, monthFrom(month))
    : { jumps: [], unsold: [] };
  const minor = 10 ** loaded.plan.currency.minorDigits;
  const shown = (list: readonly Jump[]): Closing['jumps'] =>
    list.map((jump) => ({
      members: [...jump.combination.members],
      actual: Math.round(jump.actual * minor),
      forecast: Math.round(jump.forecast * minor),
      yearBefore: Math.round(jump.yearBefore * minor),
    }));
  const { rule, holidays } = kept.rules;
  return {
    month,
    over,
    due: closingDay(monthFrom(month), rule, new Set(holidays)),
    asOf,
    jumps: shown(jumps),
    unsold: shown(unsold),
    ...kept,
  };
}
