import type { MemberTree, Override, OverrideCell, Plan, Stream } from '@dravex/core';
import type { CellName, Cells } from '../journal/cells.ts';
import type { Thing } from '../journal/thing.ts';
import type { Json } from '../journal/tables.ts';
import * as store from './store.ts';

/** A stream as the journal keeps it. */
export function streamCells({ combination, method, settings }: Omit<Stream, 'id'>): Cells {
  const kept = JSON.parse(JSON.stringify(settings ?? {})) as Json;
  return { stream: { combination, method, settings: kept } };
}

/** The members of each combination of a plan, by its id. */
export const membersOf = ({
  combinations,
}: Pick<Plan, 'combinations'>): ReadonlyMap<number, readonly number[]> =>
  new Map(combinations.map(({ id, members }) => [id, members]));

/** What the journal calls a stream. */
export function streamName(members: readonly number[], tree: MemberTree): () => CellName {
  return () => ({ label: `Stream ${tree.label(members)}`, unit: 'text' });
}

/** The forecast of a combination. */
export const streamThing: Thing = {
  async read(db, workspaceId, ids) {
    const wanted = new Set(ids);
    const rows = await store.streamsOf(db, workspaceId);
    return new Map(
      rows
        .filter(({ id }) => wanted.has(String(id)))
        .map((row) => [String(row.id), streamCells(row)]),
    );
  },
  async write(db, { workspaceId }, changes) {
    const gone = changes.filter(({ next }) => next === null).map(({ id }) => Number(id));
    await store.deleteStreams(db, workspaceId, gone);
    for (const { id, now, next } of changes) {
      const { combination, method, settings } = (next?.['stream'] ?? {}) as Partial<Stream>;
      if (combination === undefined || method === undefined) continue;
      if (now) {
        await store.updateStream(db, workspaceId, {
          id: Number(id),
          combination,
          method,
          settings,
        });
        continue;
      }
      await store.restoreStream(db, {
        workspaceId,
        id: Number(id),
        combinationId: combination,
        method,
        settings: settings ?? {},
      });
    }
  },
};

/** What the journal calls an override: its combination, month and measure. */
export function overrideId({ combination, month, measure }: OverrideCell): string {
  return JSON.stringify([combination, month, measure]);
}

/** What an override lies over, by what the journal calls it. */
export function overrideCell(id: string): OverrideCell {
  const [combination, month, measure] = JSON.parse(id) as [number, string, OverrideCell['measure']];
  return { combination, month, measure };
}

/** The value of an override and why it was typed; what is empty has no cell. */
export function overrideCells({ value, why }: Pick<Override, 'value' | 'why'>): Cells {
  return { value, ...(why === '' ? {} : { why }) };
}

/** What the journal calls the value of an override. */
export function overrideName(
  { month, measure }: OverrideCell,
  members: readonly number[],
  tree: MemberTree,
): () => CellName {
  const name = measure === 'units' ? 'Units' : 'Revenue';
  return () => ({
    label: `${name}, manual override, ${tree.label(members)}, ${month}`,
    unit: measure === 'units' ? 'units' : 'price',
  });
}

/** A value typed over the forecast. */
export const overrideThing: Thing = {
  async read(db, workspaceId, ids) {
    const wanted = new Set(ids);
    const combinations = new Set(ids.map((id) => overrideCell(id).combination));
    const rows = await store.overridesOf(db, workspaceId, [...combinations]);
    return new Map(
      rows
        .map((row) => [overrideId(row), row] as const)
        .filter(([id]) => wanted.has(id))
        .map(([id, row]) => [id, overrideCells(row)]),
    );
  },
  async write(db, { workspaceId, personId }, changes) {
    const cells = changes.map(({ id, next }) => ({ ...overrideCell(id), next }));
    await store.deleteOverrides(
      db,
      workspaceId,
      cells.filter(({ next }) => next === null),
    );
    await store.putOverrides(
      db,
      workspaceId,
      personId,
      cells.flatMap(({ next, ...cell }) => {
        const why = next?.['why'];
        return next
          ? [{ ...cell, value: Number(next['value']), why: typeof why === 'string' ? why : '' }]
          : [];
      }),
    );
  },
};
