/** Streams of a plan file, and what is typed over them. */
import type { StreamSettings } from '@dravex/core';
import type { FilePart } from '../journal/file-part.ts';
import { insertStreams, putOverrides } from './store.ts';

/** Settings that name the workspace's combinations in place of the file's. */
function settingsOf(settings: StreamSettings, idOf: (id: number) => number): StreamSettings {
  const { attached, changesOver, formula } = settings;
  return {
    ...settings,
    ...(attached ? { attached: { ...attached, combination: idOf(attached.combination) } } : {}),
    ...(changesOver
      ? { changesOver: { ...changesOver, combination: idOf(changesOver.combination) } }
      : {}),
    ...(formula
      ? {
          formula: {
            ...formula,
            names: formula.names.map((name) => ({ ...name, combination: idOf(name.combination) })),
          },
        }
      : {}),
  };
}

export const streamsInPlanFile: FilePart = {
  async take({ tx, workspaceId, file, combination }) {
    await insertStreams(
      tx,
      file.plan.streams.map((stream) => ({
        workspaceId,
        method: stream.method,
        settings: settingsOf(stream.settings, combination),
        combinationId: combination(stream.combination),
      })),
    );
  },
};

export const overridesInPlanFile: FilePart = {
  async take({ tx, workspaceId, personId, file, combination }) {
    const rows = file.plan.overrides.map((row) => ({
      ...row,
      combination: combination(row.combination),
    }));
    await putOverrides(tx, workspaceId, personId, rows);
  },
};
