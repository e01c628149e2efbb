/** The series that streams read: assumptions, formulas of other drivers, actuals, and adjustments. */
import { monthText } from '../calendar/month.ts';
import type { MemberTree } from '../dimensions/member-tree.ts';
import type { Formula } from '../formula/read-formula.ts';
import type { Problem } from '../problem.ts';
import { adjusted, AdjustmentSet, coversMonth, type Adjustment } from './adjustment.ts';
import type { Assumption } from './assumption.ts';
import {
  type Observed,
  type ShareOfTotal,
  type Months,
  type Definition,
  define,
} from './driver-definition.ts';
import { refuseValue, takesValue, type Driver } from './driver.ts';
import type { HeldSeries } from './held-series.ts';
import { BY_DEFAULT, BY_FORMULA, Holdings, MISSING } from './holding.ts';

/**
 * Series of drivers for streams. Streams under the same assumptions and adjustments share one
 * series; what a layer of adjustments does not touch is that of the layer beneath.
 */
export class DriverInputs {
  readonly #made = new Map<string, HeldSeries>();
  readonly #ids: WeakMap<object, number>;
  /** The drivers that this layer changes, with those that read them; all of them at the bottom. */
  readonly #touched: ReadonlySet<string> | null;

  private constructor(
    private readonly definition: Definition,
    readonly adjustments: AdjustmentSet,
    private readonly beneath: DriverInputs | null,
    changed: readonly Pick<Adjustment, 'driver'>[],
  ) {
    this.#ids = beneath ? beneath.#ids : new WeakMap();
    this.#touched = beneath
      ? new Set(changed.flatMap(({ driver }) => [...this.withReaders(driver)]))
      : null;
  }

  /** @param observed what actuals say of a driver in the closed months of a stream */
  static of(
    drivers: readonly Driver[],
    assumptions: ReadonlyMap<string, readonly Assumption[]>,
    adjustments: readonly Adjustment[],
    tree: MemberTree,
    months: Months,
    observed: Observed,
    shareOf: ShareOfTotal,
  ): DriverInputs {
    const { first, count } = months;
    const holdings = new Map(
      drivers.map((driver) => [
        driver.code,
        new Holdings(driver, assumptions.get(driver.code) ?? [], tree, first, count),
      ]),
    );
    const definition = define(drivers, holdings, tree, months, observed, shareOf);
    return new DriverInputs(definition, new AdjustmentSet(tree, adjustments), null, []);
  }

  /**
   * The same with further adjustments over all there are.
   * @param shareOf where other streams read the drivers, how totals are divided over them
   */
  under(adjustments: readonly Adjustment[], shareOf?: ShareOfTotal): DriverInputs {
    const all = new AdjustmentSet(this.definition.tree, [...this.adjustments, ...adjustments]);
    const definition = shareOf ? { ...this.definition, shareOf } : this.definition;
    const divided = shareOf ? this.divided.map((driver) => ({ driver })) : [];
    return new DriverInputs(definition, all, this, [...adjustments, ...divided]);
  }

  /** The drivers of which some total is divided over streams. */
  get divided(): string[] {
    return [...this.definition.holdings].flatMap(([code, holdings]) =>
      holdings.anyDivided ? [code] : [],
    );
  }

  get holdings(): ReadonlyMap<string, Holdings> {
    return this.definition.holdings;
  }
  get formulas(): ReadonlyMap<string, Formula> {
    return this.definition.formulas;
  }
  get observed(): Observed {
    return this.definition.observed;
  }
  /** What is wrong with formulas: unreadable, unknown names, units, circles. */
  get problems(): readonly Problem[] {
    return this.definition.problems;
  }

  /** Whether no stream has a value of a driver in any month. */
  hasNone(code: string): boolean {
    if (this.adjustments.has(code) || this.beneath?.hasNone(code) === false) return false;
    return this.definition.holdings.get(code)?.isEmpty ?? true;
  }

  /** A driver and every driver that is computed from it, by whatever way. */
  withReaders(code: string): ReadonlySet<string> {
    const codesReached = new Set([code]);
    for (const one of codesReached) {
      for (const reader of this.definition.readBy.get(one) ?? []) codesReached.add(reader);
    }
    return codesReached;
  }

  #idOf(thing: object): number {
    const idBefore = this.#ids.get(thing);
    if (idBefore !== undefined) return idBefore;
    nextId += 1;
    this.#ids.set(thing, nextId);
    return nextId;
  }

  #driver(code: string): Driver | undefined {
    return this.definition.drivers[this.definition.codes.indexOf(code)];
  }

  /** Whether what assumptions give is not yet what holds. */
  #isDerived(code: string, { holders }: HeldSeries): boolean {
    const { formulas, holdings } = this.definition;
    if (formulas.has(code)) return true;
    const holdingsOfDriver = holdings.get(code);
    return (
      holdingsOfDriver !== undefined &&
      holdingsOfDriver.anyDerived &&
      holders.some((id) => holdingsOfDriver.derived(id))
    );
  }

  /**
   * A driver's series for a stream.
   * @param members the stream's combination
   * @param stream the stream's place, for what actuals say of it
   * @throws RangeError for a driver that is not there
   */
  series(code: string, members: readonly number[], stream: number): HeldSeries {
    if (this.beneath && !this.#touched?.has(code))
      return this.beneath.series(code, members, stream);
    const { holdings, components, codes: all, formulas } = this.definition;
    const holdingsOfDriver = holdings.get(code);
    if (!holdingsOfDriver) throw new RangeError(`There is no driver "${code}"`);
    const held = holdingsOfDriver.series(members);
    const over = this.adjustments.covering(code, members);
    if (over.length === 0 && !this.#isDerived(code, held)) return held;
    const component = components.get(code);
    const codes = component ? component.parts.map((part) => all[part] ?? '') : [code];
    const parts = codes.map((name) => ({
      code: name,
      held: name === code ? held : (holdings.get(name)?.series(members) ?? held),
      over: name === code ? over : this.adjustments.covering(name, members),
    }));
    const outside = new Map<string, HeldSeries>();
    for (const name of codes.flatMap((one) => formulas.get(one)?.names ?? [])) {
      if (!codes.includes(name)) outside.set(name, this.series(name, members, stream));
    }
    const byStream =
      parts.some((part) => holdings.get(part.code)?.divides(part.held)) ||
      [...codes, ...outside.keys()].some((name) => this.#says(name, stream));
    const key = [
      code,
      byStream ? stream : '',
      ...parts.flatMap((part) => [this.#idOf(part.held), ...part.over.map((a) => this.#idOf(a))]),
      ...[...outside.values()].map((series) => this.#idOf(series)),
    ].join();
    const madeBefore = this.#made.get(key);
    if (madeBefore) return madeBefore;
    if (this.#made.size > MOST_MADE) this.#made.clear();
    const made = this.#make(parts, outside, stream).get(code) ?? held;
    this.#made.set(key, made);
    return made;
  }

  /** Whether formulas hear of a driver what actuals say of it for a stream. */
  #says(code: string, stream: number): boolean {
    return this.definition.observed(code, stream) !== undefined;
  }

  /**
   * A driver's series for a stream as formulas read it: in closed months what actuals say, where
   * they say something.
   */
  seriesAsRead(code: string, members: readonly number[], stream: number): HeldSeries {
    const held = this.series(code, members, stream);
    if (!this.#says(code, stream)) return held;
    const key = `read ${stream} ${this.#idOf(held)}`;
    const madeBefore = this.#made.get(key);
    if (madeBefore) return madeBefore;
    const read = { ...held, values: this.#asRead(code, held.values, stream) };
    this.#made.set(key, read);
    return read;
  }

  #asRead(code: string, values: Float64Array, stream: number): Float64Array {
    const observed = this.definition.observed(code, stream);
    if (!observed) return values;
    const series = values.slice();
    observed.forEach((value, t) => {
      if (!Number.isNaN(value)) series[t] = value;
    });
    return series;
  }

  /** Computes drivers that read each other, month by month. */
  #make(
    parts: readonly {
      readonly code: string;
      readonly held: HeldSeries;
      readonly over: readonly Adjustment[];
    }[],
    outside: ReadonlyMap<string, HeldSeries>,
    stream: number,
  ): Map<string, HeldSeries> {
    const { holdings, formulas, months, shareOf } = this.definition;
    const { first, count, open } = months;
    const read = new Map<string, Float64Array>();
    for (const [name, { values }] of outside) read.set(name, this.#asRead(name, values, stream));
    const work = parts.map(({ code, held, over }) => {
      const values = held.values.slice();
      // What others read of it: the same in open months, actuals in closed ones where they say it.
      const told = this.#says(code, stream)
        ? this.#asRead(code, new Float64Array(count).fill(Number.NaN), stream)
        : values;
      read.set(code, told);
      return {
        driver: this.#driver(code),
        holdings: holdings.get(code),
        formula: formulas.get(code),
        over,
        values,
        told,
        holders: held.holders.slice(),
        unadjusted: over.length > 0 ? held.values.slice() : undefined,
      };
    });
    const runs = work.map(({ formula }) =>
      formula?.compute(formula.names.map((name) => read.get(name))),
    );
    for (let t = 0; t < count; t += 1) {
      work.forEach(({ driver, holdings: own, over, values, told, holders, unadjusted }, place) => {
        const holder = holders[t] ?? MISSING;
        const run = runs[place];
        let value = values[t] ?? Number.NaN;
        const derived = holder > 0 ? own?.derived(holder) : undefined;
        if (derived?.profile.kind === 'lastYear') {
          const before = t < 12 ? Number.NaN : (told[t - 12] ?? Number.NaN);
          value = before * (1 + value);
        } else if (derived) {
          value *= shareOf(derived, stream);
        } else if (run && (holder === BY_DEFAULT || holder === MISSING)) {
          value = run(t);
          holders[t] = BY_FORMULA;
        }
        if (unadjusted && t >= open) {
          unadjusted[t] = value;
          for (const one of over) {
            if (coversMonth(one, first + t)) value = adjusted(value, one, driver);
          }
        }
        // What the driver forbids is no value: it is told, and not computed with.
        const tried = over.some((one) => one.tried);
        if (driver && !tried && !takesValue(driver, value)) value = Number.NaN;
        values[t] = value;
        if (told !== values && (t >= open || Number.isNaN(told[t] ?? Number.NaN))) told[t] = value;
      });
    }
    return new Map(
      work.map(({ values, holders, unadjusted }, place) => [
        parts[place]?.code ?? '',
        { values, holders, ...(unadjusted ? { unadjusted } : {}) },
      ]),
    );
  }

  /** Why a computed driver has no value for a stream in a month, in words. */
  whyNone(code: string, members: readonly number[], stream: number, t: number): string {
    const { formulas, months, tree } = this.definition;
    const driver = this.#driver(code);
    const name = driver?.name ?? code;
    const where = `${tree.label(members)} in ${monthText(months.first + t)}`;
    const { values, holders, unadjusted } = this.series(code, members, stream);
    const over = this.adjustments
      .covering(code, members)
      .filter((one) => coversMonth(one, months.first + t));
    const before = unadjusted?.[t] ?? Number.NaN;
    if (driver && over.length > 0 && !Number.isNaN(before) && Number.isNaN(values[t] ?? 0)) {
      const after = over.reduce((value, one) => adjusted(value, one, driver), before);
      const refusal = refuseValue(driver, after);
      if (refusal) return `${refusal.message} after it is adjusted, for ${where}`;
    }
    const formula = formulas.get(code);
    if (!formula || (holders[t] ?? MISSING) > 0) {
      return `${name} has no value for ${where}: the same month a year earlier has none`;
    }
    const inputs = formula.names.map((other) =>
      this.#asRead(other, this.series(other, members, stream).values, stream),
    );
    const missing = formula.names.filter((_, place) => Number.isNaN(inputs[place]?.[t] ?? NaN));
    if (missing.length > 0) {
      const names = missing.map((other) => this.#driver(other)?.name ?? other);
      return `${name} has no value for ${where}: ${names.join(' and ')} is missing there`;
    }
    const run = formula.compute(inputs);
    let value = Number.NaN;
    for (let at = 0; at <= t; at += 1) value = run(at);
    const refusal = driver && !Number.isNaN(value) ? refuseValue(driver, value) : undefined;
    return refusal
      ? `${refusal.message}, for ${where}`
      : `${name} has no value for ${where}: its formula divides by zero, or reads months that are not there`;
  }
}

let nextId = 0;

/** Computed series that are kept for sharing. */
const MOST_MADE = 20_000;
