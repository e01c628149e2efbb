/** The rows of a plan that is filled in, and what they come to. Source: calculations, *Budget*. */
import type { Span } from '../calendar/period.ts';
import type { Combination, Scope } from '../dimensions/dimension.ts';
import type { MemberTree } from '../dimensions/member-tree.ts';
import { inScope, rowTree } from '../dimensions/row-tree.ts';
import { inBoth } from '../dimensions/scopes.ts';
import { seriesOf, type Figures } from '../tables/figures.ts';
import { UNIT_PARTS } from './cell.ts';

/** What a plan is filled in, line by line. */
export const FILLED_MEASURES = ['units', 'revenue', 'cost'] as const;
export type FilledMeasure = (typeof FILLED_MEASURES)[number];

/** A line of a plan, or a total of the lines below it. */
export interface PlanRow {
  /** The members from the outermost, joined; empty for the total of all. */
  readonly key: string;
  readonly name: string;
  /** 0 for the total of all. */
  readonly level: number;
  readonly parent: boolean;
  /** The scope of all rows, narrowed by the row's members. */
  readonly scope: Scope;
  /** Which combinations it is made of, as indexes. */
  readonly parts: readonly number[];
}

/**
 * The rows of a scope, the total of all of them first, those above before those below.
 * @param dimensions whose members are the lines, the outer one first
 */
export function planRows(
  tree: MemberTree,
  combinations: readonly Combination[],
  scope: Scope,
  dimensions: readonly string[],
): PlanRow[] {
  const held = inScope(tree, combinations, scope);
  const rows = rowTree(tree, combinations, dimensions, (index) => held.has(index)).map(
    ({ key, label, level, parent, scope: own, parts }): PlanRow => ({
      ...{ key, name: label, level: level + 1, parent, parts },
      scope: inBoth(tree, scope, own),
    }),
  );
  const total = { key: '', name: 'Total', level: 0, parent: rows.length > 0, scope };
  return [{ ...total, parts: [...held] }, ...rows];
}

/**
 * What some combinations come to in some months; months that lie outside are left out.
 * @param parts indexes of combinations
 * @param minor how many minor units the currency unit has
 * @returns units, or money in minor units; null where something of it is missing
 */
export function summedIn(
  figures: Figures,
  measure: FilledMeasure,
  parts: readonly number[],
  { from, to }: Span,
  minor: number,
): number | null {
  const series = seriesOf(figures, measure);
  const first = Math.max(0, from - figures.first);
  const last = Math.min(figures.count - 1, to - figures.first);
  let sum = 0;
  for (const part of parts) {
    for (let t = first; t <= last; t += 1) sum += series[part * figures.count + t] ?? 0;
  }
  if (Number.isNaN(sum)) return null;
  return measure === 'units' ? Math.round(sum * UNIT_PARTS) / UNIT_PARTS : Math.round(sum * minor);
}
