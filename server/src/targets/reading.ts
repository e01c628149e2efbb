/** Where everybody in a fiscal year's targets stands. */
import { holdsPart, type TargetGap, type TargetTree } from '@dravex/contract';
import {
  explainGap,
  monthFrom,
  wholesIn,
  YearStandings,
  type NewSubscribers,
  type TargetMeasure,
} from '@dravex/core';
import { lastChanges } from '../journal/store.ts';
import type { Actor } from '../people/actor.ts';
import type { LoadedPlan, Plans } from '../plan/plans.ts';
import type { Connections } from '../platform/database.ts';
import { notFound } from '../platform/errors.ts';
import { heldObjectives, mustSee, narrowed, nothingHeld, notTheirs, ownPart } from './own-part.ts';
import * as store from './store.ts';
import {
  linesOf,
  mainOf,
  objectiveAbove,
  objectivesOf,
  rowsBelow,
  told,
  type LaidOut,
} from './tree.ts';

/** Which of a year's objectives, and what of the sales counts. */
export interface AskedTree {
  readonly fiscalYear: number;
  readonly objective?: number | undefined;
  readonly origin?: 'all' | 'books' | undefined;
  /** The rows of the year, where they are read already. */
  readonly rows?: readonly store.TargetRow[] | undefined;
}

/**
 * A fiscal year's targets with where everybody stands: of the objective that is named, or of the
 * first one of revenue. Empty when no objective is set.
 * @throws HttpProblem 404 for an objective that is not of the year
 */
export async function layOut(
  { db }: Pick<Connections, 'db'>,
  plans: Plans,
  { workspaceId }: Pick<Actor, 'workspaceId'>,
  { fiscalYear, objective: named, origin = 'all', rows: read }: AskedTree,
): Promise<LaidOut> {
  const loaded = await plans.current(workspaceId);
  const { plan, model } = loaded;
  const all = read ?? (await store.nodesOf(db, workspaceId, fiscalYear));
  const objectives = objectivesOf(all);
  const objective =
    named === undefined ? mainOf(objectives) : objectives.find(({ id }) => id === named);
  if (named !== undefined && !objective) throw notFound('such objective in this year');
  const { minorDigits } = plan.currency;
  const year = { fiscalYear, objectives, objective, minorDigits };
  if (!objective) return { ...year, rows: [], lines: [], standings: undefined };
  const { measure } = objective;
  const rows = rowsBelow(all, objective.id);
  const accounts = [...new Set(rows.flatMap(({ account }) => account ?? []))];
  const standings = await standingsOf(db, workspaceId, loaded, {
    ...{ fiscalYear, measure, origin, accounts },
  });
  return { ...year, rows, lines: linesOf(rows, standings, model.tree, minorDigits), standings };
}

/** Where anybody stands in a measure of a fiscal year. */
export async function standingsOf(
  db: Connections['db'],
  workspaceId: number,
  loaded: LoadedPlan,
  asked: {
    readonly fiscalYear: number;
    readonly measure: TargetMeasure;
    readonly origin?: 'all' | 'books';
    /** The customers that are counted by themselves. */
    readonly accounts?: readonly string[];
  },
): Promise<YearStandings> {
  const { fiscalYear, measure, origin = 'all', accounts = [] } = asked;
  const [sales, started] = await Promise.all([
    store.sellerSales(db, workspaceId, origin, accounts),
    measure === 'newSubscribers' ? startedIn(db, workspaceId, loaded) : [],
  ]);
  const books = origin === 'books';
  return new YearStandings(loaded.model, sales, fiscalYear, { measure, books, started });
}

/**
 * The same as it is told, for whoever holds a part of it only that part: of the objectives those in
 * which something is held.
 * @throws HttpProblem 403 for an objective in which nothing is held; 404
 */
export async function treeOf(
  connections: Pick<Connections, 'db'>,
  plans: Plans,
  actor: Actor,
  asked: AskedTree,
): Promise<TargetTree> {
  const { db } = connections;
  const rows = holdsPart(actor.role)
    ? (asked.rows ?? (await store.nodesOf(db, actor.workspaceId, asked.fiscalYear)))
    : [];
  const part = await ownPart(db, actor, rows);
  const held = part && heldObjectives(rows, part);
  const own = held && { ...asked, objective: asked.objective ?? mainOf(held)?.id };
  if (part && own?.objective === undefined) return nothingHeld(asked.fiscalYear);
  if (held && !held.some(({ id }) => id === own?.objective)) throw notTheirs();
  const [laid, typed] = await Promise.all([
    layOut(connections, plans, actor, own ?? asked),
    lastChanges(db, actor.workspaceId, 'target'),
  ]);
  const tree = told(laid, typed);
  return part && held ? narrowed(tree, part, held) : tree;
}

/**
 * Who started, by combination: the one whose members a record names, or the first that has them all.
 */
async function startedIn(
  db: Connections['db'],
  workspaceId: number,
  { plan }: LoadedPlan,
): Promise<NewSubscribers[]> {
  const placeOf = new Map<string, number | undefined>();
  const find = (members: readonly number[]): number | undefined => {
    const key = members.toSorted((a, b) => a - b).join();
    if (!placeOf.has(key)) {
      const all = plan.combinations.filter((one) =>
        members.every((id) => one.members.includes(id)),
      );
      const whole = all.find((one) => one.members.length === members.length);
      placeOf.set(key, (whole ?? all[0])?.id);
    }
    return placeOf.get(key);
  };
  const rows = await store.startedByMembers(db, workspaceId);
  return rows.flatMap(({ members, month, count }) => {
    const combination = find(members);
    return combination === undefined ? [] : [{ combination, month: monthFrom(month), count }];
  });
}

/**
 * The objective of a node that the actor sees.
 * @throws HttpProblem 403 for what is not in the actor's part; 404
 */
export async function objectiveOfSeen(
  db: Connections['db'],
  actor: Actor,
  fiscalYear: number,
  node: number,
): Promise<number> {
  const rows = await store.nodesOf(db, actor.workspaceId, fiscalYear);
  mustSee(await ownPart(db, actor, rows), node);
  const objective = objectiveAbove(rows, node)?.id;
  if (objective === undefined) throw notFound('such team or person in this year');
  return objective;
}

/** Why a node is ahead or behind. @throws HttpProblem 403, 404 */
export async function gapOf(
  connections: Pick<Connections, 'db'>,
  plans: Plans,
  actor: Actor,
  fiscalYear: number,
  node: number,
): Promise<{ gap: TargetGap | null }> {
  const objective = await objectiveOfSeen(connections.db, actor, fiscalYear, node);
  const laid = await layOut(connections, plans, actor, { fiscalYear, objective });
  const { lines, standings, minorDigits } = laid;
  if (!standings) return { gap: null };
  const gap = explainGap(lines, node, standings, wholesIn(standings.measure, minorDigits));
  return { gap: gap && { ...gap, steps: [...gap.steps] } };
}
