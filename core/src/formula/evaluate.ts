/** Computing formulas: compiled once into functions of a month, run over whole series. */
import type { BinaryOperator, FormulaNode } from './parse.ts';

/**
 * A formula's value in a month; NaN is no value. What windows and lags reach back to is computed
 * once a month, however deep they are nested: months are asked in order, and what was computed stays.
 */
export type FormulaRun = (t: number) => number;

/** A compiled formula: given the series of its names by their places, it is ready to run. */
export type CompiledFormula = (inputs: readonly (Float64Array | undefined)[]) => FormulaRun;

/** Division by zero has no value, and neither has what is not finite. */
const finite = (value: number): number => (Number.isFinite(value) ? value : Number.NaN);

const yes = (holds: boolean): number => (holds ? 1 : 0);

/** What each operator makes of two numbers. A comparison is 1 or 0; of no value it is no value. */
export function combine(operator: BinaryOperator, a: number, b: number): number {
  if (Number.isNaN(a) || Number.isNaN(b)) return Number.NaN;
  switch (operator) {
    case '+':
      return a + b;
    case '-':
      return a - b;
    case '*':
      return a * b;
    case '/':
      return finite(a / b);
    case '^':
      return finite(a ** b);
    case '<':
      return yes(a < b);
    case '<=':
      return yes(a <= b);
    case '>':
      return yes(a > b);
    case '>=':
      return yes(a >= b);
    case '==':
      return yes(a === b);
    case '!=':
      return yes(a !== b);
  }
}

/** Rounds half away from zero at a number of decimals, as people do; not in binary fractions. */
export function roundTo(value: number, digits: number): number {
  if (!Number.isFinite(value)) return Number.NaN;
  const rounded = Math.round(Number(`${Math.abs(value)}e${digits}`));
  // Numbers in exponent form do not take another exponent; they are beyond any rounding.
  if (Number.isNaN(rounded)) return value;
  return Math.sign(value) * Number(`${rounded}e${-digits}`);
}

/** The smallest or largest of values; of no value it is no value. */
export function extreme(name: 'min' | 'max', values: readonly number[]): number {
  if (values.some(Number.isNaN)) return Number.NaN;
  return name === 'min' ? Math.min(...values) : Math.max(...values);
}

/**
 * Compiles a formula.
 * @param placeOf where the series of a name stands among the inputs
 */
export function compileFormula(
  node: FormulaNode,
  placeOf: (name: string) => number,
): CompiledFormula {
  switch (node.kind) {
    case 'number': {
      const { value } = node;
      return () => () => value;
    }
    case 'name': {
      const place = placeOf(node.name);
      return (inputs) => {
        const series = inputs[place];
        return (t) => (t < 0 ? Number.NaN : (series?.[t] ?? Number.NaN));
      };
    }
    case 'negate': {
      const of = compileFormula(node.of, placeOf);
      return (inputs) => {
        const run = of(inputs);
        return (t) => -run(t);
      };
    }
    case 'binary': {
      const { operator } = node;
      const left = compileFormula(node.left, placeOf);
      const right = compileFormula(node.right, placeOf);
      return (inputs) => {
        const [a, b] = [left(inputs), right(inputs)];
        return (t) => combine(operator, a(t), b(t));
      };
    }
    case 'call':
      return compileCall(node, placeOf);
  }
}

/** Keeps what a part came to in a month that is asked for again and again. */
function oncePerMonth(run: FormulaRun): FormulaRun {
  const valuesSoFar: number[] = [];
  return (t) => {
    if (t < 0) return Number.NaN;
    const before = valuesSoFar[t];
    if (before !== undefined) return before;
    const value = run(t);
    valuesSoFar[t] = value;
    return value;
  };
}

const nothing: FormulaRun = () => Number.NaN;

function compileCall(
  { name, parts, months }: Extract<FormulaNode, { kind: 'call' }>,
  placeOf: (name: string) => number,
): CompiledFormula {
  const compiled = parts.map((part) => compileFormula(part, placeOf));
  const [part] = parts;
  // A name or a number is at hand in any month.
  const plain = part?.kind === 'name' || part?.kind === 'number';
  return (inputs) => {
    const [first = nothing, second, third] = compiled.map((one) => one(inputs));
    const earlier = plain ? first : oncePerMonth(first);
    switch (name) {
      case 'if':
        return (t) => {
          const holds = first(t);
          if (Number.isNaN(holds)) return Number.NaN;
          return (holds !== 0 ? (second ?? nothing) : (third ?? nothing))(t);
        };
      case 'min':
      case 'max': {
        const runs = compiled.map((one) => one(inputs));
        return (t) =>
          extreme(
            name,
            runs.map((run) => run(t)),
          );
      }
      case 'round':
        return (t) => roundTo(first(t), second ? second(t) : 0);
      case 'floor':
        return (t) => Math.floor(first(t));
      case 'ceil':
        return (t) => Math.ceil(first(t));
      case 'lag':
        return (t) => (t - months < 0 ? Number.NaN : earlier(t - months));
      case 'sum':
      case 'average':
        return (t) => {
          let total = 0;
          for (let at = t - months + 1; at <= t; at += 1)
            total += at < 0 ? Number.NaN : earlier(at);
          return name === 'sum' ? total : total / months;
        };
    }
  };
}
