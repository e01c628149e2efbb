/** What each driver feeds, what sales say of it, and what a profile would make of it. */
import type { Scope } from '../dimensions/dimension.ts';
import { eachMonth, type Assumption } from '../drivers/assumption.ts';
import { BY_DEFAULT, MISSING } from '../drivers/holding.ts';
import { ObservedDrivers } from '../drivers/observed.ts';
import type { MethodCode } from '../forecast/plan.ts';
import type { Model } from '../forecast/run.ts';

/** A driver in the tree of drivers. */
export interface DriverUse {
  readonly code: string;
  /** How many streams read it, themselves or through formulas; 0 feeds nothing. */
  readonly streams: number;
  /** The methods of these streams. */
  readonly methods: readonly MethodCode[];
  /** The drivers whose formulas read it, by code. */
  readonly formulas: readonly string[];
  /** Streams in which it is missing in some open month. */
  readonly missing: number;
  /** Streams that use its default in some open month because nobody set it. */
  readonly byDefault: number;
  /** How many assumptions there are. */
  readonly assumptions: number;
}

/** Every driver with what it feeds; one that feeds nothing has no streams. */
export function driverUses(model: Model): DriverUse[] {
  const set = new Map<string, number>();
  for (const { driver } of model.assumptions) set.set(driver, (set.get(driver) ?? 0) + 1);
  const readers = new Map(
    model.plan.drivers.map(({ code }) => [code, model.drivers.withReaders(code)]),
  );
  return model.plan.drivers.map(({ code }) => {
    const codes = readers.get(code) ?? new Set<string>();
    let streams = 0;
    const methods = new Set<MethodCode>();
    let missing = 0;
    let byDefault = 0;
    for (const [index, { stream, codes: codesRead, needed }] of model.streams.entries()) {
      if (!codesRead.some((one) => codes.has(one))) continue;
      streams += 1;
      methods.add(stream.method);
      const place = codesRead.indexOf(code);
      const held = model.inputs[index]?.[place];
      // What makes cost of sales may be missing.
      if (!held || place >= needed) continue;
      const open = held.holders.subarray(model.open);
      if (open.includes(MISSING)) missing += 1;
      if (open.includes(BY_DEFAULT)) byDefault += 1;
    }
    return {
      code,
      streams,
      methods: [...methods],
      formulas: [...codes].filter(
        (other) => other !== code && model.drivers.formulas.get(other)?.names.includes(code),
      ),
      missing,
      byDefault,
      assumptions: set.get(code) ?? 0,
    };
  });
}

/** What actuals say of everything in a scope that was sold, whether it is forecast or not. */
function observedFor({ closed, tree }: Model, scope: Scope): ObservedDrivers {
  const places = closed.members.flatMap((members, place) =>
    tree.covers(scope, members) ? [place] : [],
  );
  return new ObservedDrivers(closed, places);
}

/**
 * What actuals say of a driver in each closed month, for everything in a scope together; null
 * where they say nothing. Empty for a driver of which they never say anything.
 */
export function observedHistory(model: Model, driver: string, scope: Scope): (number | null)[] {
  const observed = observedFor(model, scope);
  if (!observed.says(driver)) return [];
  return Array.from({ length: model.open }, (_, t) => observed.over(driver, t, t + 1));
}

/** What sales say of a driver beside an input: a mean month, or a price weighted by volume. */
export interface Reference {
  /** The last twelve closed months, and the twelve before. */
  readonly lastYear: number | null;
  readonly yearBefore: number | null;
  /** The last three closed months. */
  readonly lastThree: number | null;
  /** The lowest and highest single month there ever was. */
  readonly lowest: number | null;
  readonly highest: number | null;
}

/**
 * The reference of a driver for a scope, all of it, forecast or not. The two years have no value unless both are complete.
 * Counts and amounts are those of a mean month, prices are weighted by volume, growth is that of
 * the stretch on the same months a year before.
 */
export function referenceOf(model: Model, driver: string, scope: Scope): Reference | null {
  const observed = observedFor(model, scope);
  if (!observed.says(driver)) return null;
  const history = Array.from({ length: model.open }, (_, t) => observed.over(driver, t, t + 1));
  // Beside a list price stands what was paid on average.
  const over = (from: number, to: number): number | null =>
    from < 0
      ? null
      : driver === 'listPrice'
        ? observed.pricePaid(from, to)
        : observed.over(driver, from, to);
  const { open } = model;
  const [lastYear, yearBefore] = [over(open - 12, open), over(open - 24, open - 12)];
  const both = lastYear !== null && yearBefore !== null;
  const historyValues = history.filter((value) => value !== null);
  return {
    lastYear: both ? lastYear : null,
    yearBefore: both ? yearBefore : null,
    lastThree: over(open - 3, open),
    lowest: historyValues.length > 0 ? Math.min(...historyValues) : null,
    highest: historyValues.length > 0 ? Math.max(...historyValues) : null,
  };
}

/**
 * What an assumption would give in each month of the plan, NaN where it does not cover; one that
 * goes by last year stands on what sales say of the scope, then on itself.
 */
export function profilePreview(
  model: Model,
  { scope, driver, ...rest }: Omit<Assumption, 'id'>,
): Float64Array {
  const values = new Float64Array(model.count).fill(Number.NaN);
  const assumption = { id: 0, driver, scope, ...rest };
  eachMonth(assumption, model.first, model.count, (t, value) => (values[t] = value));
  if (assumption.profile.kind !== 'lastYear') return values;
  const history = observedHistory(model, driver, scope);
  for (let t = 0; t < model.count; t += 1) {
    const growth = values[t] ?? Number.NaN;
    const before = t < 12 ? null : t - 12 < model.open ? history[t - 12] : values[t - 12];
    values[t] = Number.isNaN(growth) ? growth : (before ?? Number.NaN) * (1 + growth);
  }
  return values;
}

/** The season of the last twelve closed months, January first, with mean 1; null where there is none. */
export function lastSeason(model: Model, driver: string, scope: Scope): number[] | null {
  const history = observedHistory(model, driver, scope);
  if (model.open < 12 || history.length < 12) return null;
  const raw = new Array<number>(12).fill(0);
  for (let t = model.open - 12; t < model.open; t += 1) {
    raw[(((model.first + t) % 12) + 12) % 12] = Math.max(0, history[t] ?? 0);
  }
  const mean = raw.reduce((sum, value) => sum + value, 0) / 12;
  return mean === 0 ? null : raw.map((value) => Math.round((value / mean) * 1000) / 1000);
}
