/** A target as deals: how many of which size. Source: calculations, *Targets* (deal plan). */
import { ratio } from '../measures/nature.ts';
import { divide } from '../spread/divide.ts';

/** Deals of one size. */
export interface DealBand {
  readonly name: string;
  /** Average value of a deal, in the unit of the objective. */
  readonly value: number;
  /** How many are planned in the year. */
  readonly count: number;
  /** Of the opportunities, the part that is won, as a fraction above 0. */
  readonly winRate: number;
  /** From an opportunity to its deal, in months. */
  readonly months: number;
}

/** Deals that were made, in bands by their size. */
export interface DealsInBands {
  readonly count: number;
  readonly value: number;
}

/**
 * Counts deals in the bands in which they fall: the one with the highest lower end that is not above
 * them. What is below all of them counts in none.
 * @param bands in any order; the answer is in theirs
 */
export function dealsInBands(
  deals: readonly number[],
  bands: readonly { readonly from: number }[],
): DealsInBands[] {
  const found = bands.map(() => ({ count: 0, value: 0 }));
  const order = bands.map(({ from }, place) => ({ from, place })).sort((a, b) => b.from - a.from);
  for (const deal of deals) {
    const band = order.find(({ from }) => deal >= from);
    const sums = band && found[band.place];
    if (!sums) continue;
    sums.count += 1;
    sums.value += deal;
  }
  return found;
}

/**
 * Bands from deals that were made: large ones bring the upper half of the value, small ones the last
 * tenth; each has their average and their count.
 * @param deals values above 0; fewer than three make one band
 */
export function bandsFromDeals(
  deals: readonly number[],
): { readonly from: number; readonly value: number; readonly count: number }[] {
  const sorted = deals.filter((deal) => deal > 0).sort((a, b) => b - a);
  const whole = sum(sorted);
  const [smallest = 0] = sorted.slice(-1);
  const ends: number[] = [];
  let run = 0;
  for (const deal of sorted) {
    const step = ENDS[ends.length];
    if (step === undefined) break;
    run += deal;
    if (run >= whole * step) ends.push(deal);
  }
  const lows = [...new Set([...(sorted.length < 3 ? [] : ends), smallest])];
  return dealsInBands(
    sorted,
    lows.map((from) => ({ from })),
  ).flatMap(({ count, value }, place) =>
    count === 0 ? [] : [{ from: lows[place] ?? 0, value: Math.round(value / count), count }],
  );
}
/** Of the value of all deals: where large ones end, and medium ones. */
const ENDS = [0.5, 0.9];

export interface DealPlanInput {
  readonly objective: number;
  readonly tiers: readonly Omit<DealBand, 'months'>[];
  /** In how many periods the deals are to be made: four quarters. */
  readonly periods: number;
  readonly sellers: number;
}

export interface DealPlan {
  readonly revenue: number;
  /** revenue - objective. */
  readonly gap: number;
  readonly deals: number;
  readonly dealsPerPeriod: number | null;
  readonly dealsPerSellerPerPeriod: number | null;
  /** Whole deals by period, adding up; the earlier ones have what does not divide. */
  readonly wholeDealsByPeriod: readonly number[];
  /** Opportunities needed of each size: count / win rate. */
  readonly opportunities: readonly (number | null)[];
}

const sum = (values: readonly number[]): number => values.reduce((all, value) => all + value, 0);

/** What a number of deals of each size comes to. */
export function dealPlan({ objective, tiers, periods, sellers }: DealPlanInput): DealPlan {
  const revenue = sum(tiers.map(({ value, count }) => value * count));
  const deals = sum(tiers.map(({ count }) => count));
  const perPeriod = ratio(deals, periods);
  return {
    revenue,
    gap: revenue - objective,
    deals,
    dealsPerPeriod: perPeriod,
    dealsPerSellerPerPeriod: perPeriod === null ? null : ratio(perPeriod, sellers),
    wholeDealsByPeriod: divide(
      deals,
      Array.from({ length: periods }, () => 1),
    ),
    opportunities: tiers.map(({ count, winRate }) => ratio(count, winRate)),
  };
}

/** The last month of the year, counted from its first, in which a deal of a band can be begun. */
export const latestStart = ({ months }: Pick<DealBand, 'months'>, closing: number): number =>
  closing - months;

/**
 * Whole deals for a wanted split by value: of each size as many as its share of the objective
 * comes to, then one more of whatever is furthest below its share until the objective is reached.
 * @param split how much of the value is to come from each size; any weights
 * @returns counts in the order of the bands; none where nothing is wanted of any
 */
export function dealsBySplit(
  objective: number,
  bands: readonly Pick<DealBand, 'value'>[],
  split: readonly number[],
): number[] {
  const whole = sum(split);
  const wanted = bands.map((_, place) =>
    whole > 0 ? ((split[place] ?? 0) / whole) * Math.max(0, objective) : 0,
  );
  const counts = bands.map(({ value }, place) =>
    value > 0 ? Math.floor((wanted[place] ?? 0) / value + NEARLY) : 0,
  );
  const made = (): number => sum(bands.map(({ value }, place) => value * (counts[place] ?? 0)));
  const usable = bands.flatMap(({ value }, place) =>
    value > 0 && (wanted[place] ?? 0) > 0 ? [place] : [],
  );
  // At most one more of each size is needed: every one of them was rounded down.
  while (usable.length > 0 && made() < objective - NEARLY) {
    const missing = (place: number): number =>
      (wanted[place] ?? 0) - (bands[place]?.value ?? 0) * (counts[place] ?? 0);
    // The smallest deal that closes the gap, otherwise what is furthest below its share.
    const gap = objective - made();
    const closing = usable
      .filter((place) => (bands[place]?.value ?? 0) >= gap)
      .sort((a, b) => (bands[a]?.value ?? 0) - (bands[b]?.value ?? 0))[0];
    const next = closing ?? usable.toSorted((a, b) => missing(b) - missing(a))[0] ?? 0;
    counts[next] = (counts[next] ?? 0) + 1;
  }
  return counts;
}

/**
 * The fewest deals that reach the objective: the largest first, and for what is left the smallest
 * deal that closes it.
 * @param handled how many deals can be handled in the year at most
 * @returns counts in the order of the bands, and whether that reaches the objective
 */
export function fewestDeals(
  objective: number,
  bands: readonly Pick<DealBand, 'value'>[],
  handled: number,
): { readonly counts: number[]; readonly reached: boolean } {
  const counts = bands.map(() => 0);
  const bySize = bands
    .map(({ value }, place) => ({ value, place }))
    .filter(({ value }) => value > 0)
    .sort((a, b) => b.value - a.value);
  const [largest] = bySize;
  if (!largest || objective <= 0) return { counts, reached: objective <= 0 };
  const needed = Math.ceil(objective / largest.value - NEARLY);
  const many = Math.min(needed, Math.max(0, Math.floor(handled)));
  counts[largest.place] = many;
  if (many < needed) return { counts, reached: false };
  const left = objective - (needed - 1) * largest.value;
  const last = bySize.findLast(({ value }) => value >= left - NEARLY) ?? largest;
  counts[largest.place] = needed - 1;
  counts[last.place] = (counts[last.place] ?? 0) + 1;
  return { counts, reached: true };
}

/** What is odd about a plan of deals. */
export type DealHint =
  /** More than half of the value hangs on at most so many deals of the largest size. */
  | {
      readonly kind: 'few-large';
      readonly band: string;
      readonly share: number;
      readonly count: number;
    }
  /** More deals than the sellers can handle. */
  | { readonly kind: 'too-many'; readonly deals: number; readonly handled: number }
  /** Deals that take longer than what is left of the year. */
  | {
      readonly kind: 'too-late';
      readonly band: string;
      readonly months: number;
      readonly left: number;
    };

const FEW = 5;
const HALF = 0.5;
/** What two numbers that are the same may differ by once they were divided. */
const NEARLY = 1e-9;

/**
 * What is odd about a plan of deals.
 * @param handled how many deals all sellers can handle in the year
 * @param left months left of the year
 */
export function dealHints(
  bands: readonly DealBand[],
  { handled, left }: { readonly handled: number; readonly left: number },
): DealHint[] {
  const hints: DealHint[] = [];
  const revenue = sum(bands.map(({ value, count }) => value * count));
  const deals = sum(bands.map(({ count }) => count));
  const largest = bands.toSorted((a, b) => b.value - a.value)[0];
  const share = largest ? (ratio(largest.value * largest.count, revenue) ?? 0) : 0;
  if (largest && bands.length > 1 && largest.count <= FEW && share > HALF) {
    hints.push({ kind: 'few-large', band: largest.name, share, count: largest.count });
  }
  if (deals > handled) hints.push({ kind: 'too-many', deals, handled });
  for (const { name, count, months } of bands) {
    if (count > 0 && months > left) hints.push({ kind: 'too-late', band: name, months, left });
  }
  return hints;
}
