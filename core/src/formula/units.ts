/** Units of formulas: money plus count is refused, money per unit times units is money. */
import type { Driver } from '../drivers/driver.ts';
import type { FormulaNode } from './parse.ts';

/** Powers by base: `{ money: 1, unit: -1 }` is money per unit; empty is a plain number. */
export type Unit = Readonly<Record<string, number>>;
/** A unit, or `any` for a number that was written down: it takes on the unit of what it is added to. */
export type MaybeUnit = Unit | 'any';

export const MONEY: Unit = { money: 1 };
/** What `units` of a stream are counted in. */
export const PIECES: Unit = { unit: 1 };
const PLAIN: Unit = {};

/** `per visits`, `visits` and `visit` are counted in the same thing; `a month` says only how often. */
function base(text: string): string {
  const word = text
    .trim()
    .toLowerCase()
    .replace(/(^|\s)(a|per)\s+(month|quarter|year)$/, '')
    .replace(/^per\s+/, '')
    .trim();
  return word.replace(/ies$/, 'y').replace(/s$/, '') || 'unit';
}

/** The unit of a driver, by its kind and the words of its unit. */
export function unitOfDriver({ kind, unit }: Pick<Driver, 'kind' | 'unit'>): Unit {
  switch (kind) {
    case 'count':
    case 'wholeCount':
      return { [base(unit)]: 1 };
    case 'money':
      return MONEY;
    case 'moneyPerUnit':
      return { money: 1, [base(unit)]: -1 };
    default:
      return PLAIN;
  }
}

/** `money per unit`, `money`, `unit`, `a plain number` */
export function unitInWords(unit: Unit): string {
  const above = Object.entries(unit).flatMap(([name, power]) =>
    power > 0 ? [power === 1 ? name : `${name}^${power}`] : [],
  );
  const below = Object.entries(unit).flatMap(([name, power]) =>
    power < 0 ? [power === -1 ? name : `${name}^${-power}`] : [],
  );
  if (above.length === 0 && below.length === 0) return 'a plain number';
  const text = above.join(' x ') || '1';
  return below.length > 0 ? `${text} per ${below.join(' per ')}` : text;
}

export function sameUnit(a: Unit, b: Unit): boolean {
  return [...Object.keys(a), ...Object.keys(b)].every((name) => (a[name] ?? 0) === (b[name] ?? 0));
}

function times(a: Unit, b: Unit, power: number): Unit {
  const names = new Set([...Object.keys(a), ...Object.keys(b)]);
  return Object.fromEntries(
    [...names].flatMap((name) => {
      const sum = (a[name] ?? 0) + power * (b[name] ?? 0);
      return sum === 0 ? [] : [[name, sum]];
    }),
  );
}

const given = (unit: MaybeUnit): Unit => (unit === 'any' ? PLAIN : unit);

/** Units that do not go together; thrown inside and told outside. */
class Clash extends Error {}

/** One unit for both; a written number takes on the other's. */
function alike(a: MaybeUnit, b: MaybeUnit, doing: string): MaybeUnit {
  if (a === 'any') return b;
  if (b === 'any' || sameUnit(a, b)) return a;
  throw new Clash(`${unitInWords(a)} and ${unitInWords(b)} cannot be ${doing}`);
}

function unitIn(node: FormulaNode, unitOf: (name: string) => Unit): MaybeUnit {
  switch (node.kind) {
    case 'number':
      return 'any';
    case 'name':
      return unitOf(node.name);
    case 'negate':
      return unitIn(node.of, unitOf);
    case 'binary': {
      const left = unitIn(node.left, unitOf);
      const right = unitIn(node.right, unitOf);
      switch (node.operator) {
        case '+':
        case '-':
          return alike(left, right, node.operator === '+' ? 'added' : 'subtracted');
        case '*':
          return left === 'any' && right === 'any' ? 'any' : times(given(left), given(right), 1);
        case '/':
          return left === 'any' && right === 'any' ? 'any' : times(given(left), given(right), -1);
        case '^': {
          if (!sameUnit(given(right), PLAIN)) throw new Clash('An exponent is a plain number');
          const unit = given(left);
          if (sameUnit(unit, PLAIN)) return left;
          if (node.right.kind !== 'number') {
            throw new Clash(`${unitInWords(unit)} takes an exponent that is written down`);
          }
          return times(PLAIN, unit, node.right.value);
        }
        default:
          alike(left, right, 'compared');
          return PLAIN;
      }
    }
    case 'call': {
      const parts = node.parts.map((part) => unitIn(part, unitOf));
      const [first = 'any', second = 'any', third = 'any'] = parts;
      if (node.name === 'if') return alike(second, third, 'chosen between');
      if (node.name !== 'min' && node.name !== 'max') return first;
      return parts.reduce((all, part) => alike(all, part, 'compared'));
    }
  }
}

/**
 * The unit that a formula comes to, or why its units do not go together.
 * @param unitOf the unit of a name
 */
export function unitOfFormula(
  node: FormulaNode,
  unitOf: (name: string) => Unit,
): { readonly unit: MaybeUnit; readonly clash?: undefined } | { readonly clash: string } {
  try {
    return { unit: unitIn(node, unitOf) };
  } catch (error) {
    if (error instanceof Clash) return { clash: error.message };
    throw error;
  }
}
