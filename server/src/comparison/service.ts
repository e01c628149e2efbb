import type { ComparisonAddress } from '@dravex/contract';
import {
  compareAcross,
  compareAndExplain,
  coverageOf,
  fiscalYearOf,
  fiscalYearSpan,
  inAll,
  MEASURES,
  monthFrom,
  sourceKey,
  sourceNamed,
  subscriberFigures,
  subscribersOfSource,
  targetsByScope,
  TargetScopes,
  versionIn,
  versionSource,
  yearLater,
  type BesideSide,
  type ComparedAcross,
  type ComparedSide,
  type Dimension,
  type ExplainedComparison,
  type Figures,
  type MemberTree,
  type Month,
  type Source,
  type SubscriberFigures,
  type Span,
  type VersionAt,
} from '@dravex/core';
import { versionFigures, versionSubscribers } from '../budgets/service.ts';
import { readRecordedMonths } from '../facts/subscribers.ts';
import { versionAt } from '../budgets/versions.ts';
import { checkFrame, columnCount, mustBeReadable, windowOf } from '../plan/frame.ts';
import type { LoadedPlan, Plans } from '../plan/plans.ts';
import type { Actor } from '../people/actor.ts';
import type { Connections } from '../platform/database.ts';
import { badRequest } from '../platform/errors.ts';
import { peopleIn, salesByPeople, type SalesByPeople } from './by-people.ts';
import { treeOf } from '../targets/reading.ts';
import { afterOthers } from '../platform/pauses.ts';

/** One side of a comparison: its numbers, its name, and the months that it has. */
interface Side {
  readonly figures: Figures;
  readonly name: string;
  readonly source: Source;
  readonly covers: Span | undefined;
}

/** Both sides, and the months that they have in common; undefined where there are none. */
export interface Sides {
  readonly actual: Side;
  readonly plan: Side;
  readonly covered: Span | undefined;
}

interface Where {
  readonly connections: Pick<Connections, 'db' | 'lasting'>;
  readonly actor: Pick<Actor, 'workspaceId'>;
  readonly loaded: LoadedPlan;
  readonly origin: 'all' | 'books';
  /** Sales as they are laid out by people, where these are asked for. */
  readonly byPeople?: SalesByPeople | undefined;
}

async function sideOf(where: Where, source: Source): Promise<Side> {
  const { connections, actor, loaded, origin } = where;
  const { calendar } = loaded.plan;
  switch (source.kind) {
    case 'version': {
      mustBeSold(where, 'a budget');
      const { name: plain, from, to } = await versionAt(connections.db, actor.workspaceId, source);
      const name = source.at === undefined ? plain : `${plain} at ${source.at}`;
      const figures = await versionFigures(connections, actor, loaded.plan, source);
      return { figures, name, source, covers: { from: monthFrom(from), to: monthFrom(to) } };
    }
    case 'yearBefore': {
      const { figures } = await sideOf(where, source.of);
      const name = source.of.kind === 'yearBefore' ? 'Year before last' : 'Last year';
      const covers = coverageOf(source, calendar, none);
      return { figures: yearLater(figures), name, source, covers };
    }
    case 'actual':
    case 'forecast':
      if (source.kind === 'forecast') mustBeSold(where, 'a forecast');
      return {
        figures: where.byPeople?.figures ?? loaded.figures(source.kind, origin),
        name: source.kind === 'actual' ? 'Actual' : 'Forecast',
        source,
        covers: coverageOf(source, calendar, none),
      };
    case 'target':
      throw badRequest('A target is compared in Targets');
  }
}
const none = (): undefined => undefined;

/** @throws HttpProblem 400 for what nobody plans by seller or customer */
function mustBeSold({ byPeople }: Where, what: string): void {
  if (!byPeople) return;
  const message = `Sellers and customers are known of sales, not of ${what}; compare actual sales with an earlier year`;
  throw badRequest(message, [{ path: 'against', message }]);
}

/**
 * Two sources by their names in an address, with the months that both have.
 * @throws HttpProblem 404 for a version that is not there
 */
export async function sidesOf(where: Where, of: string, against: string): Promise<Sides> {
  const [actual, plan] = await Promise.all(
    [of, against].map((name) => {
      const source = sourceNamed(name);
      if (!source) throw badRequest(`There is nothing called ${name} to compare`);
      return sideOf(where, source);
    }),
  );
  if (!actual || !plan) throw new Error('A comparison has two sides');
  return { actual, plan, covered: inAll([actual.covers, plan.covers]) };
}

const keyOf = ({ id, at }: VersionAt): string => sourceKey(versionSource(id, at));

/** The subscriptions of plans, each with how subscribers moved in closed months; they go with the plan. */
const ofPlans = new WeakMap<LoadedPlan, Promise<SubscriberFigures>>();
function planSubscribers({ connections, actor, loaded }: Where): Promise<SubscriberFigures> {
  const before = ofPlans.get(loaded);
  if (before) return before;
  const made = readRecordedMonths(connections.lasting, actor).then((recorded) =>
    subscriberFigures(loaded.model, recorded),
  );
  ofPlans.set(loaded, made);
  // What failed is asked anew.
  made.catch(() => ofPlans.delete(loaded));
  return made;
}

/** Sides with their subscriptions, as records, the forecast and versions have them. */
async function withSubscriptions(
  where: Where,
  sides: readonly Side[],
): Promise<(side: Side) => ComparedSide> {
  const { connections, actor, loaded } = where;
  const ofPlan = await planSubscribers(where);
  const kept = new Map<string, SubscriberFigures>();
  for (const { source } of sides) {
    const version = versionIn(source);
    const found = version && (await versionSubscribers(connections, actor, loaded, version));
    if (version && found) kept.set(keyOf(version), found);
  }
  return ({ figures, source }) => ({
    ...figures,
    subscribers: () =>
      subscribersOfSource(
        source,
        () => ofPlan,
        (version) => kept.get(keyOf(version)),
      ),
  });
}

/** The objective in a measure of the fiscal year in which a window ends, by scope. */
interface TargetSide {
  readonly name: string;
  readonly covers: Span;
  readonly scopes: TargetScopes;
}
type AnySide = Side | TargetSide;

/** @throws HttpProblem 400 where the year has no objective in the measure */
async function targetSide(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  { plan, model }: LoadedPlan,
  { measure, origin }: Pick<ComparisonAddress, 'measure' | 'origin'>,
  to: Month,
): Promise<TargetSide> {
  const { fiscalStart } = plan.calendar;
  const fiscalYear = fiscalYearOf(to, fiscalStart);
  const { objectives } = await treeOf(connections, plans, actor, { fiscalYear, origin });
  const objective = objectives.find((one) => one.measure === measure);
  const parts =
    objective &&
    targetsByScope(
      await treeOf(connections, plans, actor, { fiscalYear, origin, objective: objective.id }),
    );
  if (!parts) {
    throw badRequest(
      `FY ${fiscalYear} has no target in ${MEASURES[measure].name.toLowerCase()}; set one in Targets, or leave target out of beside`,
    );
  }
  const { minorDigits } = plan.currency;
  return {
    name: `Target FY ${fiscalYear}`,
    covers: fiscalYearSpan(fiscalYear, fiscalStart),
    scopes: new TargetScopes(parts, model.tree, plan.combinations, { fiscalStart, minorDigits }),
  };
}

/** How an address names what is held against. */
export const againstOf = ({ against, version }: Pick<ComparisonAddress, 'against' | 'version'>) =>
  against ?? `version:${version ?? 0}`;

/** Sources over the months of a window that all have, and why revenue of the first two differs. */
export async function comparisonFor(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  address: ComparisonAddress,
): Promise<{
  comparison: ExplainedComparison;
  /** Both sides in several columns, where they were asked for. */
  across: ComparedAcross | null;
  loaded: LoadedPlan;
  /** What the rows are laid out by. */
  laid: { tree: MemberTree; dimensions: readonly Dimension[] };
  names: { actual: string; plan: string; beside: string[] };
}> {
  const { rows, scope, measure, origin, across, measures: several } = address;
  const loaded = await plans.current(actor.workspaceId);
  const people = peopleIn(loaded, rows);
  const ofPlan = rows.filter((code) => !people.some((one) => one === code));
  if (new Set(people).size < people.length) {
    const message = 'Sellers or customers stand on the rows once';
    throw badRequest(message, [{ path: 'rows', message }]);
  }
  checkFrame(loaded, ofPlan, scope);
  const span = windowOf(loaded.plan.calendar, address);
  const wide =
    across && across !== 'measures'
      ? columnCount(loaded, 'time', span, across, 1) + 1
      : several.length;
  mustBeReadable(loaded, ofPlan, scope, (3 + 2 * address.beside.length) * Math.max(1, wide));
  const byPeople =
    people.length === 0
      ? undefined
      : await salesByPeople(
          connections.db,
          actor.workspaceId,
          loaded,
          { rows, people, scope, origin },
          span,
        );
  const where = { connections, actor, loaded, origin, byPeople };
  const named = (name: string): Promise<AnySide> => {
    const source = sourceNamed(name);
    if (source) return sideOf(where, source);
    mustBeSold(where, 'a target');
    return targetSide(connections, plans, actor, loaded, address, span.to);
  };
  const [actual, plan, ...others] = await Promise.all(
    [address.of, againstOf(address), ...address.beside].map(named),
  );
  if (!actual || !plan) throw new Error('A comparison has two sides');
  if (!('figures' in actual) && !('figures' in plan)) {
    const message = 'A target is compared with something else; choose another side';
    throw badRequest(message, [{ path: 'against', message }]);
  }
  const measures = across === 'measures' ? several : [measure];
  if (measures.length > 1 && [actual, plan, ...others].some((side) => !('figures' in side))) {
    const message = 'A target is set in one measure; choose it as measure, or another side';
    throw badRequest(message, [{ path: 'measures', message }]);
  }
  const subscribed = measures.some((code) => MEASURES[code].making.kind === 'subscription');
  if (subscribed) mustBeSold(where, 'subscriptions');
  const all = [actual, plan, ...others];
  // Why revenue that was sold differs is said of subscribers, too.
  const sold = 'figures' in actual && actual.source.kind === 'actual';
  const compared =
    (subscribed || (sold && measure === 'revenue')) && !byPeople
      ? await withSubscriptions(
          where,
          all.filter((side) => 'figures' in side),
        )
      : ({ figures }: Side): ComparedSide => figures;
  const sideFor = (side: AnySide): BesideSide => ('figures' in side ? compared(side) : side.scopes);
  const asNamed = (side: AnySide) =>
    'figures' in side ? { source: side.source, figures: compared(side) } : { figures: side.scopes };
  const covered = inAll(all.map(({ covers }) => covers));
  const model = byPeople ?? loaded.model;
  const beside = others.map(sideFor);
  // What people sold is of the scope already.
  const query = { measure, rows, scope: byPeople ? [] : scope, span };
  const [first = measure, ...more] = measures;
  await afterOthers();
  const comparison = compareAndExplain(
    ...([model, asNamed(actual), asNamed(plan), query, covered, beside] as const),
  );
  await afterOthers();
  return {
    comparison,
    across: across
      ? compareAcross(
          ...([sideFor(actual), sideFor(plan), model.tree] as const),
          {
            ...{ rows, scope: query.scope, span, measures: [first, ...more] },
            ...(across === 'measures' ? {} : { grain: across }),
          },
          covered,
          loaded.plan.calendar.fiscalStart,
          beside,
        )
      : null,
    loaded,
    laid: byPeople ?? { tree: loaded.model.tree, dimensions: loaded.plan.dimensions },
    names: { actual: actual.name, plan: plan.name, beside: others.map(({ name }) => name) },
  };
}
