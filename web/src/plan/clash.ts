import type { Conflict } from '@dravex/contract';
import {
  MEASURES,
  monthFrom,
  type VersionMeasure,
  type MemberTree,
  type MonthText,
  type Scope,
} from '@dravex/core';
import { spanInWords } from '../format/periods.ts';
import type { Clash } from './use-plan.ts';

/** Which of what was sent a conflict is about: the number in its path, `typed.3`. */
function placeIn({ path }: Conflict): number {
  return Number(path.split('.')[1]);
}

/** A scope in words, as a clash names it. */
export function whereInWords(tree: MemberTree, scope: Scope): string {
  return scope.length > 0 ? tree.label(scope) : 'everything';
}

/**
 * What two people changed at once, both values side by side.
 * @param sent what was sent, of which each conflict names one
 * @param tell what it is, what is there now and what was typed, in words
 */
export function clashRows<Sent>(
  sent: readonly Sent[],
  conflicts: readonly Conflict[],
  tell: (
    one: Sent | undefined,
    conflict: Conflict,
  ) => { readonly label: string; readonly theirs: string; readonly mine: string },
): Clash['rows'] {
  return conflicts.map((conflict) => ({
    ...tell(sent[placeIn(conflict)], conflict),
    by: conflict.by,
    at: conflict.at,
  }));
}

/** What was sent, having seen what is there now: sent again, it goes over it. */
export function havingSeen<Sent extends object>(
  sent: readonly Sent[],
  conflicts: readonly Conflict[],
): (Sent & { saw?: number | null })[] {
  const now = new Map(conflicts.map((conflict) => [placeIn(conflict), conflict.now]));
  return sent.map((one, place) => (now.has(place) ? { ...one, saw: now.get(place) ?? null } : one));
}

/** A total that was typed over the cells of a scope and some months. */
interface TypedTotal {
  readonly scope: Scope;
  readonly from: MonthText;
  readonly to: MonthText;
  readonly measure: VersionMeasure;
  readonly total: number;
}

/**
 * Totals that somebody else changed meanwhile.
 * @param what they are of: the forecast, or a version by its name
 * @param show a total in words
 */
export function clashedTotals(
  tree: MemberTree,
  what: string,
  sent: readonly TypedTotal[],
  conflicts: readonly Conflict[],
  show: (total: number | null, measure: VersionMeasure) => string,
): Clash['rows'] {
  return clashRows(sent, conflicts, (one, { now }) => {
    const { measure = 'revenue', scope = [], from = '1970-01', to = from } = one ?? {};
    const months = spanInWords({ from: monthFrom(from), to: monthFrom(to) });
    return {
      label: `${what}, ${MEASURES[measure].name.toLowerCase()}, ${whereInWords(tree, scope)}, ${months}`,
      theirs: show(now, measure),
      mine: show(one?.total ?? null, measure),
    };
  });
}
