import type { TargetTree } from '@dravex/contract';
import {
  monthFrom,
  monthText,
  targetTree,
  type MemberTree,
  type TargetEntry,
  type TargetPart,
  type YearStandings,
} from '@dravex/core';
import { fromFirst } from '../platform/database.ts';
import type { TargetRow } from './store.ts';

/** A row's part as the core has it; the objective at the top is an amount. */
export function partOf(row: Pick<TargetRow, 'percent' | 'amount'>): TargetPart {
  return row.percent !== null
    ? { kind: 'percent', percent: Number(row.percent) }
    : { kind: 'amount', amount: row.amount ?? 0 };
}

/** A row as the core has it. */
export function entryOf(row: TargetRow): TargetEntry {
  const { id, parentId, name, kind, scope, seller, untilMonth } = row;
  const until = untilMonth === null ? null : monthFrom(fromFirst(untilMonth));
  return { id, parent: parentId, name, kind, scope, seller, until, part: partOf(row) };
}

/** Lays a year's rows out as a tree in the order of display, each with what it comes to. */
export function layOut(
  fiscalYear: number,
  rows: readonly TargetRow[],
  standings: YearStandings,
  tree: MemberTree,
  minorDigits: number,
  typed: ReadonlyMap<string, { by: string; at: Date }>,
): TargetTree {
  const lines = targetTree(rows.map(entryOf), standings, tree, 10 ** minorDigits);
  const nodes = lines.map(({ entry, holder, ...line }) => {
    const by = typed.get(String(entry.id));
    return {
      ...entry,
      ...line,
      scope: [...entry.scope],
      until: entry.until === null ? null : monthText(entry.until),
      counts: holder && { scope: [...holder.scope], seller: holder.seller },
      typed: by ? { by: by.by, at: by.at.toISOString() } : null,
    };
  });
  return { fiscalYear, due: nodes[0]?.due ?? null, nodes };
}
