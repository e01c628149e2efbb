/** The single largest differences of a comparison, with where they are: what to look at first. */
import type { Scope } from '../dimensions/dimension.ts';
import type { MemberTree } from '../dimensions/member-tree.ts';
import { lastSuccessors } from '../dimensions/successors.ts';
import { MEASURES, type VersionMeasure } from '../measures/catalogue.ts';
import type { ComparisonRow } from './compare.ts';
import { isMaterial, varianceOf, type Materiality } from './variance.ts';

export interface LargeDifference {
  readonly key: string;
  /** The row's name, or "Rill for Dew". */
  readonly label: string;
  /** What it lies in; empty where that is everything. */
  readonly where: string;
  readonly scope: Scope;
  readonly amount: number;
  readonly bad: boolean;
}

/** Rows below which nothing is compared: lines, or where a target is said as far as it goes. */
function lowestOf(rows: readonly ComparisonRow[]): ReadonlySet<ComparisonRow> {
  return new Set(
    rows.filter(({ level, variance }, place) => {
      if (!variance) return false;
      const end = rows.findIndex((row, at) => at > place && row.level <= level);
      const below = rows.slice(place + 1, end < 0 ? undefined : end);
      return below.every((row) => !row.variance);
    }),
  );
}

interface Found {
  readonly row: ComparisonRow;
  readonly where: string;
}

/**
 * The largest differences among the lowest rows, those that matter. Rows of which one replaces the
 * other are one difference, where the measure adds up.
 * @param rows those above before those below
 * @param most so many are named
 */
export function largestDifferences(
  rows: readonly ComparisonRow[],
  tree: MemberTree,
  measure: VersionMeasure,
  least: Materiality,
  most: number,
): LargeDifference[] {
  const { display, sense, nature } = MEASURES[measure];
  const standsFor = lastSuccessors(tree);
  const lowest = lowestOf(rows);
  const above: ComparisonRow[] = [];
  const groups = new Map<string, Found[]>();
  for (const row of rows) {
    above.length = row.level;
    // What it lies in by the other dimensions; of one dimension the outermost.
    const outer = above.findLast(({ scope }) => scope.length < row.scope.length) ?? above[0];
    above.push(row);
    if (!lowest.has(row)) continue;
    const adds = nature === 'flow' || nature === 'stock';
    const key = adds ? row.scope.map(standsFor).join() : row.key;
    groups.set(key, [...(groups.get(key) ?? []), { row, where: outer?.label ?? '' }]);
  }
  const differences = [...groups.values()].flatMap((group): LargeDifference[] => {
    const [first] = group;
    if (!first) return [];
    const last = group.find(({ row }) => row.scope.every((id) => standsFor(id) === id)) ?? first;
    const sum = (of: (row: ComparisonRow) => number | null): number =>
      group.reduce((all, { row }) => all + (of(row) ?? 0), 0);
    const variance =
      group.length === 1
        ? first.row.variance
        : varianceOf(
            sum(({ actual }) => actual.value),
            sum(({ plan }) => plan.value),
            sense,
          );
    if (!variance || !isMaterial(variance, display, least)) return [];
    const others = group.filter((one) => one !== last).map(({ row }) => row.label);
    return [
      {
        key: last.row.key,
        label: [last.row.label, ...(others.length > 0 ? [others.join(' and ')] : [])].join(' for '),
        where: last.where,
        scope: [...new Set(group.flatMap(({ row }) => row.scope))],
        amount: variance.amount,
        bad: variance.judgement === 'bad',
      },
    ];
  });
  return differences.sort((a, b) => Math.abs(b.amount) - Math.abs(a.amount)).slice(0, most);
}
