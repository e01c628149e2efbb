/** What drivers' series are made from, the same for every run: formulas read, checked and put in order. */
import { componentsOf, type Component } from '../calculation/components.ts';
import type { Month } from '../calendar/month.ts';
import type { MemberTree } from '../dimensions/member-tree.ts';
import { leastLags } from '../formula/parse.ts';
import {
  formulaMistakes,
  readFormula,
  unitsOfDrivers,
  type Formula,
} from '../formula/read-formula.ts';
import { unitOfDriver } from '../formula/units.ts';
import type { Problem } from '../problem.ts';
import type { Assumption } from './assumption.ts';
import type { Driver } from './driver.ts';
import { type Holdings } from './holding.ts';

/** What actuals say of a driver in the closed months of a stream; `undefined` where they say nothing. */
export type Observed = (driver: string, stream: number) => Float64Array | undefined;

/** A stream's share of a total that is divided over the streams of an assumption's scope. */
export type ShareOfTotal = (assumption: Assumption, stream: number) => number;

export interface Months {
  readonly first: Month;
  readonly count: number;
  /** The first open month, counted from `first`. */
  readonly open: number;
}

/** What series are made from, the same for every run of a plan. */
export interface Definition {
  readonly drivers: readonly Driver[];
  readonly codes: readonly string[];
  readonly holdings: ReadonlyMap<string, Holdings>;
  readonly formulas: ReadonlyMap<string, Formula>;
  readonly components: ReadonlyMap<string, Component>;
  readonly readBy: ReadonlyMap<string, ReadonlySet<string>>;
  readonly tree: MemberTree;
  readonly months: Months;
  readonly observed: Observed;
  readonly shareOf: ShareOfTotal;
  readonly problems: readonly Problem[];
}

/** Reads the formulas of drivers and puts them in order. */
export function define(
  drivers: readonly Driver[],
  holdings: ReadonlyMap<string, Holdings>,
  tree: MemberTree,
  months: Months,
  observed: Observed,
  shareOf: ShareOfTotal,
): Definition {
  const codes = drivers.map(({ code }) => code);
  const formulas = new Map<string, Formula>();
  const problems: Problem[] = [];
  for (const driver of drivers) {
    if (driver.formula === null) continue;
    const formulaRead = readDriverFormula(driver, drivers, months.count);
    problems.push(...formulaRead.problems);
    if (formulaRead.formula) formulas.set(driver.code, formulaRead.formula);
  }
  const place = new Map(codes.map((code, index) => [code, index]));
  const readings = codes.map((code) => {
    const formula = formulas.get(code);
    if (!formula) return [];
    return [...leastLags(formula.node)].flatMap(([name, lag]) => {
      const of = place.get(name);
      return of === undefined ? [] : [{ of, lag }];
    });
  });
  const components = new Map<string, Component>();
  for (const component of componentsOf(readings)) {
    const parts = component.parts.map((part) => codes[part] ?? '');
    if (component.circle) {
      // What lies on a circle without a lag is left out, and said.
      const names = component.circle.map((part) => drivers[part]?.name ?? '');
      const message = `Drivers read each other in a circle: ${names.join(' → ')}. Let one of them read a month before with lag(…, 1)`;
      for (const code of parts) {
        problems.push({ code: 'circle', message, where: { driver: code } });
        formulas.delete(code);
      }
      continue;
    }
    for (const code of parts) components.set(code, component);
  }
  const readBy = new Map<string, Set<string>>();
  for (const [code, { names }] of formulas) {
    for (const name of names) {
      const readers = readBy.get(name) ?? new Set<string>();
      readBy.set(name, readers.add(code));
    }
  }
  return {
    drivers,
    codes,
    holdings,
    formulas,
    components,
    readBy,
    tree,
    months,
    observed,
    shareOf,
    problems,
  };
}

/**
 * Reads a driver's formula and checks it against the other drivers.
 * @param months how many months the plan has: what reads further back has no value anywhere
 */
export function readDriverFormula(
  driver: Driver,
  drivers: readonly Driver[],
  months: number,
): { formula?: Formula; problems: Problem[] } {
  const text = driver.formula ?? '';
  const mistakes = formulaMistakes(text, {
    unitOf: unitsOfDrivers(drivers),
    named: 'driver',
    wanted: unitOfDriver(driver),
    whose: 'the driver',
    months,
  });
  if (mistakes.length > 0) {
    return {
      problems: mistakes.map(({ code, message, at }) => ({
        code,
        message: `${driver.name}: ${message}`,
        where: { driver: driver.code, field: 'formula', at },
      })),
    };
  }
  const { formula } = readFormula(text);
  return { ...(formula ? { formula } : {}), problems: [] };
}
