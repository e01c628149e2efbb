/** A new member's forecast made from that of another one: its lines, its season, its inputs. */
import {
  monthFrom,
  monthInYear,
  monthText,
  type Month,
  type MonthText,
} from '../calendar/month.ts';
import type { Adjustment } from '../drivers/adjustment.ts';
import type { Assumption, Profile } from '../drivers/assumption.ts';
import type { MethodCode } from './plan.ts';
import { planOf, resultsOf, seriesOfDriver, type Model } from './run.ts';

/** What a new member is forecast like. */
export interface LikeAnother {
  /** The lowest member that it is like, and its own id. */
  readonly like: number;
  readonly member: number;
  /** Its volume as a part of the other one's: 0.5 is half of it. */
  readonly scale: number;
  /** The first month it is sold in; the first open one where it is null. */
  readonly from: MonthText | null;
  /** Its list price; that of the other one where it is null. */
  readonly listPrice: number | null;
}

/** Forecast lines with what they start from; together they are one new member's forecast. */
export interface LinesLike {
  readonly streams: readonly {
    readonly members: readonly number[];
    readonly method: MethodCode;
    /** Units, or revenue where it is forecast by amount, of its first twelve months. */
    readonly firstYear: number;
  }[];
  readonly assumptions: readonly Omit<Assumption, 'id'>[];
  readonly adjustments: readonly Omit<Adjustment, 'id'>[];
}

/** What gives volume is made of the other one's forecast, whatever method gives that. */
const VOLUME: ReadonlySet<string> = new Set(['grossUnits', 'amount']);

/** The volume of a stream in its open months: gross units, or revenue of one by amount. */
function volumeOf(model: Model, index: number, byAmount: boolean): number[] {
  const { units, revenue } = resultsOf(model, index);
  const returns = seriesOfDriver(model, index, 'returnRate')?.values;
  return Array.from({ length: model.count - model.open }, (_, at) => {
    const t = model.open + at;
    const rate = returns?.[t] ?? 0;
    const left = 1 - (Number.isNaN(rate) ? 0 : rate);
    const value = byAmount ? (revenue[t] ?? 0) : left <= 0 ? 0 : (units[t] ?? 0) / left;
    return Number.isNaN(value) ? 0 : Math.max(0, value);
  });
}

/** A stretch of a series as yearly totals from its first month, with the season of the first year. */
function asYears(
  first: Month,
  months: readonly number[],
  rounded: (value: number) => number,
): Extract<Profile, { kind: 'annual' }> {
  const yearly = months.slice(0, 12);
  const whole = yearly.reduce((sum, value) => sum + value, 0);
  const weights = new Array<number>(12).fill(whole > 0 ? 0 : 1);
  const place = (at: number): number => monthInYear(first + at) - 1;
  if (whole > 0) {
    // Parts of the year in percent, as somebody would type a season.
    yearly.forEach((value, at) => (weights[place(at)] = Math.round((value / whole) * 1e4) / 100));
  }
  const all = weights.reduce((sum, weight) => sum + weight, 0);
  const totals: Record<MonthText, number> = {};
  for (let at = 0; at < months.length; at += 12) {
    // The last stretch may be shorter than a year: its months weigh what they weigh.
    const part = months.slice(at, at + 12);
    const weigh = part.reduce((sum, _, month) => sum + (weights[place(at + month)] ?? 0), 0);
    const sum = part.reduce((total, value) => total + value, 0);
    totals[monthText(first + at)] = rounded(weigh > 0 ? (sum * all) / weigh : 0);
  }
  return { kind: 'annual', totals, weights };
}

/**
 * Forecast lines for a new member like those of another one. Volume is that of the other one's
 * forecast, times the scale, as yearly totals with its season; prices, rates and costs that are set
 * for the other one are set for it too, and what is set for wider scopes holds anyway. What is
 * forecast by amount stays so; all others become volume x price, since a new member has no history
 * to grow on.
 * @param model evaluated; the new member need not be in it yet
 */
export function linesLike(
  model: Model,
  { like, member, scale, from, listPrice }: LikeAnother,
): LinesLike {
  const { tree, open, count } = model;
  const { name } = tree.member(like);
  const moved = (scope: readonly number[]): number[] =>
    scope.map((id) => (id === like ? member : id));
  const minor = 10 ** model.plan.currency.minorDigits;
  const start = Math.min(
    count - 1,
    Math.max(open, from === null ? open : monthFrom(from) - model.first),
  );
  const textOf = (t: number): MonthText => monthText(model.first + t);
  const streams: LinesLike['streams'][number][] = [];
  const volumes: Omit<Assumption, 'id'>[] = [];
  /** Net prices of lines that read no list price. */
  const prices: number[] = [];
  model.streams.forEach(({ stream, combination }, index) => {
    if (!combination.members.includes(like)) return;
    const byAmount = stream.method === 'amount';
    const months = volumeOf(model, index, byAmount)
      .slice(start - open)
      .map((value) => value * scale);
    const profile = asYears(model.first + start, months, (value) =>
      byAmount ? Math.round(value * minor) / minor : Math.round(value),
    );
    const scope = moved(combination.members);
    const volume = { driver: byAmount ? 'amount' : 'grossUnits', scope };
    volumes.push({
      ...volume,
      from: start > open ? textOf(start) : null,
      to: null,
      profile,
      note: `Like ${name}`,
    });
    if (start > open) {
      const before = { from: textOf(open), to: textOf(start - 1) };
      volumes.push({
        ...volume,
        ...before,
        profile: { kind: 'value', value: 0 },
        note: 'Not sold yet',
      });
    }
    const price = seriesOfDriver(model, index, 'listPrice')?.values[start] ?? Number.NaN;
    const { units, revenue } = resultsOf(model, index);
    if (!byAmount && Number.isNaN(price)) prices.push((revenue[start] ?? 0) / (units[start] ?? 0));
    const firstYear = profile.totals[textOf(start)] ?? 0;
    streams.push({ members: scope, method: byAmount ? 'amount' : 'volumePrice', firstYear });
  });
  const { assumptions, adjustments = [] } = planOf(model);
  const own = (driver: string): boolean =>
    VOLUME.has(driver) || (listPrice !== null && driver === 'listPrice');
  const copied = <Row extends Assumption | Adjustment>(rows: readonly Row[]): Omit<Row, 'id'>[] =>
    rows
      .filter(({ driver, scope }) => scope.includes(like) && !own(driver))
      .map(({ id: _, ...row }) => ({ ...row, scope: moved(row.scope) }));
  const known = prices.filter((price) => Number.isFinite(price) && price > 0);
  const usual = known.reduce((sum, price) => sum + price, 0) / known.length;
  const price = listPrice ?? (known.length > 0 ? Math.round(usual * minor) / minor : null);
  // What is set for a channel would come before a price of the member alone.
  const elsewhere = assumptions.some(
    ({ driver, scope }) =>
      driver === 'listPrice' && scope.some((id) => tree.dimensionOf(id) !== tree.dimensionOf(like)),
  );
  const scopes = elsewhere ? streams.map(({ members }) => members) : [[member]];
  const note = listPrice === null ? `Average price of ${name}` : '';
  const priced = (price === null ? [] : scopes).map((scope) => ({
    driver: 'listPrice',
    scope,
    from: null,
    to: null,
    profile: { kind: 'value' as const, value: price ?? 0 },
    note,
  }));
  return {
    streams,
    assumptions: [...copied(assumptions), ...priced, ...volumes],
    adjustments: copied(adjustments),
  };
}
