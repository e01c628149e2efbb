/**
 * The calculation once more, straight from its description and as slow as that is: one stream and
 * one month at a time, every assumption tried on every question, no series, no index. It shares no
 * code with what it is held against but dates. For the methods without formulas, funnels and fits.
 */
import { monthFrom, monthInYear, monthText, type Month } from '../calendar/month.ts';
import type { Adjustment } from '../drivers/adjustment.ts';
import type { Assumption } from '../drivers/assumption.ts';
import type { ForecastResult, ResultCode } from '../measures/catalogue.ts';
import type { Plan, Stream } from '../forecast/plan.ts';

/** What a driver's total adds up, or is weighted by. */
const ADDS = new Set(['grossUnits', 'amount']);
const BY_GROSS = new Set(['listPrice', 'returnRate', 'unitCost']);

/** Which drivers each method asks for. */
function asked({ method, settings }: Stream): string[] {
  const priced = ['listPrice', 'discount'];
  const onUnits = settings?.of === 'units' ? priced : [];
  switch (method) {
    case 'amount':
      return ['amount'];
    case 'volumePrice':
      return [settings?.attached ? 'attachRate' : 'grossUnits', 'returnRate', ...priced];
    case 'growthLastYear':
      return ['growth', ...onUnits];
    case 'growthPeriod':
      return ['periodGrowth', ...onUnits];
    case 'marketShare':
      return ['marketSize', 'marketShare', ...priced];
    default:
      throw new Error(`${method} is not in the book`);
  }
}

export class ByTheBook {
  readonly #open: Month;
  readonly #parents = new Map<number, number | null>();
  readonly #dimensionOf = new Map<number, number>();
  readonly #known = new Map<string, number>();

  constructor(private readonly plan: Plan) {
    this.#open = monthFrom(plan.calendar.closedThrough) + 1;
    plan.dimensions.forEach(({ members }, place) => {
      for (const { id, parent } of members) {
        this.#parents.set(id, parent);
        this.#dimensionOf.set(id, place);
      }
    });
  }

  /** A member and everything above it, from the top. */
  #path(member: number): number[] {
    const parent = this.#parents.get(member) ?? null;
    return parent === null ? [member] : [...this.#path(parent), member];
  }

  /** Whether every dimension that a scope names has one of its members above a leaf or at it. */
  covers(scope: readonly number[], leaves: readonly number[]): boolean {
    const above = new Set(leaves.flatMap((leaf) => this.#path(leaf)));
    return this.plan.dimensions.every((_, place) => {
      const named = scope.filter((id) => this.#dimensionOf.get(id) === place);
      return named.length === 0 || named.some((id) => above.has(id));
    });
  }

  #members({ combination }: Stream): readonly number[] {
    return this.plan.combinations.find(({ id }) => id === combination)?.members ?? [];
  }

  /** How deep a scope is in each dimension; 0 where it names none. */
  #depths(scope: readonly number[]): number[] {
    return this.plan.dimensions.map((_, place) => {
      const member = scope.find((id) => this.#dimensionOf.get(id) === place);
      return member === undefined ? 0 : this.#path(member).length;
    });
  }

  /** Whether the first holds before the second: more pins, then deeper, then later. */
  #before(a: Assumption, b: Assumption): boolean {
    if (a.scope.length !== b.scope.length) return a.scope.length > b.scope.length;
    const [deep, deeper] = [this.#depths(a.scope), this.#depths(b.scope)];
    for (const [place, depth] of deep.entries()) {
      const other = deeper[place] ?? 0;
      if (depth !== other) return depth > other;
    }
    return a.id > b.id;
  }

  #sold(stream: Stream, month: Month, result: ResultCode): number {
    const { actuals, currency } = this.plan;
    let sum = 0;
    actuals.combination.forEach((combination, row) => {
      if (combination !== stream.combination || actuals.month[row] !== monthText(month)) return;
      sum += actuals[result][row] ?? 0;
    });
    return result === 'units' ? sum : sum / 10 ** currency.minorDigits;
  }

  /** What an assumption gives a stream in a month; undefined where it gives nothing. */
  #given(assumption: Assumption, stream: Stream, month: Month): number | undefined {
    const { profile, from, to, driver, scope } = assumption;
    if (from !== null && month < monthFrom(from)) return undefined;
    if (to !== null && month > monthFrom(to)) return undefined;
    const place = monthInYear(month) - 1;
    switch (profile.kind) {
      case 'value':
        return profile.value;
      case 'months':
        return profile.values[monthText(month)];
      case 'steps': {
        const begun = profile.steps.filter((step) => monthFrom(step.from) <= month);
        const last = Math.max(...begun.map((step) => monthFrom(step.from)));
        return begun.filter((step) => monthFrom(step.from) === last).at(-1)?.value;
      }
      case 'growth': {
        const start = monthFrom(profile.startMonth);
        if (month < start) return undefined;
        let [value, steps] = [profile.start, 0];
        for (let at = start + 1; at <= month; at += 1) {
          if (monthInYear(at) === profile.stepMonth) steps += 1;
          if (profile.by === 'month') value *= 1 + profile.rate;
          if (profile.by === 'compound') value *= (1 + profile.rate) ** (1 / 12);
        }
        if (profile.by === 'yearRate') return value * (1 + profile.rate) ** steps;
        return profile.by === 'yearAmount' ? value + profile.rate * steps : value;
      }
      case 'level': {
        const sum = profile.indices.reduce((all, index) => all + index, 0);
        return (profile.level * 12 * (profile.indices[place] ?? 0)) / sum;
      }
      case 'annual': {
        const [, total] =
          Object.entries(profile.totals).find(([first]) => {
            const since = month - monthFrom(first);
            return since >= 0 && since < 12;
          }) ?? [];
        if (total === undefined) return undefined;
        const weights = profile.weights.reduce((all, weight) => all + weight, 0);
        const share =
          ADDS.has(driver) && profile.each !== true ? this.#part(driver, scope, stream) : 1;
        return (total * (profile.weights[place] ?? 0) * share) / weights;
      }
      case 'lastYear':
        throw new Error('what was a year before is not in the book');
    }
  }

  /** A stream's part of a total that is its scope's: by what was sold in twelve closed months. */
  #part(driver: string, scope: readonly number[], stream: Stream): number {
    const inside = this.plan.streams.filter((one) => this.covers(scope, this.#members(one)));
    const readers = inside.filter((one) => asked(one).includes(driver));
    const all = readers.length > 0 ? readers : inside;
    const soldOf = (one: Stream): number => {
      let sum = 0;
      for (let month = this.#open - 12; month < this.#open; month += 1) {
        sum += this.#sold(one, month, driver === 'amount' ? 'revenue' : 'units');
      }
      return Math.max(0, sum);
    };
    const whole = all.reduce((sum, one) => sum + soldOf(one), 0);
    return whole > 0 ? soldOf(stream) / whole : 1 / all.length;
  }

  /** A driver of a stream in an open month; NaN where nothing is assumed. */
  driver(code: string, stream: Stream, month: Month): number {
    const members = this.#members(stream);
    let held: Assumption | undefined;
    for (const assumption of this.plan.assumptions) {
      if (assumption.driver !== code || !this.covers(assumption.scope, members)) continue;
      if (this.#given(assumption, stream, month) === undefined) continue;
      if (!held || this.#before(assumption, held)) held = assumption;
    }
    const definition = this.plan.drivers.find((one) => one.code === code);
    // A value outside its bounds is refused; nothing else stands in for it.
    const taken = (value: number): number =>
      value < (definition?.minimum ?? -Infinity) || value > (definition?.maximum ?? Infinity)
        ? Number.NaN
        : value;
    const fallback = definition?.default ?? Number.NaN;
    let value = taken(held ? (this.#given(held, stream, month) ?? Number.NaN) : fallback);
    for (const change of this.#changes(code, members, month)) {
      if (change.kind === 'set') value = change.value;
      else value = change.kind === 'times' ? value * change.value : value + change.value;
    }
    return taken(value);
  }

  #changes(code: string, members: readonly number[], month: Month): Adjustment[] {
    return [...(this.plan.adjustments ?? [])]
      .filter(
        ({ driver, scope, from, to }) =>
          driver === code &&
          this.covers(scope, members) &&
          (from === null || monthFrom(from) <= month) &&
          (to === null || monthFrom(to) >= month),
      )
      .sort((a, b) => a.id - b.id);
  }

  /** A result of a stream: the actual of a closed month, else the forecast. */
  result(result: ResultCode, stream: Stream, month: Month): number {
    if (month < this.#open) return this.#sold(stream, month, result);
    const key = `${result} ${stream.id} ${month}`;
    const before = this.#known.get(key);
    if (before !== undefined) return before;
    const value = this.#forecast(result, stream, month);
    this.#known.set(key, value);
    return value;
  }

  #forecast(result: ResultCode, stream: Stream, month: Month): number {
    const input = (code: string): number => this.driver(code, stream, month);
    if (result === 'cost') {
      const unitCost = input('unitCost');
      return Number.isNaN(unitCost)
        ? this.result('revenue', stream, month) * input('costShare')
        : this.result('units', stream, month) * unitCost;
    }
    const growing = this.#growing(result, stream, month);
    if (growing !== undefined) return growing;
    if (stream.method === 'amount') return result === 'units' ? 0 : input('amount');
    if (result === 'revenue') {
      const units = this.result('units', stream, month);
      return units * input('listPrice') * (1 - input('discount'));
    }
    if (stream.method === 'marketShare') return input('marketSize') * input('marketShare');
    return this.#gross(stream, month) * (1 - input('returnRate'));
  }

  /** What a growing stream has, where what is asked grows itself; else undefined. */
  #growing(result: ForecastResult, stream: Stream, month: Month): number | undefined {
    const { method, settings } = stream;
    if (method !== 'growthLastYear' && method !== 'growthPeriod') return undefined;
    if (settings?.of === 'units' && result === 'revenue') return undefined;
    const base = this.#base(result, stream, month);
    return base * (1 + this.driver(asked(stream)[0] ?? '', stream, month));
  }

  /** What a stream grows on in a month. */
  #base(result: ForecastResult, stream: Stream, month: Month): number {
    if (stream.method === 'growthLastYear') return this.result(result, stream, month - 12);
    if (stream.settings?.base !== 'quarter') return this.result(result, stream, month - 1);
    const start = month - ((monthInYear(month) - 1) % 3);
    const [a, b, c] = [3, 2, 1].map((back) => this.result(result, stream, start - back));
    return ((a ?? 0) + (b ?? 0) + (c ?? 0)) / 3;
  }

  #gross(stream: Stream, month: Month): number {
    const { attached } = stream.settings ?? {};
    if (!attached) return this.driver('grossUnits', stream, month);
    return this.driver('attachRate', stream, month) * this.#soldBefore(stream, month);
  }

  /** What the stream that another one follows sold in the months that count. */
  #soldBefore({ settings }: Stream, month: Month): number {
    const { attached } = settings ?? {};
    const followed = this.plan.streams.find(
      ({ combination }) => combination === attached?.combination,
    );
    let sum = 0;
    for (let back = attached?.from ?? 1; back <= (attached?.to ?? 0); back += 1) {
      sum += followed ? this.result('units', followed, month - back) : 0;
    }
    return sum;
  }

  /** What a driver acts on in a stream. */
  #weight(code: string, stream: Stream, month: Month, inRevenue: boolean): number {
    const units = (): number => this.result('units', stream, month);
    if (BY_GROSS.has(code)) {
      // A stream that never reads a return rate has none; one whose units are missing weighs nothing.
      const net = units();
      if (Number.isNaN(net) || !asked(stream).includes('returnRate')) return net;
      return this.#gross(stream, month);
    }
    if (code === 'discount' || code === 'costShare') {
      return asked(stream).includes('listPrice')
        ? units() * this.driver('listPrice', stream, month)
        : this.result('revenue', stream, month);
    }
    if (code === 'marketShare') return this.driver('marketSize', stream, month);
    if (code === 'attachRate') return this.#soldBefore(stream, month);
    return this.#base(inRevenue ? 'revenue' : (stream.settings?.of ?? 'revenue'), stream, month);
  }

  /**
   * The total row of a driver over a scope and some open months: a sum of what flows, else the mean
   * of the streams that read it, weighted by what it acts on. NaN where nothing is known, or values
   * differ of which nothing weighs.
   */
  total(code: string, scope: readonly number[], from: Month, to: Month): number {
    const reads = (one: Stream): boolean =>
      code === 'unitCost' || code === 'costShare' || asked(one).includes(code);
    const readers = this.plan.streams.filter(reads);
    const streams = readers.filter((one) => this.covers(scope, this.#members(one)));
    // Growths of units and of revenue go together by revenue only.
    const inRevenue = new Set(readers.map(({ settings }) => settings?.of ?? 'revenue')).size > 1;
    let [sum, weighted, weight] = [0, 0, 0];
    const all = new Set<number>();
    for (const stream of streams) {
      for (let month = from; month <= to; month += 1) {
        const value = this.driver(code, stream, month);
        if (Number.isNaN(value)) continue;
        const heavy = ADDS.has(code) ? 0 : this.#weight(code, stream, month, inRevenue);
        sum += value;
        all.add(value);
        if (heavy > 0) {
          weighted += heavy * value;
          weight += heavy;
        }
      }
    }
    const [only = Number.NaN] = all;
    if (all.size === 0) return Number.NaN;
    if (ADDS.has(code)) return sum;
    if (all.size === 1) return only;
    return weight > 0 ? weighted / weight : Number.NaN;
  }
}
