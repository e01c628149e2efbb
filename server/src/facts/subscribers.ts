/** Subscribers as their records have them: how they move, and cohort by cohort. */
import type { SubscriberCohorts, Subscribers } from '@dravex/contract';
import {
  fitRetention,
  MemberTree,
  monthFrom,
  monthText,
  observedChurn,
  observedCohorts,
  subscriberMonths,
  worseThanElders,
  type RecordedMonths,
  type Scope,
  type SubscriberCount,
} from '@dravex/core';
import type { Actor } from '../people/actor.ts';
import { combinationsOf, dimensionsOf } from '../dimensions/store.ts';
import { fromFirst, type Connections } from '../platform/database.ts';
import { badRequest, notFound } from '../platform/errors.ts';
import { workspaceById } from '../workspaces/store.ts';
import { monthsOf, type Window } from './service.ts';
import { subscriberCounts } from './store.ts';

type Reading = Pick<Connections, 'db'>;
type Whose = Pick<Actor, 'workspaceId'>;

type Mutable<T> = {
  -readonly [Key in keyof T]: T[Key] extends readonly (infer Item)[] ? Item[] : T[Key];
};

/** Members in one order, whatever order they were named in. */
const keyOf = (members: readonly number[]): string => members.toSorted((a, b) => a - b).join();

/** Subscribers of a scope by start and end. @throws HttpProblem 400 for members that are not there */
async function countsIn(
  { db }: Reading,
  { workspaceId }: Whose,
  scope: Scope,
  combinations: readonly number[] = [],
): Promise<SubscriberCount[]> {
  const tree = new MemberTree(await dimensionsOf(db, workspaceId));
  const strange = scope.find((id) => !tree.has(id));
  if (strange !== undefined) {
    const message = `There is no member ${strange}`;
    throw badRequest(message, [{ path: 'scope', message }]);
  }
  const rows = await subscriberCounts(db, workspaceId);
  const wanted = new Set(combinations);
  const known = combinations.length > 0 ? await combinationsOf(db, workspaceId) : [];
  const wholly = new Set(
    known.filter(({ id }) => wanted.has(id)).map(({ members }) => keyOf(members)),
  );
  return rows
    .filter(({ members }) => {
      if (combinations.length > 0 && !wholly.has(keyOf(members))) return false;
      // A record names the members that it has; a dimension that it does not name holds it nowhere.
      const byDimension: number[] = [];
      for (const id of members) byDimension[tree.dimensionOf(id)] = id;
      return tree.covers(scope, byDimension);
    })
    .map(({ start, end, count }) => ({
      start: monthFrom(start),
      end: end === null ? null : monthFrom(end),
      count,
    }));
}

/** How subscribers of a scope move in a window. */
export async function readSubscribers(
  connections: Reading,
  whose: Whose,
  { scope, ...window }: Window & { readonly scope: Scope },
): Promise<Subscribers> {
  const months = monthsOf(window);
  const counts = await countsIn(connections, whose, scope);
  const counted = subscriberMonths(counts, monthFrom(window.from), monthFrom(window.to));
  const sum = (some: readonly SubscriberCount[]): number =>
    some.reduce((all, { count }) => all + count, 0);
  return {
    known: sum(counts),
    active: sum(counts.filter(({ end }) => end === null)),
    months: counted.map(({ month: _, ...count }, place) => ({
      month: months[place] ?? '',
      ...count,
    })),
  };
}

/** How subscribers of each combination moved in closed months, from the first that has a record on. */
export async function readRecordedMonths(
  { db }: Reading,
  { workspaceId }: Whose,
): Promise<Mutable<RecordedMonths>> {
  const workspace = await workspaceById(db, workspaceId);
  if (!workspace) throw notFound('such workspace');
  const through = monthFrom(fromFirst(workspace.closedThrough));
  const ids = new Map(
    (await combinationsOf(db, workspaceId)).map(({ id, members }) => [keyOf(members), id]),
  );
  const counts = new Map<number, SubscriberCount[]>();
  for (const { members, start, end, count } of await subscriberCounts(db, workspaceId)) {
    const id = ids.get(keyOf(members));
    if (id === undefined) continue;
    const known = counts.get(id) ?? [];
    counts.set(id, known);
    known.push({ start: monthFrom(start), end: end === null ? null : monthFrom(end), count });
  }
  const recorded: Mutable<RecordedMonths> = {
    ...{ combination: [], month: [], opening: [], added: [], lost: [] },
  };
  for (const [id, some] of counts) {
    const first = some.reduce((least, { start }) => Math.min(least, start), through + 1);
    for (const { month, opening, added, lost } of subscriberMonths(some, first, through)) {
      recorded.combination.push(id);
      recorded.month.push(monthText(month));
      recorded.opening.push(opening);
      recorded.added.push(added);
      recorded.lost.push(lost);
    }
  }
  return recorded;
}

/**
 * The cohorts of a scope through the last closed month, and the curve that fits them.
 * @param without cohorts that the curve leaves out, by the month of their start
 */
export async function readCohorts(
  connections: Reading,
  whose: Whose,
  {
    scope,
    combinations,
    without,
  }: {
    readonly scope: Scope;
    readonly combinations: readonly number[];
    readonly without: readonly string[];
  },
): Promise<SubscriberCohorts> {
  const workspace = await workspaceById(connections.db, whose.workspaceId);
  if (!workspace) throw notFound('such workspace');
  const closedThrough = fromFirst(workspace.closedThrough);
  const counts = await countsIn(connections, whose, scope, combinations);
  const cohorts = observedCohorts(counts, monthFrom(closedThrough));
  const worse = new Map(worseThanElders(cohorts).map((one) => [one.start, one]));
  const left = new Set(without.map(monthFrom));
  const ages = observedChurn(cohorts.filter(({ start }) => !left.has(start)));
  return {
    through: closedThrough,
    cohorts: cohorts.map(({ start, active }) => {
      const found = worse.get(start);
      return {
        start: monthText(start),
        active: [...active],
        worse: found ? { lost: found.lost, expected: found.expected } : null,
        without: left.has(start),
      };
    }),
    ages: [...ages],
    fitted: fitRetention(ages),
  };
}
