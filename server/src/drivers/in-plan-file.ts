/** Drivers of a plan file, with what is assumed of them and changed on top of it. */
import type { FilePart } from '../journal/file-part.ts';
import { putDriver } from './driver-store.ts';
import { insertAdjustments, insertAssumptions } from './store.ts';

export const driversInPlanFile: FilePart = {
  async take({ tx, workspaceId, file }) {
    for (const driver of file.plan.drivers) await putDriver(tx, workspaceId, driver);
  },
};

/** In the order of their ids, which is their rank among equals; for members of the workspace. */
function* placed<Row extends { readonly id: number; readonly scope: readonly number[] }>(
  rows: readonly Row[],
  members: (ids: readonly number[]) => number[],
): Generator<Row> {
  for (const row of rows.toSorted((a, b) => a.id - b.id)) {
    yield { ...row, scope: members(row.scope) };
  }
}

export const assumptionsInPlanFile: FilePart = {
  async take({ tx, workspaceId, personId, file, members }) {
    const rows = placed(file.plan.assumptions, members);
    await insertAssumptions(tx, workspaceId, personId, rows);
  },
};

export const adjustmentsInPlanFile: FilePart = {
  async take({ tx, workspaceId, personId, file, members }) {
    const rows = placed(file.plan.adjustments, members);
    await insertAdjustments(tx, workspaceId, personId, rows);
  },
};
