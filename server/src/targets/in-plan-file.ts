/** Target trees of a plan file. */
import { entriesById, MemberTree, targetProblems } from '@dravex/core';
import { dimensionsOf } from '../dimensions/store.ts';
import type { FilePart } from '../journal/file-part.ts';
import { fromFirst, toFirst } from '../platform/database.ts';
import { badRequest } from '../platform/errors.ts';
import { allNodes, insertNode } from './store.ts';
import { entryOf, objectivesOf, partOf, rowsBelow } from './tree.ts';

/** What is there, without what nobody has said. */
const said = <T extends object>(values: T): Partial<{ [K in keyof T]: NonNullable<T[K]> }> =>
  Object.fromEntries(
    Object.entries(values).filter(([, value]) => value !== null && value !== false),
  ) as Partial<{ [K in keyof T]: NonNullable<T[K]> }>;

const month = (first: string | null): string | null => (first === null ? null : fromFirst(first));

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
      ...said({
        ...{ account: row.account, objective: row.objective, measure: row.measure },
        ...{ manager: row.manager, from: month(row.fromMonth), until: month(row.untilMonth) },
        ...{ full: row.fullCapacity, locked: row.locked, months: row.months },
        ...{ comment: row.comment, deals: row.deals },
        ramp: row.ramp.length === 0 ? null : row.ramp,
        cushion: row.cushion === 0 ? null : row.cushion,
        state: row.state === 'draft' ? null : row.state,
      }),
      part: partOf(row),
    }));
    return { targets };
  },
  async take({ tx, workspaceId, file, members }) {
    const nodes = new Map<number, number>();
    for (const target of file.targets) {
      const { id, parent, fiscalYear, kind, name, scope, seller, part } = target;
      const parentId = parent === null ? null : nodes.get(parent);
      if (parentId === undefined) {
        throw badRequest(`The target of ${name} stands before the one above it`);
      }
      const made = await insertNode(tx, {
        ...{ workspaceId, parentId, fiscalYear, kind, name, scope: members(scope), seller },
        objective: parent === null ? (target.objective ?? 'Revenue') : null,
        measure: parent === null ? (target.measure ?? 'revenue') : null,
        account: target.account ?? null,
        manager: target.manager ?? null,
        fromMonth: target.from === undefined ? null : toFirst(target.from),
        untilMonth: target.until === undefined ? null : toFirst(target.until),
        ramp: target.ramp ?? [],
        fullCapacity: target.full ?? null,
        cushion: target.cushion ?? 0,
        locked: target.locked ?? false,
        months: target.months ?? null,
        state: target.state ?? 'draft',
        comment: target.comment ?? null,
        deals: target.deals ?? null,
        percent: part.kind === 'percent' ? String(part.percent) : null,
        amount: part.kind === 'amount' ? part.amount : null,
      });
      nodes.set(id, made);
    }
    const rows = await allNodes(tx, workspaceId);
    const tree = new MemberTree(await dimensionsOf(tx, workspaceId));
    for (const objective of objectivesOf(rows)) {
      const own = rowsBelow(rows, objective.id);
      const entries = own.map(entryOf);
      // A plan file has no sales lines: whoever it names is known.
      const known = {
        ...{ measure: objective.measure, tree },
        sellers: new Set(own.flatMap(({ seller }) => seller ?? [])),
        accounts: new Set(own.flatMap(({ account }) => account ?? [])),
      };
      const byId = entriesById(entries);
      for (const entry of entries.slice(1)) {
        const [problem] = targetProblems(entry, entries, known, byId);
        if (problem) throw badRequest(`The target of ${entry.name}: ${problem.message}`);
      }
    }
  },
};
