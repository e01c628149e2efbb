import type { TargetNode, TargetTree } from '@dravex/contract';
import { ratio, shareOut, type Scope, type TargetPart, type YearStandings } from '@dravex/core';
import type { TargetRow } from './store.ts';

/** A row's part as the core has it; the objective at the top is an amount. */
export function partOf(row: Pick<TargetRow, 'percent' | 'amount'>): TargetPart {
  return row.percent !== null
    ? { kind: 'percent', percent: Number(row.percent) }
    : { kind: 'amount', amount: row.amount ?? 0 };
}

/** Lays a year's rows out as a tree in the order of display, each with what it comes to. */
export function layOut(
  fiscalYear: number,
  rows: readonly TargetRow[],
  standings: YearStandings,
  minorDigits: number,
  typed: ReadonlyMap<string, { by: string; at: Date }>,
): TargetTree {
  const below = new Map<number | null, TargetRow[]>();
  for (const row of rows) below.set(row.parentId, [...(below.get(row.parentId) ?? []), row]);
  const minor = 10 ** minorDigits;
  const nodes: TargetNode[] = [];

  const visit = (
    row: TargetRow,
    amount: number,
    above: number | null,
    level: number,
    inherited: Scope,
  ): void => {
    const scope = row.scope.length > 0 ? row.scope : inherited;
    const children = below.get(row.id) ?? [];
    const shared = shareOut(amount, children.map(partOf));
    const by = typed.get(String(row.id));
    const stands = standings.of({ scope, seller: row.seller });
    nodes.push({
      id: row.id,
      parent: row.parentId,
      level,
      name: row.name,
      kind: row.kind,
      scope: row.scope,
      seller: row.seller,
      part: partOf(row),
      typed: by ? { by: by.by, at: by.at.toISOString() } : null,
      amount,
      share: above === null ? null : ratio(amount, above),
      unassigned: children.length > 0 ? shared.unassigned : null,
      overAssigned: children.length > 0 ? shared.overAssigned : null,
      percentsBelow: shared.percents,
      lastYear: Math.round(stands.lastYear * minor),
      actual: Math.round(stands.actual * minor),
      ahead: Math.round(stands.ahead * minor),
      aheadShare: stands.aheadShare,
      outlook: Math.round(stands.outlook * minor),
      attained: ratio(stands.actual * minor, amount),
    });
    children.forEach((child, index) => {
      visit(child, shared.amounts[index] ?? 0, amount, level + 1, scope);
    });
  };
  for (const top of below.get(null) ?? []) visit(top, top.amount ?? 0, null, 0, []);
  return { fiscalYear, due: standings.due(), nodes };
}
