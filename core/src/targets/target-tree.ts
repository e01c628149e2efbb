/**
 * A year's target tree: what each node comes to, where it stands, and what none of its parts sells.
 * Source: calculations, *Targets*.
 */
import type { Month } from '../calendar/month.ts';
import type { Scope } from '../dimensions/dimension.ts';
import type { MemberTree } from '../dimensions/member-tree.ts';
import { inBoth } from '../dimensions/scopes.ts';
import { ratio } from '../measures/nature.ts';
import { attainmentOf, phase } from './attainment.ts';
import { capacityByMonth, type Ramping } from './capacity.ts';
import { shareOut, type TargetPart } from './share-out.ts';
import { YEAR, type Holder, type YearMonths, type YearStandings } from './standing.ts';
import { meaningOf, type TargetMeasure } from './target-measure.ts';

export type TargetKind = 'company' | 'area' | 'person';

/** A node as it is kept. Amounts are in the whole numbers in which its measure is kept. */
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
  /** Of a part below a person: the code of the customer whose sales it counts. */
  readonly account: string | null;
  /** The first month of a person who joins. */
  readonly from: Month | null;
  /** The last month of a person who leaves. */
  readonly until: Month | null;
  /** Shares of full capacity by months since the start, as fractions. */
  readonly ramp: readonly number[];
  /** What a person can sell in a month when in full swing; null where nobody said. */
  readonly full: number | null;
  /** What may be handed out beyond the target, in percent: 4 is 4 %. */
  readonly cushion: number;
  /** Whether its target stays when those beside it are divided anew. */
  readonly locked: boolean;
  /** Twelve months typed by hand, by which the target is phased; null to go by season. */
  readonly months: readonly number[] | null;
  readonly part: TargetPart;
}

/** What a node has that nobody has said anything about. */
export const PLAIN_ENTRY = {
  scope: [],
  seller: null,
  account: null,
  from: null,
  until: null,
  ramp: [],
  full: null,
  cushion: 0,
  locked: false,
  months: null,
} as const satisfies Partial<TargetEntry>;

/** Where a node, or what is left beside its parts, stands; in whole numbers of its measure. */
export interface TargetStanding {
  /** Actual of the year before, all of it. */
  readonly lastYear: number;
  /** Actual of the closed months of the year. */
  readonly actual: number;
  /** Actual of the closed months and forecast of the open ones. */
  readonly outlook: number;
}

/** A node with what it comes to; in whole numbers of its measure, ratios as fractions. */
export interface TargetLine extends TargetStanding {
  readonly entry: TargetEntry;
  readonly level: number;
  /** What it counts: the scopes above it narrowed by its own; null for one that only groups its parts. */
  readonly holder: Holder | null;
  /** Whether anybody knows where it stands; otherwise its standing is 0. */
  readonly known: boolean;
  /** The target itself, exact. */
  readonly amount: number;
  /** Of the target above; null at the top or where that is zero. */
  readonly share: number | null;
  /** target x (1 + cushion): what its parts may come to. */
  readonly assignable: number;
  /** Of its own target, what its parts leave; beyond what is assignable; null when it has no parts. */
  readonly unassigned: number | null;
  readonly overAssigned: number | null;
  /** What its parts come to beyond the target, as far as the cushion allows; 0 without parts. */
  readonly cushionUsed: number;
  /** The percents typed below it, added up. */
  readonly percentsBelow: number;
  /** What is sold in it by none of its parts, so that every level adds up; null when it has none. */
  readonly others: TargetStanding | null;
  /** Forecast of the scope in the open months of the year, and the part of it that is the holder's. */
  readonly ahead: number;
  readonly aheadShare: number;
  /** What its people can sell in the year; null where nobody said of any of them. */
  readonly capacity: number | null;
  /** The most of any twelve months in a row so far. */
  readonly best: number;
  /** The target over the twelve months, exact; null without any history and nothing typed. */
  readonly months: readonly number[] | null;
  /**
   * Of the year's target, the part that is due by the last closed month: as it was typed by hand,
   * by the season of the node's own year before, of the node above where it sold nothing; null
   * without any history.
   */
  readonly due: number | null;
  /** Actual over the target of the year; null when the target is zero. */
  readonly attained: number | null;
  /** Actual over the target that is due; null where nothing is. */
  readonly toDate: number | null;
  /** What each month left has to bring; null when no month is left. */
  readonly pace: number | null;
}

type Held = Pick<TargetEntry, 'scope' | 'seller' | 'account' | 'from' | 'until'>;

/** What a node counts: below a scope its own narrows it, below a person the seller holds too. */
export function holderBelow(tree: MemberTree, above: Holder, entry: Held): Holder {
  const { scope, seller, account, from, until } = entry;
  const said = (one: Month | null, other: Month | null, which: typeof Math.min): Month | null =>
    one === null || other === null ? (one ?? other) : which(one, other);
  return {
    scope: inBoth(tree, above.scope, scope),
    seller: seller ?? above.seller,
    account: account ?? above.account,
    from: said(above.from, from, Math.max),
    until: said(above.until, until, Math.min),
    less: [],
  };
}

/** The whole company's sales. */
export const EVERYTHING: Holder = {
  ...{ scope: [], seller: null, account: null, from: null, until: null },
  less: [],
};

/**
 * How particular a part below a person is: account and product, then account, then product, then
 * the rest. A sale counts for the most particular one.
 */
export const rankOf = ({ account, scope }: Pick<TargetEntry, 'account' | 'scope'>): number =>
  (account === null ? 0 : 2) + (scope.length === 0 ? 0 : 1);

/**
 * Whether a node counts by itself: a team without a scope of its own is what its parts are. Below a
 * person it is the rest.
 */
export const isGroup = (
  { parent, scope, seller, account }: TargetEntry,
  above: Pick<Holder, 'seller'>,
): boolean =>
  parent !== null &&
  scope.length === 0 &&
  seller === null &&
  account === null &&
  above.seller === null;

/** What the parts below one node count, the more particular ones before the others. */
export function holdersBelow(
  tree: MemberTree,
  above: Holder,
  children: readonly TargetEntry[],
): Holder[] {
  const plain = children.map((child) => holderBelow(tree, above, child));
  if (above.seller === null) return plain;
  return plain.map((holder, place) => {
    const own = children[place];
    const less = plain.filter((_, other) => {
      const beside = children[other];
      return own && beside && rankOf(beside) > rankOf(own);
    });
    return { ...holder, less: [...above.less, ...less] };
  });
}

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
    best: all.reduce((best, one) => best + one.best, 0),
  };
}

const sum = (values: readonly number[]): number => values.reduce((all, value) => all + value, 0);

/** A year that was sold nothing in has no season. */
const hasSeason = (weights: readonly number[]): boolean => weights.some((weight) => weight > 0);

/** The months of somebody who is not there all year long: nothing before joining, nor after leaving. */
function whileThere(weights: readonly number[], holder: Holder, start: Month): readonly number[] {
  const inside = weights.map((_, place) => {
    const month = start + place;
    return month >= (holder.from ?? month) && month <= (holder.until ?? month);
  });
  const kept = weights.map((weight, place) => (inside[place] ? weight : 0));
  if (hasSeason(kept) || !hasSeason(weights)) return kept;
  // The season lies wholly outside: the months that are left are alike.
  return inside.map((is) => (is ? 1 : 0));
}

/** What some entries come to and where they stand, bottom up, for `targetTree`. */
class Measured {
  readonly #below: ReadonlyMap<number | null, TargetEntry[]>;
  readonly #months = new Map<number, YearMonths>();
  readonly #holders = new Map<number, Holder>();
  readonly #groups = new Set<number>();
  readonly #sellers = new Map<number, Ramping[]>();
  readonly #standings = new Map<number, TargetStanding>();

  constructor(
    entries: readonly TargetEntry[],
    readonly standings: YearStandings,
    readonly tree: MemberTree,
    readonly minor: number,
  ) {
    this.#below = childrenByParent(entries);
    for (const top of this.childrenOf(null)) this.#measure(top, EVERYTHING, EVERYTHING);
  }

  childrenOf(entry: TargetEntry | null): readonly TargetEntry[] {
    return this.#below.get(entry === null ? null : entry.id) ?? [];
  }

  holderOf(entry: TargetEntry): Holder {
    return this.#holders.get(entry.id) ?? EVERYTHING;
  }

  isGroup(entry: TargetEntry): boolean {
    return this.#groups.has(entry.id);
  }

  monthsOf(entry: TargetEntry): YearMonths {
    return this.#months.get(entry.id) ?? together([]);
  }

  #measure(entry: TargetEntry, holder: Holder, above: Holder): void {
    this.#holders.set(entry.id, holder);
    const children = this.childrenOf(entry);
    const holders = holdersBelow(this.tree, holder, children);
    children.forEach((child, place) => {
      this.#measure(child, holders[place] ?? EVERYTHING, holder);
    });
    // Of a person's year, the rest is what the other parts leave, in the forecast as well.
    children.forEach((child, place) => {
      const own = holders[place];
      if (holder.seller === null || !own || rankOf(child) > 0) return;
      const others = children.filter((one) => one !== child).map((one) => this.monthsOf(one));
      const whole = this.standings.of(holder);
      const ahead = together([whole]).ahead.map((value, month) => {
        return value - sum(others.map((one) => (one.ahead[month] ?? 0) * one.aheadShare));
      });
      this.#months.set(child.id, { ...this.monthsOf(child), ahead, aheadShare: 1 });
    });
    const group = isGroup(entry, above);
    if (group) this.#groups.add(entry.id);
    const months = group
      ? together(children.map((child) => this.monthsOf(child)))
      : this.standings.of(holder);
    this.#months.set(entry.id, months);
    const own = entry.full === null ? [] : [{ ...holder, ramp: entry.ramp, full: entry.full }];
    const peopleBelow = children.flatMap((child) => this.#sellers.get(child.id) ?? []);
    this.#sellers.set(entry.id, [...own, ...peopleBelow]);
  }

  /** What the people of a node can sell in the year, in whole numbers; null where nobody said. */
  capacityOf(entry: TargetEntry): number | null {
    const people = this.#sellers.get(entry.id) ?? [];
    if (people.length === 0) return null;
    return Math.round(sum(capacityByMonth(people, this.standings.start, YEAR)));
  }

  /** Where an entry stands, worked out once: it counts for itself and in what is above it. */
  standingOf(entry: TargetEntry): TargetStanding {
    const known = this.#standings.get(entry.id);
    if (known) return known;
    const standing = this.#standing(entry);
    this.#standings.set(entry.id, standing);
    return standing;
  }

  #standing(entry: TargetEntry): TargetStanding {
    const { before, actual, ahead, aheadShare } = this.monthsOf(entry);
    const whole = (value: number): number => Math.round(value * this.minor);
    if (meaningOf(this.standings.measure).nature === 'stock') {
      const now = actual.at(-1) ?? before.at(-1) ?? 0;
      const atEnd = ahead.at(-1);
      return {
        lastYear: whole(before.at(-1) ?? 0),
        actual: whole(now),
        outlook: whole(atEnd === undefined ? now : atEnd * aheadShare),
      };
    }
    return {
      lastYear: whole(sum(before)),
      actual: whole(sum(actual)),
      outlook: whole(sum(actual) + sum(ahead) * aheadShare),
    };
  }
}

/** What the parts of a node come to, and what is left or too much. */
export function targetParts(
  { cushion }: Pick<TargetEntry, 'cushion'>,
  amount: number,
  children: readonly Pick<TargetEntry, 'part'>[],
  adds: boolean,
): Pick<
  TargetLine,
  'assignable' | 'unassigned' | 'overAssigned' | 'cushionUsed' | 'percentsBelow'
> & { readonly amounts: readonly number[] } {
  const parts = children.map(({ part }) => part);
  if (!adds) {
    const amounts = parts.map((part) => (part.kind === 'amount' ? part.amount : 0));
    const none = { unassigned: null, overAssigned: null, cushionUsed: 0, percentsBelow: 0 };
    return { amounts, assignable: amount, ...none };
  }
  const { amounts, unassigned, percents } = shareOut(amount, parts);
  const assignable = Math.round(amount + (amount * cushion) / 100);
  const out = sum(amounts);
  const over = Math.max(0, out - assignable);
  const has = children.length > 0;
  return {
    amounts,
    assignable,
    unassigned: has ? unassigned : null,
    overAssigned: has ? over : null,
    cushionUsed: has ? Math.max(0, out - amount - over) : 0,
    percentsBelow: percents,
  };
}

/**
 * What the nodes of an objective's tree come to, without where they stand; in whole numbers.
 * @param entries of one tree or of several, siblings in their order
 */
export function targetAmounts(
  entries: readonly TargetEntry[],
  measure: TargetMeasure,
): Map<number, number> {
  const { adds } = meaningOf(measure);
  const below = childrenByParent(entries);
  const amounts = new Map<number, number>();
  const visit = (entry: TargetEntry, amount: number): void => {
    amounts.set(entry.id, amount);
    const children = below.get(entry.id) ?? [];
    const shared = targetParts(entry, amount, children, adds);
    children.forEach((child, place) => {
      visit(child, shared.amounts[place] ?? 0);
    });
  };
  for (const top of below.get(null) ?? []) visit(top, amountOfTop(top));
  return amounts;
}

/** The target of the whole company is an amount. */
const amountOfTop = ({ part }: TargetEntry): number => (part.kind === 'amount' ? part.amount : 0);

/** Entries by the one above them. */
function childrenByParent(entries: readonly TargetEntry[]): Map<number | null, TargetEntry[]> {
  const below = new Map<number | null, TargetEntry[]>();
  for (const entry of entries) {
    const siblings = below.get(entry.parent);
    if (siblings) siblings.push(entry);
    else below.set(entry.parent, [entry]);
  }
  return below;
}

/**
 * Lays an objective's entries out as a tree in the order of display, each with what it comes to.
 * Parts are divided to the cent; with what is left and what none of the parts sells, every level
 * adds up to the one above it.
 * @param entries siblings in their order
 * @param minor how many of the whole numbers in which targets are kept make one: see `wholesIn`
 */
export function targetTree(
  entries: readonly TargetEntry[],
  standings: YearStandings,
  tree: MemberTree,
  minor: number,
): TargetLine[] {
  const measured = new Measured(entries, standings, tree, minor);
  const { adds, nature } = meaningOf(standings.measure);
  const lines: TargetLine[] = [];
  const visit = (
    entry: TargetEntry,
    amount: number,
    above: number | null,
    level: number,
    season: readonly number[],
  ): void => {
    const children = measured.childrenOf(entry);
    const shared = targetParts(entry, amount, children, adds);
    const holder = measured.holderOf(entry);
    const months = measured.monthsOf(entry);
    const known = standings.knows(holder);
    const own = measured.standingOf(entry);
    const parts = children.map((child) => measured.standingOf(child));
    const rest = (code: keyof TargetStanding): number =>
      own[code] - parts.reduce((all, part) => all + part[code], 0);
    // A month in which more came back than was sold has no weight.
    const weights = months.before.map((value) => Math.max(0, Math.round(value * minor)));
    const shown = hasSeason(weights) ? weights : season;
    const phased =
      nature === 'flow' && amount >= 0
        ? (entry.months ?? whileThere(shown, holder, standings.start))
        : [];
    const inWholes = (values: readonly number[]): number[] => values.map((value) => value * minor);
    const byMonth = hasSeason(phased) ? phase(amount, phased) : null;
    const reached = byMonth && attainmentOf(byMonth, inWholes(months.actual), []);
    lines.push({
      entry,
      level,
      holder: measured.isGroup(entry) ? null : holder,
      known,
      amount,
      lastYear: own.lastYear,
      actual: own.actual,
      outlook: own.outlook,
      assignable: shared.assignable,
      unassigned: shared.unassigned,
      overAssigned: shared.overAssigned,
      cushionUsed: shared.cushionUsed,
      percentsBelow: shared.percentsBelow,
      share: above === null || !adds ? null : ratio(amount, above),
      others:
        children.length === 0
          ? null
          : { lastYear: rest('lastYear'), actual: rest('actual'), outlook: rest('outlook') },
      ahead: Math.round(sum(months.ahead) * minor),
      aheadShare: months.aheadShare,
      capacity: measured.capacityOf(entry),
      best: Math.round(months.best * minor),
      months: byMonth,
      due: hasSeason(phased) ? dueBy(phased, standings.closedMonths) : null,
      attained: known ? ratio(own.actual, amount) : null,
      toDate: known ? (reached?.toDate ?? null) : null,
      pace: known && nature === 'flow' ? paceOf(amount - own.actual, holder, standings) : null,
    });
    children.forEach((child, index) => {
      visit(child, shared.amounts[index] ?? 0, amount, level + 1, shown);
    });
  };
  for (const top of measured.childrenOf(null)) {
    visit(top, amountOfTop(top), null, 0, []);
  }
  return lines;
}

/**
 * What each open month has to bring in which the holder is there; null when none is left.
 * @param missing the target less what is sold
 */
function paceOf(missing: number, holder: Holder, standings: YearStandings): number | null {
  const { start, closedMonths } = standings;
  const open = Math.max(start + closedMonths, holder.from ?? start);
  const last = Math.min(start + YEAR - 1, holder.until ?? start + YEAR - 1);
  return ratio(missing, Math.max(0, last - open + 1));
}

/** Which part of a year is due after so many months, by its season. */
function dueBy(weights: readonly number[], months: number): number | null {
  return ratio(sum(weights.slice(0, months)), sum(weights));
}
