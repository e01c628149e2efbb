/** How streams are forecast: by another method, or some of their months anew. */
import type { ForecastAnew, SetMethod } from '@dravex/contract';
import {
  leavesBlank,
  METHODS,
  modelProblems,
  runUnder,
  settingsAnew,
  settingsOfMethod,
  type Model,
  type Override,
  type Stream,
} from '@dravex/core';
import type { Recorder } from '../journal/service.ts';
import type { Actor } from '../people/actor.ts';
import type { Connections, Database } from '../platform/database.ts';
import { badPlan, badRequest, notFound } from '../platform/errors.ts';
import { changingPlan } from '../plan/changing-plan.ts';
import type { LoadedPlan, Plans } from '../plan/plans.ts';
import { dropAll } from './overrides.ts';
import { deleteOverrides, updateStream } from './store.ts';
import { membersOf, streamCells, streamName } from './thing.ts';

/**
 * Problems of streams that make a method unfit to be set. What is missing can be typed later, and a
 * new product has no history.
 */
const UNFIT: ReadonlySet<string> = new Set(['circle', 'unknown-driver', 'method']);

/** The problems of some streams that make their method unfit. */
function unfitFor(model: Model, ids: ReadonlySet<number>) {
  return modelProblems(model).filter(
    ({ code, where }) => UNFIT.has(code) && ids.has(Number(where['stream'])),
  );
}

interface SetStreams {
  readonly workspaceId: number;
  readonly ids: readonly number[];
  readonly next: (stream: Stream) => Stream;
  /** Which overrides of these streams are dropped. */
  readonly drops: (override: Override) => boolean;
  /** What is done, in words. */
  readonly words: string;
  readonly why?: string | undefined;
}

/**
 * Keeps streams as they shall be.
 * @throws HttpProblem 400 with everything that stands in the way, each with its stream
 */
async function setStreams(
  tx: Database,
  record: Recorder,
  { plan, model }: LoadedPlan,
  { workspaceId, ids, next, drops, words, why }: SetStreams,
): Promise<{ streams: number }> {
  const wanted = new Set(ids);
  const chosen = plan.streams.filter(({ id }) => wanted.has(id));
  if (chosen.length < wanted.size) throw notFound('one of these forecast lines');
  const after = chosen.map(next);
  const tried = runUnder(model, { streams: after });
  const before = new Set(unfitFor(model, wanted).map(({ message }) => message));
  const problems = unfitFor(tried, wanted).filter(({ message }) => !before.has(message));
  if (problems.length > 0) {
    throw badPlan(problems.map((problem) => ({ ...problem, path: 'settings' })));
  }
  const { tree } = model;
  const members = membersOf(plan);
  const combinations = new Set(chosen.map(({ combination }) => combination));
  const gone = (plan.overrides ?? []).filter(
    (override) => combinations.has(override.combination) && drops(override),
  );
  await dropAll(gone, model, record);
  await deleteOverrides(tx, workspaceId, gone);
  for (const [at, stream] of after.entries()) {
    const old = chosen[at] ?? stream;
    await updateStream(tx, workspaceId, stream);
    const name = streamName(members.get(stream.combination) ?? [], tree);
    record.changed('stream', stream.id, streamCells(old), streamCells(stream), name);
  }
  const [first] = chosen;
  const what =
    chosen.length === 1 && first
      ? tree.label(members.get(first.combination) ?? [])
      : `${chosen.length} forecast lines`;
  record.say(`${words} for ${what}`, why);
  return { streams: chosen.length };
}

/**
 * Forecasts streams by another method.
 * @throws HttpProblem 400 with everything that stands in the way, each with its stream
 */
export function setMethod(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  { streams: ids, method, settings, overrides }: SetMethod,
): Promise<{ streams: number }> {
  const keeps = overrides === 'keep';
  return changingPlan(connections, plans, actor, 'forecast', (tx, record, loaded) =>
    setStreams(tx, record, loaded, {
      workspaceId: actor.workspaceId,
      ids,
      next: (one) => ({
        ...one,
        method,
        settings: settingsOfMethod(one.settings, settings, keeps),
      }),
      drops: () => !keeps,
      words: METHODS[method].name,
    }),
  );
}

/**
 * Forecasts some open months of streams anew, or as their method says again.
 * @throws HttpProblem 400 for months that are not all open, or a basis that cannot work
 */
export function forecastAnew(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  { streams: ids, from, to, baseline, overrides, why }: ForecastAnew,
): Promise<{ streams: number }> {
  return changingPlan(connections, plans, actor, 'forecast', (tx, record, loaded) => {
    const { closedThrough, last } = loaded.plan.calendar;
    if (from <= closedThrough || to > last) {
      const message = `${from} to ${to} is not all open; months after ${closedThrough} up to ${last} can be reforecast`;
      throw badRequest(message, [{ path: from <= closedThrough ? 'from' : 'to', message }]);
    }
    const months = from === to ? from : `${from} to ${to}`;
    const basis = baseline && (leavesBlank(baseline) ? 'left blank' : 'reforecast');
    return setStreams(tx, record, loaded, {
      workspaceId: actor.workspaceId,
      ids,
      next: (one) => ({
        ...one,
        settings: settingsAnew(one.settings, { from, to }, baseline, closedThrough),
      }),
      drops: ({ month }) => overrides === 'drop' && month >= from && month <= to,
      words: `${months} ${basis ?? 'forecast by the method again'}`,
      why,
    });
  });
}
