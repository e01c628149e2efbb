/** Target trees of a plan file. */
import type { FilePart } from '../journal/file-part.ts';
import { fromFirst, toFirst } from '../platform/database.ts';
import { badRequest } from '../platform/errors.ts';
import { allNodes, insertNode } from './store.ts';
import { partOf } from './tree.ts';

export const targetsInPlanFile: FilePart = {
  async give(db, workspaceId) {
    const targets = (await allNodes(db, workspaceId)).map((row) => ({
      id: row.id,
      parent: row.parentId,
      fiscalYear: row.fiscalYear,
      kind: row.kind,
      name: row.name,
      scope: row.scope,
      seller: row.seller,
      ...(row.untilMonth === null ? {} : { until: fromFirst(row.untilMonth) }),
      part: partOf(row),
    }));
    return { targets };
  },
  async take({ tx, workspaceId, file, members }) {
    const nodes = new Map<number, number>();
    for (const { id, parent, fiscalYear, kind, name, scope, seller, until, part } of file.targets) {
      const parentId = parent === null ? null : nodes.get(parent);
      if (parentId === undefined) {
        throw badRequest(`The target of ${name} stands before the one above it`);
      }
      const made = await insertNode(tx, {
        workspaceId,
        parentId,
        fiscalYear,
        kind,
        name,
        scope: members(scope),
        seller,
        untilMonth: until === undefined ? null : toFirst(until),
        percent: part.kind === 'percent' ? String(part.percent) : null,
        amount: part.kind === 'amount' ? part.amount : null,
      });
      nodes.set(id, made);
    }
  },
};
