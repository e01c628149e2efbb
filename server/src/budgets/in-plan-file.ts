/** Kept versions of a plan file, with their cells. */
import type { PlanFile } from '@dravex/contract';
import { inColumns, rowsOfCells } from '@dravex/core';
import type { FilePart } from '../journal/file-part.ts';
import { cellsNow, insertCells, insertVersion, versions } from './store.ts';
import { insertSubscribers, subscribersOf } from './subscriber-store.ts';

export const versionsInPlanFile: FilePart = {
  async give(db, workspaceId) {
    const kept: PlanFile['versions'] = [];
    for (const one of await versions(db, workspaceId)) {
      const { id, name, from, to, note, state, budgetOf, putAway } = one;
      const subscribers = await subscribersOf(db, workspaceId, id);
      const cells = {
        ...inColumns(await cellsNow(db, workspaceId, id)),
        ...(subscribers ? { subscribers } : {}),
      };
      kept.push({ id, name, from, to, note, state, budgetOf, putAway, cells });
    }
    return { versions: kept };
  },
  async take({ tx, workspaceId, personId, file, combination, keptVersion }) {
    for (const {
      id: own,
      name,
      note,
      state,
      budgetOf,
      putAway,
      from,
      to,
      cells,
    } of file.versions) {
      const id = await insertVersion(tx, {
        workspaceId,
        name,
        note,
        state,
        budgetOf,
        putAway,
        fromMonth: `${from}-01`,
        toMonth: `${to}-01`,
        createdBy: personId,
      });
      keptVersion(own, id);
      const rows = [...rowsOfCells(cells)].map((cell) => ({
        ...cell,
        combination: combination(cell.combination),
      }));
      await insertCells(tx, workspaceId, id, rows);
      const { subscribers } = cells;
      if (!subscribers) continue;
      await insertSubscribers(tx, workspaceId, id, {
        ...subscribers,
        combination: subscribers.combination.map(combination),
      });
    }
  },
};
