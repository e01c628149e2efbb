/** One way to read, check and compile formulas, of drivers and of streams. */
import type { Driver } from '../drivers/driver.ts';
import { compileFormula, type CompiledFormula } from './evaluate.ts';
import { longestLag, parseFormula, type FormulaNode } from './parse.ts';
import { sameUnit, unitInWords, unitOfDriver, unitOfFormula, type Unit } from './units.ts';

/** A formula, ready to compute. */
export interface Formula {
  readonly node: FormulaNode;
  /** What it reads, in the order in which series are handed to `compute`. */
  readonly names: readonly string[];
  readonly compute: CompiledFormula;
}

/** A mistake in a formula: where it starts, in characters of the text. */
export interface FormulaMistake {
  readonly code: 'formula' | 'unknown-name' | 'unit-clash' | 'lag-beyond';
  readonly message: string;
  readonly at: number;
}

/** A text that was read, or what is wrong with it. */
type Read =
  | { readonly formula: Formula; readonly mistakes?: undefined }
  | { readonly formula?: undefined; readonly mistakes: readonly FormulaMistake[] };

const formulasRead = new Map<string, Read>();
const MOST_KNOWN = 5000;

/** A formula by its text, read and compiled once. */
export function readFormula(text: string): Read {
  const before = formulasRead.get(text);
  if (before) return before;
  const { node, names = [], problems = [] } = { names: [], problems: [], ...parseFormula(text) };
  const place = new Map(names.map((name, index) => [name, index]));
  const read: Read = node
    ? { formula: { node, names, compute: compileFormula(node, (name) => place.get(name) ?? -1) } }
    : { mistakes: problems.map(({ message, at }) => ({ code: 'formula', message, at })) };
  if (formulasRead.size >= MOST_KNOWN) formulasRead.clear();
  formulasRead.set(text, read);
  return read;
}

/** What a formula is checked against. */
export interface FormulaRules {
  /** The unit of a name; undefined for one that is not there. */
  readonly unitOf: (name: string) => Unit | undefined;
  /** What names can be, for the message: `driver`, `driver or stream`. */
  readonly named: string;
  /** The unit that it should come to, whether another one will do, and what has that unit. */
  readonly wanted: Unit;
  readonly accepts?: (unit: Unit) => boolean;
  readonly whose: string;
  /** How many months the plan has: what reads further back has no value anywhere. */
  readonly months: number;
}

/** What is wrong with a formula: unreadable, unknown names, units that do not go together, its reach. */
export function formulaMistakes(text: string, rules: FormulaRules): readonly FormulaMistake[] {
  const { formula, mistakes } = readFormula(text);
  if (!formula) return mistakes;
  const { node, names } = formula;
  const unknown = names.filter((name) => rules.unitOf(name) === undefined);
  if (unknown.length > 0) {
    return unknown.map((name) => ({
      code: 'unknown-name',
      message: `there is no ${rules.named} "${name}"`,
      at: Math.max(0, text.indexOf(name)),
    }));
  }
  const clash = (message: string): FormulaMistake[] => [{ code: 'unit-clash', message, at: 0 }];
  const unitFound = unitOfFormula(node, (name) => rules.unitOf(name) ?? {});
  if (unitFound.clash !== undefined) return clash(unitFound.clash);
  const { accepts = (unit: Unit) => sameUnit(unit, rules.wanted) } = rules;
  if (unitFound.unit !== 'any' && !accepts(unitFound.unit)) {
    return clash(
      `the formula comes to ${unitInWords(unitFound.unit)}, ${rules.whose} is ${unitInWords(rules.wanted)}`,
    );
  }
  const back = longestLag(node);
  if (back < rules.months) return [];
  const message = `it reads ${back} months back; the plan has ${rules.months} months in all`;
  return [{ code: 'lag-beyond', message, at: 0 }];
}

/** The units of drivers by their codes. */
export function unitsOfDrivers(drivers: readonly Driver[]): (name: string) => Unit | undefined {
  const byCode = new Map(drivers.map((driver) => [driver.code, driver]));
  return (name) => {
    const driver = byCode.get(name);
    return driver && unitOfDriver(driver);
  };
}
