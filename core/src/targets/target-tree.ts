/**
 * A year's target tree: what each node comes to, where it stands, and what none of its parts sells.
 * Source: calculations, *Targets*.
 */
import type { Month } from '../calendar/month.ts';
import type { Scope } from '../dimensions/dimension.ts';
import type { MemberTree } from '../dimensions/member-tree.ts';
import { inBoth } from '../dimensions/scopes.ts';
import { ratio } from '../measures/nature.ts';
import { attainment } from './attainment.ts';
import { shareOut, type TargetPart } from './share-out.ts';
import type { Holder, YearMonths, YearStandings } from './standing.ts';

export type TargetKind = 'company' | 'area' | 'person';

/** A node as it is kept. */
export interface TargetEntry {
  readonly id: number;
  /** The node above; null at the top. */
  readonly parent: number | null;
  readonly name: string;
  readonly kind: TargetKind;
  /** Its own: it narrows the scope of the node above. */
  readonly scope: Scope;
  /** Its own; below a person the seller holds too. */
  readonly seller: string | null;
  /** The last month of a person who leaves. */
  readonly until: Month | null;
  readonly part: TargetPart;
}

/** Where a node, or what is left beside its parts, stands; money in minor units. */
export interface TargetStanding {
  /** Actual sales of the year before, all of it. */
  readonly lastYear: number;
  /** Actual sales of the closed months of the year. */
  readonly actual: number;
  /** Actual of the closed months and forecast of the open ones. */
  readonly outlook: number;
}

/** A node with what it comes to; money in minor units, ratios as fractions. */
export interface TargetLine extends TargetStanding {
  readonly entry: TargetEntry;
  readonly level: number;
  /** What it counts: the scopes above it narrowed by its own; null for one that only groups its parts. */
  readonly holder: Holder | null;
  /** The target itself, exact. */
  readonly amount: number;
  /** Of the target above; null at the top or where that is zero. */
  readonly share: number | null;
  /** Of its own target, what its parts leave or exceed; null when it has no parts. */
  readonly unassigned: number | null;
  readonly overAssigned: number | null;
  /** The percents typed below it, added up. */
  readonly percentsBelow: number;
  /** What is sold in it by none of its parts, so that every level adds up; null when it has none. */
  readonly others: TargetStanding | null;
  /** Forecast of the scope in the open months of the year, and the part of it that is the holder's. */
  readonly ahead: number;
  readonly aheadShare: number;
  /**
   * Of the year's target, the part that is due by the last closed month, by the season of the node's
   * own year before, of the node above where it sold nothing; null without any history.
   */
  readonly due: number | null;
  /** Actual over the target of the year; null when the target is zero. */
  readonly attained: number | null;
  /** Actual over the target that is due; null where nothing is. */
  readonly toDate: number | null;
  /** What each month left has to bring; null when no month is left. */
  readonly pace: number | null;
}

/** What a node counts: below a scope its own narrows it, below a person the seller holds too. */
export function holderBelow(
  tree: MemberTree,
  above: Holder,
  { scope, seller, until }: Pick<TargetEntry, 'scope' | 'seller' | 'until'>,
): Holder {
  const earliest = [above.until, until].filter((month) => month !== null);
  return {
    scope: inBoth(tree, above.scope, scope),
    seller: seller ?? above.seller,
    until: earliest.length === 0 ? null : Math.min(...earliest),
  };
}

/** The whole company's sales. */
export const EVERYTHING: Holder = { scope: [], seller: null, until: null };

/** Whether a node counts by itself: a team without a scope of its own is what its parts are. */
export const isGroup = ({ parent, scope, seller }: TargetEntry): boolean =>
  parent !== null && scope.length === 0 && seller === null;

/** Months of several holders, added up; the whole of what is ahead is theirs. */
function together(all: readonly YearMonths[]): YearMonths {
  const added = (of: (one: YearMonths) => readonly number[]): number[] => {
    const longest = Math.max(0, ...all.map((one) => of(one).length));
    return Array.from({ length: longest }, (_, month) =>
      all.reduce((sum, one) => sum + (of(one)[month] ?? 0), 0),
    );
  };
  return {
    before: added(({ before }) => before),
    actual: added(({ actual }) => actual),
    ahead: added(({ ahead, aheadShare }) => ahead.map((value) => value * aheadShare)),
    aheadShare: 1,
  };
}

const sum = (values: readonly number[]): number => values.reduce((all, value) => all + value, 0);

/** A year that was sold nothing in has no season. */
const hasSeason = (weights: readonly number[]): boolean => weights.some((weight) => weight > 0);

/**
 * Lays a year's entries out as a tree in the order of display, each with what it comes to. Parts are
 * divided to the cent; with what is left and what none of the parts sells, every level adds up to the
 * one above it.
 * @param entries siblings in their order
 * @param minor how many minor units the currency unit has
 */
export function targetTree(
  entries: readonly TargetEntry[],
  standings: YearStandings,
  tree: MemberTree,
  minor: number,
): TargetLine[] {
  const below = new Map<number | null, TargetEntry[]>();
  for (const entry of entries) {
    const siblings = below.get(entry.parent);
    if (siblings) siblings.push(entry);
    else below.set(entry.parent, [entry]);
  }
  const childrenOf = (entry: TargetEntry): readonly TargetEntry[] => below.get(entry.id) ?? [];
  const monthsOf = new Map<number, YearMonths>();
  const holders = new Map<number, Holder>();
  const measure = (entry: TargetEntry, above: Holder): YearMonths => {
    const holder = holderBelow(tree, above, entry);
    holders.set(entry.id, holder);
    const parts = childrenOf(entry).map((child) => measure(child, holder));
    const months = isGroup(entry) ? together(parts) : standings.of(holder);
    monthsOf.set(entry.id, months);
    return months;
  };
  const standingOf = ({ before, actual, ahead, aheadShare }: YearMonths): TargetStanding => ({
    lastYear: Math.round(sum(before) * minor),
    actual: Math.round(sum(actual) * minor),
    outlook: Math.round((sum(actual) + sum(ahead) * aheadShare) * minor),
  });

  const lines: TargetLine[] = [];
  const visit = (
    entry: TargetEntry,
    amount: number,
    above: number | null,
    level: number,
    season: readonly number[],
  ): void => {
    const children = childrenOf(entry);
    const shared = shareOut(
      amount,
      children.map(({ part }) => part),
    );
    const months = monthsOf.get(entry.id) ?? together([]);
    const own = standingOf(months);
    const parts = children.map((child) => standingOf(monthsOf.get(child.id) ?? together([])));
    const rest = (code: keyof TargetStanding): number =>
      own[code] - parts.reduce((all, part) => all + part[code], 0);
    // A month in which more came back than was sold has no weight.
    const weights = months.before.map((value) => Math.max(0, Math.round(value * minor)));
    const shown = hasSeason(weights) ? weights : season;
    const inMinor = (values: readonly number[], share = 1): number[] =>
      values.map((value) => value * share * minor);
    const reached = hasSeason(shown)
      ? attainment(amount, shown, inMinor(months.actual), inMinor(months.ahead, months.aheadShare))
      : null;
    lines.push({
      entry,
      level,
      holder: isGroup(entry) ? null : (holders.get(entry.id) ?? EVERYTHING),
      amount,
      ...own,
      share: above === null ? null : ratio(amount, above),
      unassigned: children.length > 0 ? shared.unassigned : null,
      overAssigned: children.length > 0 ? shared.overAssigned : null,
      percentsBelow: shared.percents,
      others:
        children.length === 0
          ? null
          : { lastYear: rest('lastYear'), actual: rest('actual'), outlook: rest('outlook') },
      ahead: Math.round(sum(months.ahead) * minor),
      aheadShare: months.aheadShare,
      due: dueBy(shown, standings.closedMonths),
      attained: ratio(own.actual, amount),
      toDate: reached?.toDate ?? null,
      pace: reached?.pace ?? null,
    });
    children.forEach((child, index) => {
      visit(child, shared.amounts[index] ?? 0, amount, level + 1, shown);
    });
  };
  for (const top of below.get(null) ?? []) {
    measure(top, EVERYTHING);
    visit(top, top.part.kind === 'amount' ? top.part.amount : 0, null, 0, []);
  }
  return lines;
}

/** Which part of a year is due after so many months, by its season. */
function dueBy(weights: readonly number[], months: number): number | null {
  return ratio(sum(weights.slice(0, months)), sum(weights));
}
