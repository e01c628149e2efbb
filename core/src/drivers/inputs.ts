/** The series that streams read: assumptions, formulas of other drivers, and what actuals say. */
import type { Month } from '../calendar/month.ts';
import { monthText } from '../calendar/month.ts';
import type { MemberTree } from '../dimensions/member-tree.ts';
import { componentsOf, type Component } from '../forecast/components.ts';
import { compileFormula, type CompiledFormula, type NamedSeries } from '../formula/evaluate.ts';
import { leastLags, longestLag, parseFormula, type FormulaNode } from '../formula/parse.ts';
import { sameUnit, unitInWords, unitOfDriver, unitOfFormula } from '../formula/units.ts';
import type { Problem } from '../problem.ts';
import type { Assumption } from './assumption.ts';
import { refuseValue, takesValue, type Driver } from './driver.ts';
import { BY_DEFAULT, BY_FORMULA, Holdings, MISSING, type HeldSeries } from './holding.ts';

/** A driver's formula, ready to compute. */
export interface DriverFormula {
  readonly node: FormulaNode;
  /** The drivers it reads, in the order in which they are handed to `compute`. */
  readonly names: readonly string[];
  readonly compute: CompiledFormula;
}

/** What actuals say of a driver in the closed months of a stream; `undefined` where they say nothing. */
export type Observed = (driver: string, stream: number) => Float64Array | undefined;

/** A driver that is tried at another height. */
export interface Scaled {
  readonly driver: string;
  readonly factor: number;
}

interface Months {
  readonly first: Month;
  readonly count: number;
  /** The first open month, counted from `first`. */
  readonly open: number;
}

/** Series of drivers for streams. Streams under the same assumptions share one series. */
export class DriverInputs {
  readonly holdings: ReadonlyMap<string, Holdings>;
  readonly formulas: ReadonlyMap<string, DriverFormula>;
  /** What is wrong with formulas: unreadable, unknown names, units, circles. */
  readonly problems: readonly Problem[];
  readonly #components = new Map<string, Component>();
  readonly #codes: readonly string[];
  readonly #readBy = new Map<string, Set<string>>();
  readonly #made = new Map<string, HeldSeries>();
  readonly #ids = new WeakMap<HeldSeries, number>();
  #nextId = 1;

  constructor(
    private readonly drivers: readonly Driver[],
    assumptions: ReadonlyMap<string, readonly Assumption[]>,
    private readonly tree: MemberTree,
    private readonly months: Months,
    /** What actuals say of a driver in the closed months of a stream. */
    readonly observed: Observed,
    /** One driver in open months times a factor, to see what that does. */
    private readonly scaled?: Scaled,
  ) {
    const { first, count } = months;
    this.#codes = drivers.map(({ code }) => code);
    this.holdings = new Map(
      drivers.map((driver) => [
        driver.code,
        new Holdings(driver, assumptions.get(driver.code) ?? [], tree, first, count),
      ]),
    );
    const { formulas, problems } = this.#readFormulas();
    this.formulas = formulas;
    this.problems = [...problems, ...this.#order(formulas)];
  }

  #readFormulas(): { formulas: Map<string, DriverFormula>; problems: Problem[] } {
    const formulas = new Map<string, DriverFormula>();
    const problems: Problem[] = [];
    for (const driver of this.drivers) {
      if (driver.formula === null) continue;
      const found = readDriverFormula(driver, this.drivers, this.months.count);
      problems.push(...found.problems);
      if (found.formula) formulas.set(driver.code, found.formula);
    }
    return { formulas, problems };
  }

  /** Puts formulas in order; what lies on a circle without a lag is left out, and said. */
  #order(formulas: Map<string, DriverFormula>): Problem[] {
    const place = new Map(this.#codes.map((code, index) => [code, index]));
    const readings = this.#codes.map((code) => {
      const formula = formulas.get(code);
      if (!formula) return [];
      return [...leastLags(formula.node)].flatMap(([name, lag]) => {
        const of = place.get(name);
        return of === undefined ? [] : [{ of, lag }];
      });
    });
    const problems: Problem[] = [];
    for (const component of componentsOf(readings)) {
      const codes = component.parts.map((part) => this.#codes[part] ?? '');
      if (component.circle) {
        const names = component.circle.map((part) => this.drivers[part]?.name ?? '');
        const message = `Drivers read each other in a circle: ${names.join(' → ')}. Let one of them read a month before with lag(…, 1)`;
        for (const code of codes) {
          problems.push({ code: 'circle', message, where: { driver: code } });
          formulas.delete(code);
        }
        continue;
      }
      for (const code of codes) this.#components.set(code, component);
    }
    for (const [code, { names }] of formulas) {
      for (const name of names) {
        const readers = this.#readBy.get(name) ?? new Set<string>();
        this.#readBy.set(name, readers.add(code));
      }
    }
    return problems;
  }

  /** A driver and every driver that is computed from it, by whatever way. */
  withReaders(code: string): ReadonlySet<string> {
    const found = new Set([code]);
    for (const one of found) for (const reader of this.#readBy.get(one) ?? []) found.add(reader);
    return found;
  }

  /** Whether a driver's series are made from more than its assumptions. */
  #isMade(code: string): boolean {
    return this.formulas.has(code) || (this.holdings.get(code)?.anyByLastYear ?? false);
  }

  #idOf(series: HeldSeries): number {
    const known = this.#ids.get(series);
    if (known !== undefined) return known;
    const id = this.#nextId;
    this.#nextId += 1;
    this.#ids.set(series, id);
    return id;
  }

  /**
   * A driver's series for a stream.
   * @param members the stream's combination
   * @param stream the stream's place, for what actuals say of it
   * @throws RangeError for a driver that is not there
   */
  series(code: string, members: readonly number[], stream: number): HeldSeries {
    const holdings = this.holdings.get(code);
    if (!holdings) throw new RangeError(`There is no driver "${code}"`);
    const held = holdings.series(members);
    if (!this.#isMade(code)) return this.#scale(code, held);
    const component = this.#components.get(code);
    const codes = component ? component.parts.map((part) => this.#codes[part] ?? '') : [code];
    const parts = codes.map((name) => ({
      code: name,
      held: this.holdings.get(name)?.series(members) ?? held,
    }));
    const outside = new Map<string, HeldSeries>();
    for (const name of codes.flatMap((one) => this.formulas.get(one)?.names ?? [])) {
      if (!codes.includes(name)) outside.set(name, this.series(name, members, stream));
    }
    const told = [...codes, ...outside.keys()].some(
      (name) => this.observed(name, stream) !== undefined,
    );
    const key = [
      code,
      told ? stream : '',
      ...parts.map((part) => this.#idOf(part.held)),
      ...[...outside.values()].map((series) => this.#idOf(series)),
    ].join();
    const known = this.#made.get(key);
    if (known) return known;
    if (this.#made.size > MOST_MADE) this.#made.clear();
    const made = this.#make(parts, outside, stream);
    const own = this.#scale(code, made.get(code) ?? held);
    this.#made.set(key, own);
    return own;
  }

  /** The series times the factor that is tried, in open months. */
  #scale(code: string, held: HeldSeries): HeldSeries {
    const { scaled } = this;
    if (scaled?.driver !== code) return held;
    const key = `scaled ${this.#idOf(held)}`;
    const known = this.#made.get(key);
    if (known) return known;
    const values = held.values.map((value, t) =>
      t < this.months.open ? value : value * scaled.factor,
    );
    const made = { values, holders: held.holders };
    this.#made.set(key, made);
    return made;
  }

  /** A series with what actuals say in closed months, where they say something. */
  #asRead(code: string, values: Float64Array, stream: number): NamedSeries {
    const observed = this.observed(code, stream);
    if (!observed) return { series: values, offset: 0 };
    const series = values.slice();
    observed.forEach((value, t) => {
      if (!Number.isNaN(value)) series[t] = value;
    });
    return { series, offset: 0 };
  }

  /** Computes drivers that read each other, month by month. */
  #make(
    parts: readonly { code: string; held: HeldSeries }[],
    outside: ReadonlyMap<string, HeldSeries>,
    stream: number,
  ): Map<string, HeldSeries> {
    const read = new Map<string, NamedSeries>();
    for (const [name, { values }] of outside) read.set(name, this.#asRead(name, values, stream));
    const work = parts.map(({ code, held }) => {
      const values = held.values.slice();
      const own = this.#asRead(code, values, stream);
      read.set(code, own);
      return {
        driver: this.drivers[this.#codes.indexOf(code)],
        holdings: this.holdings.get(code),
        formula: this.formulas.get(code),
        values,
        /** What others read of it: the same in open months, actuals in closed ones. */
        told: own.series,
        holders: held.holders.slice(),
      };
    });
    const inputs = work.map(({ formula }) =>
      (formula?.names ?? []).map((name) => read.get(name) ?? NOTHING),
    );
    const { count, open } = this.months;
    for (let t = 0; t < count; t += 1) {
      work.forEach(({ driver, holdings, formula, values, told, holders }, place) => {
        const holder = holders[t] ?? MISSING;
        let value = values[t] ?? Number.NaN;
        if (holder > 0 && holdings?.byLastYear(holder)) {
          const before = t < 12 ? Number.NaN : (told[t - 12] ?? Number.NaN);
          value = before * (1 + value);
        } else if (formula && (holder === BY_DEFAULT || holder === MISSING)) {
          value = formula.compute(inputs[place] ?? [], t);
          holders[t] = BY_FORMULA;
        } else return;
        // What the driver forbids is no value: it is told, and not computed with.
        if (driver && !takesValue(driver, value)) value = Number.NaN;
        values[t] = value;
        if (told !== values && (t >= open || Number.isNaN(told[t] ?? Number.NaN))) told[t] = value;
      });
    }
    return new Map(
      parts.map(({ code }, place) => {
        const { values, holders } = work[place] ?? { values: EMPTY, holders: new Int32Array() };
        return [code, { values, holders }];
      }),
    );
  }

  /** Why a computed driver has no value for a stream in a month, in words. */
  whyNone(code: string, members: readonly number[], stream: number, t: number): string {
    const driver = this.drivers[this.#codes.indexOf(code)];
    const name = driver?.name ?? code;
    const where = `${this.tree.label(members)} in ${monthText(this.months.first + t)}`;
    const formula = this.formulas.get(code);
    const missing = formula?.names.filter((other) =>
      Number.isNaN(this.series(other, members, stream).values[t] ?? Number.NaN),
    );
    const names = missing?.map((other) => this.drivers[this.#codes.indexOf(other)]?.name ?? other);
    if (names && names.length > 0) {
      return `${name} has no value for ${where}: ${names.join(' and ')} is missing there`;
    }
    if (!formula)
      return `${name} has no value for ${where}: the same month a year earlier has none`;
    const inputs = formula.names.map((other) =>
      this.#asRead(other, this.series(other, members, stream).values, stream),
    );
    const value = formula.compute(inputs, t);
    const refusal = driver && !Number.isNaN(value) ? refuseValue(driver, value) : undefined;
    return refusal
      ? `${refusal.message}, for ${where}`
      : `${name} has no value for ${where}: its formula divides by zero, or reads months that are not there`;
  }
}

const NOTHING: NamedSeries = { series: new Float64Array(), offset: 0 };
const EMPTY = new Float64Array();
/** Computed series that are kept for sharing. */
const MOST_MADE = 20_000;

/**
 * Reads a driver's formula and checks it against the other drivers.
 * @param months how many months the plan has: what reads further back has no value anywhere
 */
export function readDriverFormula(
  driver: Driver,
  drivers: readonly Driver[],
  months: number,
): { formula?: DriverFormula; problems: Problem[] } {
  const text = driver.formula ?? '';
  const problem = (code: string, message: string, at = 0): Problem => ({
    code,
    message: `${driver.name}: ${message}`,
    where: { driver: driver.code, field: 'formula', at },
  });
  const { node, names = [], problems } = { names: [], ...parseFormula(text) };
  if (!node) {
    return {
      problems: (problems ?? []).map(({ message, at }) => problem('formula', message, at)),
    };
  }
  const byCode = new Map(drivers.map((one) => [one.code, one]));
  const unknown = names.filter((name) => !byCode.has(name));
  if (unknown.length > 0) {
    return {
      problems: unknown.map((name) =>
        problem('unknown-name', `there is no driver "${name}"`, Math.max(0, text.indexOf(name))),
      ),
    };
  }
  const wanted = unitOfDriver(driver);
  const found = unitOfFormula(node, (name) => {
    const other = byCode.get(name);
    return other ? unitOfDriver(other) : {};
  });
  if (found.clash !== undefined) return { problems: [problem('unit-clash', found.clash)] };
  if (found.unit !== 'any' && !sameUnit(found.unit, wanted)) {
    const message = `the formula comes to ${unitInWords(found.unit)}, the driver is ${unitInWords(wanted)}`;
    return { problems: [problem('unit-clash', message)] };
  }
  const back = longestLag(node);
  if (back >= months) {
    const message = `it reads ${back} months back; the plan has ${months} months in all`;
    return { problems: [problem('lag-beyond', message)] };
  }
  const place = new Map(names.map((name, index) => [name, index]));
  const compute = compileFormula(node, (name) => place.get(name) ?? -1);
  return { formula: { node, names, compute }, problems: [] };
}
