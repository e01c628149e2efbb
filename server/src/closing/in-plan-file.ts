/** Closed months of a plan file, with the forecasts that were kept, and the rules of closing. */
import type { PlanFile } from '@dravex/contract';
import { inColumns, monthText, rowsOfCells } from '@dravex/core';
import { cellsNow } from '../budgets/store.ts';
import type { FilePart } from '../journal/file-part.ts';
import * as store from './store.ts';

export const closesInPlanFile: FilePart = {
  async give(db, workspaceId) {
    const closes: PlanFile['closes'] = [];
    for (const { month, version, at, byItself, lastBefore } of await store.closes(
      db,
      workspaceId,
    )) {
      const cells = inColumns(await cellsNow(db, workspaceId, version));
      closes.push({ month, at, byItself, lastBefore, cells });
    }
    return { closes, closingRules: await store.rulesSet(db, workspaceId) };
  },
  async take({ tx, workspaceId, personId, file, combination }) {
    for (const { month, at, byItself, lastBefore, cells } of file.closes) {
      const rows = [...rowsOfCells(cells)].map((cell) => ({
        ...cell,
        combination: combination(cell.combination),
      }));
      const to = monthText(rows.reduce((last, row) => Math.max(last, row.month), 0));
      await store.insertKept(
        tx,
        { workspaceId, personId },
        {
          month,
          to: rows.length > 0 ? to : month,
          rows,
          lastBefore,
          byItself,
          closedAt: new Date(at),
        },
      );
    }
    const { closingRules } = file;
    if (closingRules) await store.setRules(tx, workspaceId, personId, closingRules);
  },
};
