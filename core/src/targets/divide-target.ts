/**
 * Dividing a target anew: among its parts by bases, down a whole tree, in proportion where the one
 * above changes, and among those who stay when somebody leaves. Source: calculations, *Exact
 * division* and *Targets* (bases).
 */
import type { Month } from '../calendar/month.ts';
import { sharesOf } from '../measures/nature.ts';
import { allocate, divide, DivisionError } from '../spread/divide.ts';
import { shareOut } from './share-out.ts';
import type { TargetEntry, TargetLine } from './target-tree.ts';

/** By what a target can be divided. */
export const BASES = ['equal', 'lastYear', 'forecast', 'capacity'] as const;
export type Basis = (typeof BASES)[number];

/** How much each basis counts: any weights, zero or more; one alone is that basis. */
export type Mix = Readonly<Partial<Record<Basis, number>>>;

/** What a basis says of a line; nobody's less than nothing counts. */
function valueOf(line: TargetLine, basis: Basis): number {
  switch (basis) {
    case 'equal':
      return 1;
    case 'lastYear':
      return Math.max(0, line.lastYear);
    case 'forecast':
      return Math.max(0, line.outlook);
    case 'capacity':
      return Math.max(0, line.capacity ?? 0);
  }
}

/**
 * The weights of some lines by a mix of bases: each basis as shares of its own sum, times how much
 * it counts. A basis that says nothing of any of them is left out.
 */
export function weightsBy(mix: Mix, lines: readonly TargetLine[]): number[] {
  const weights = lines.map(() => 0);
  const bases = BASES.filter((basis) => (mix[basis] ?? 0) > 0);
  for (const basis of bases) {
    const values = lines.map((line) => valueOf(line, basis));
    // One basis alone divides by its whole numbers, exactly.
    const shares = bases.length === 1 ? values : sharesOf(values).map((share) => share ?? 0);
    shares.forEach((share, place) => {
      weights[place] = (weights[place] ?? 0) + share * (mix[basis] ?? 0);
    });
  }
  return weights;
}

const total = (values: readonly number[]): number => values.reduce((all, value) => all + value, 0);

/**
 * What some lines get of a total, by a mix of bases; those that are locked keep theirs.
 * @param lines the parts of one node
 * @returns amounts in their order, adding up to the total
 * @throws DivisionError when the locks go beyond the total, or no basis says anything
 */
export function proposeParts(total: number, lines: readonly TargetLine[], mix: Mix): number[] {
  // What is locked takes no part, also not in what each basis adds up to.
  const free = lines.filter(({ entry }) => !entry.locked);
  const weights = new Map(weightsBy(mix, free).map((weight, place) => [free[place], weight]));
  return allocate(
    total,
    lines.map((line) => ({
      weight: weights.get(line) ?? 0,
      locked: line.entry.locked ? line.amount : undefined,
    })),
  ).amounts;
}

/** The lines directly below each node. */
function partsByNode(lines: readonly TargetLine[]): Map<number, TargetLine[]> {
  const below = new Map<number, TargetLine[]>();
  for (const line of lines) {
    const { parent } = line.entry;
    if (parent === null) continue;
    const known = below.get(parent);
    if (known) known.push(line);
    else below.set(parent, [line]);
  }
  return below;
}

export interface Division {
  readonly mix: Mix;
  /** Whether the cushion of the node is handed out, too. */
  readonly withCushion: boolean;
  /** Whether what lies below its parts is divided by the same, all the way down. */
  readonly deep: boolean;
}

/**
 * Divides a node's target among its parts by a mix of bases, and on downwards where that is wanted.
 * Below, where no basis says anything of any part, parts stay in the proportion in which they stand.
 * @param lines the whole tree
 * @returns new amounts by node, of every part that is divided
 * @throws DivisionError at the node itself; below it, only when locks go beyond a total
 */
export function divideTarget(
  lines: readonly TargetLine[],
  node: number,
  { mix, withCushion, deep }: Division,
): Map<number, number> {
  const byNode = partsByNode(lines);
  const made = new Map<number, number>();
  const top = lines.find(({ entry }) => entry.id === node);
  const share = (line: TargetLine, amount: number, first: boolean): void => {
    const parts = byNode.get(line.entry.id) ?? [];
    if (parts.length === 0) return;
    const cushioned = withCushion ? Math.round(amount * (1 + line.entry.cushion / 100)) : amount;
    const free = parts.filter(({ entry }) => !entry.locked);
    const says = total(weightsBy(mix, free)) > 0;
    const amounts =
      first || says ? proposeParts(cushioned, parts, mix) : asTheyStand(cushioned, parts);
    parts.forEach((part, place) => {
      const own = amounts[place] ?? 0;
      made.set(part.entry.id, own);
      if (deep) share(part, own, false);
    });
  };
  if (top) share(top, top.amount, true);
  return made;
}

/** Parts of a total in the proportion in which they stand, equal where all are zero; locks are kept. */
function asTheyStand(sum: number, parts: readonly TargetLine[]): number[] {
  const sizes = parts.map(({ amount }) => Math.abs(amount));
  const alike = parts.every(({ entry, amount }) => entry.locked || amount === 0);
  return allocate(
    sum,
    parts.map(({ entry, amount }, place) => ({
      weight: alike ? 1 : (sizes[place] ?? 0),
      locked: entry.locked ? amount : undefined,
    })),
  ).amounts;
}

/**
 * Passes a change of a node's target down in proportion: percents follow by themselves, amounts are
 * scaled to the cent, locked ones stay, and what was unassigned grows with the rest.
 * @param change what the node's target was, and what it becomes
 * @returns new amounts of parts that were typed as amounts
 * @throws DivisionError when locked parts go beyond a new target
 */
export function passDown(
  lines: readonly TargetLine[],
  node: number,
  change: { readonly was: number; readonly becomes: number },
): Map<number, number> {
  const byNode = partsByNode(lines);
  const made = new Map<number, number>();
  const pass = (line: TargetLine, was: number, becomes: number): void => {
    const parts = byNode.get(line.entry.id) ?? [];
    if (parts.length === 0 || was === becomes) return;
    const typed = parts.map(({ entry }) => entry.part);
    const [before, after] = [was, becomes].map((whole) => shareOut(whole, typed).amounts);
    const scales = ({ entry }: TargetLine): boolean =>
      entry.part.kind === 'amount' && !entry.locked;
    const sizes = parts.flatMap((part, place) => (scales(part) ? [before?.[place] ?? 0] : []));
    const kept = total(parts.map((part, place) => (scales(part) ? 0 : (after?.[place] ?? 0))));
    // What was left, or too much, stays in proportion, too.
    const out = total(before ?? []);
    const rest = (was === 0 ? becomes : roundedShare(out, becomes, was)) - kept;
    const held = parts.some(({ entry }) => entry.locked && entry.part.kind === 'amount');
    if (rest < 0 && (held || sizes.length > 0)) {
      throw new DivisionError(
        'over-committed',
        `What is locked below ${line.entry.name} goes beyond its new target`,
        -rest,
      );
    }
    const alike = total(sizes) === 0;
    const shares =
      sizes.length === 0
        ? []
        : divide(
            rest,
            sizes.map((size) => (alike ? 1 : size)),
          );
    let at = 0;
    parts.forEach((part, place) => {
      const own = scales(part) ? (shares[at++] ?? 0) : (after?.[place] ?? 0);
      if (scales(part)) made.set(part.entry.id, own);
      pass(part, before?.[place] ?? 0, own);
    });
  };
  const top = lines.find(({ entry }) => entry.id === node);
  if (top) pass(top, change.was, change.becomes);
  return made;
}

/** amount x next / before, rounded half up, on integers. */
function roundedShare(amount: number, next: number, before: number): number {
  const [a, b, c] = [BigInt(amount), BigInt(next), BigInt(before)];
  return Number((a * b * 2n + c) / (c * 2n));
}

/** What becomes of a target when somebody leaves: what is due through the last month, and the rest. */
export interface HandOver {
  /** What stays with who leaves. */
  readonly stays: number;
  /** What is handed over: the months after the last one. */
  readonly rest: number;
  /** New amounts of those who take it over. */
  readonly amounts: ReadonlyMap<number, number>;
}

/**
 * Divides what is left of somebody's target among those beside who stay, by a mix of bases.
 * @param until the last month of who leaves
 * @param start the first month of the fiscal year
 * @throws DivisionError when nobody stays, or no basis says anything of them
 */
export function handOver(
  lines: readonly TargetLine[],
  leaver: number,
  { until, start, mix }: { readonly until: Month; readonly start: Month; readonly mix: Mix },
): HandOver {
  const line = lines.find(({ entry }) => entry.id === leaver);
  if (!line) return { stays: 0, rest: 0, amounts: new Map() };
  const leaves = ({ until: last }: TargetEntry): boolean => last !== null && last <= until;
  const stayers = lines.filter(
    ({ entry }) =>
      entry.parent === line.entry.parent &&
      entry.id !== leaver &&
      entry.kind === 'person' &&
      !entry.locked &&
      !leaves(entry),
  );
  if (stayers.length === 0) {
    throw new DivisionError('no-weights', `Nobody stays beside ${line.entry.name} to take it over`);
  }
  // Without a season the months are alike.
  const months =
    line.months ??
    divide(
      line.amount,
      Array.from({ length: 12 }, () => 1),
    );
  const stays = total(months.slice(0, Math.max(0, until - start + 1)));
  const rest = line.amount - stays;
  const shares = divide(rest, weightsBy(mix, stayers));
  return {
    stays,
    rest,
    amounts: new Map(
      stayers.map((stayer, place) => [stayer.entry.id, stayer.amount + (shares[place] ?? 0)]),
    ),
  };
}
