/** Streams: made and deleted. */
import type {
  DeleteStreams,
  NewStreams,
  NewStreamSettings,
  ProposeStreams,
} from '@dravex/contract';
import {
  METHODS,
  proposeStreams,
  type MemberTree,
  type Stream,
  type StreamReading,
  type StreamSettings,
} from '@dravex/core';
import { MemberCodes } from '../dimensions/codes.ts';
import { dimensionsOf, ensureCombinations } from '../dimensions/store.ts';
import { addAssumptions } from '../drivers/assumptions.ts';
import { journaled, type Recorder } from '../journal/service.ts';
import { mustPlan, type Actor } from '../people/actor.ts';
import type { Connections, Database } from '../platform/database.ts';
import { badRequest, conflict, isTaken, notFound } from '../platform/errors.ts';
import { changingPlan } from '../plan/changing-plan.ts';
import type { Plans } from '../plan/plans.ts';
import { deleteStreams, insertStreams } from './store.ts';
import { membersOf, streamCells, streamName } from './thing.ts';

/** Makes streams for combinations named by codes, all or none. */
export async function createStreams(
  connections: Connections,
  actor: Actor,
  input: NewStreams,
): Promise<{ streams: number }> {
  mustPlan(actor);
  const { workspaceId } = actor;
  const codes = new MemberCodes(await dimensionsOf(connections.db, workspaceId));
  const errors: { path: string; message: string }[] = [];
  const wanted = input.streams.map(({ members: named }, index) => {
    const { members, problems } = codes.leaves((code) => named[code]);
    for (const { dimension, message } of problems) {
      errors.push({ path: `streams.${index}.members.${dimension}`, message });
    }
    return members;
  });
  if (errors.length > 0) throw badRequest(errors[0]?.message ?? '', errors.slice(0, 100));
  return journaled(connections, actor, 'forecast', async (tx, record) => {
    const combinations = await ensureCombinations(tx, workspaceId, wanted);
    const idsByMembers = new Map(
      wanted.map((members, index) => [members.join(), combinations[index]]),
    );
    const settings = input.streams.map(({ settings: given }, index) =>
      withCombinations(given, (named, path) => {
        const { members, problems } = codes.leaves((code) => named[code]);
        const id = problems.length > 0 ? undefined : idsByMembers.get(members.join());
        if (id === undefined) {
          const message =
            problems[0]?.message ?? 'The forecast line that it reads is not among these';
          throw badRequest(message, [{ path: `streams.${index}.settings.${path}`, message }]);
        }
        return id;
      }),
    );
    const streams = combinations.map((combination, index) => ({
      combination,
      members: wanted[index] ?? [],
      method: input.streams[index]?.method ?? ('volumePrice' as const),
      settings: settings[index] ?? {},
    }));
    await addStreams(tx, workspaceId, streams, codes.tree, record);
    record.say(`Added ${wanted.length} forecast lines`);
    return { streams: wanted.length };
  });
}

/** Settings with combinations in place of the members that name them. */
function withCombinations(
  { attached, changesOver, formula, ...rest }: NewStreamSettings,
  idOf: (members: Readonly<Record<string, string>>, path: string) => number,
): StreamSettings {
  return {
    ...rest,
    ...(attached
      ? {
          attached: {
            combination: idOf(attached.members, 'attached.members'),
            from: attached.from,
            to: attached.to,
          },
        }
      : {}),
    ...(changesOver
      ? {
          changesOver: {
            combination: idOf(changesOver.members, 'changesOver.members'),
            age: changesOver.age,
            share: changesOver.share,
          },
        }
      : {}),
    ...(formula
      ? {
          formula: {
            ...formula,
            names: formula.names.map(({ members, ...name }, place) => ({
              ...name,
              combination: idOf(members, `formula.names.${place}.members`),
            })),
          },
        }
      : {}),
  };
}

/** Keeps new streams and writes them down. @throws HttpProblem 409 where there is one already */
export async function addStreams(
  tx: Database,
  workspaceId: number,
  streams: readonly (Omit<Stream, 'id'> & { readonly members: readonly number[] })[],
  tree: MemberTree,
  record: Recorder,
): Promise<void> {
  const rows = streams.map(({ combination, method, settings }) => ({
    workspaceId,
    combinationId: combination,
    method,
    settings: settings ?? {},
  }));
  try {
    const ids = await insertStreams(tx, rows);
    streams.forEach((stream, index) => {
      const name = streamName(stream.members, tree);
      record.changed('stream', ids[index] ?? 0, null, streamCells(stream), name);
    });
  } catch (error) {
    if (isTaken(error)) throw conflict('One of these combinations has a forecast line already');
    throw error;
  }
}

/** Finding and keeping the lines, of all the work; the rest is what is assumed for them. */
const SHARE_OF_STREAMS = 0.3;

/** Makes streams for whatever was sold lately and is not forecast, as the core proposes them. */
export function streamsFromSales(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  { combinations }: ProposeStreams,
): Promise<{ streams: number }> {
  const { workspaceId } = actor;
  return changingPlan(
    connections,
    plans,
    actor,
    'forecast',
    async (tx, record, { plan, model }) => {
      const wanted = combinations && new Set(combinations);
      const proposed = proposeStreams(plan).filter(
        // What seems to be sold no longer is forecast when somebody asks for it.
        ({ combination, discontinued }) => wanted?.has(combination) ?? !discontinued,
      );
      if (wanted && proposed.length < wanted.size) {
        const strange = [...wanted].find((id) => !proposed.some((one) => one.combination === id));
        throw badRequest(
          `Combination ${strange} was not sold in the last twelve closed months, or is forecast already`,
          [{ path: 'combinations', message: `${strange} cannot be made a forecast line` }],
        );
      }
      if (proposed.length === 0) {
        throw conflict(
          'Everything that was sold in the last twelve closed months is forecast already',
        );
      }
      const members = membersOf(plan);
      const { tree } = model;
      const streams = proposed.map(({ combination, method }) => ({
        combination,
        method,
        members: members.get(combination) ?? [],
      }));
      await addStreams(tx, workspaceId, streams, tree, record);
      record.worked(SHARE_OF_STREAMS);
      const assumptions = proposed.flatMap((stream) => stream.assumptions);
      const naming = { tree, drivers: plan.drivers, standing: model.assumptions };
      await addAssumptions(tx, actor, assumptions, naming, record);
      record.say(`Added ${streams.length} forecast lines from sales`);
      return { streams: streams.length };
    },
  );
}

/**
 * Deletes streams. What is assumed for them stays, and what is typed over them rests until they are
 * back.
 * @throws HttpProblem 409 where another stream reads one of them
 */
export function removeStreams(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  { streams }: DeleteStreams,
): Promise<{ streams: number }> {
  const { workspaceId } = actor;
  return changingPlan(
    connections,
    plans,
    actor,
    'forecast',
    async (tx, record, { plan, model }) => {
      const wanted = new Set(streams);
      const gone = plan.streams.filter(({ id }) => wanted.has(id));
      if (gone.length < wanted.size) throw notFound('one of these forecast lines');
      const { tree } = model;
      const members = membersOf(plan);
      const label = (combination: number): string => tree.label(members.get(combination) ?? []);
      const combinations = new Set(gone.map(({ combination }) => combination));
      for (const stream of plan.streams) {
        if (wanted.has(stream.id)) continue;
        const { reads, feeds } = METHODS[stream.method];
        const goes = (list: readonly StreamReading[] = []) =>
          list.find(
            ({ combination }) =>
              combination !== stream.combination && combinations.has(combination),
          )?.combination;
        const [read, fed] = [goes(reads?.(stream)), goes(feeds?.(stream))];
        const own = label(stream.combination);
        if (read !== undefined) {
          throw conflict(
            `${own} follows ${label(read)}; let it follow another one first`,
            'streams',
          );
        }
        if (fed !== undefined) {
          throw conflict(
            `Subscribers of ${own} change over to ${label(fed)}; change that first`,
            'streams',
          );
        }
      }
      await deleteStreams(
        tx,
        workspaceId,
        gone.map(({ id }) => id),
      );
      for (const stream of gone) {
        const name = streamName(members.get(stream.combination) ?? [], tree);
        record.changed('stream', stream.id, streamCells(stream), null, name);
      }
      const [first] = gone;
      record.say(
        gone.length === 1 && first
          ? `Deleted the forecast of ${label(first.combination)}`
          : `Deleted ${gone.length} forecast lines`,
      );
      return { streams: gone.length };
    },
  );
}
