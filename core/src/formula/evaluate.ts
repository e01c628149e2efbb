/** Computing formulas: compiled once into functions of a month, run over whole series. */
import type { BinaryOperator, FormulaNode } from './parse.ts';

/** A series that a name stands for: months from `offset` on in a larger array. */
export interface NamedSeries {
  readonly series: Float64Array;
  readonly offset: number;
}

/** A formula's value in a month; NaN is no value. Names are read by their places. */
export type CompiledFormula = (inputs: readonly NamedSeries[], t: number) => number;

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
      return () => value;
    }
    case 'name': {
      const place = placeOf(node.name);
      return (inputs, t) => {
        const input = inputs[place];
        return input === undefined || t < 0
          ? Number.NaN
          : (input.series[input.offset + t] ?? Number.NaN);
      };
    }
    case 'negate': {
      const of = compileFormula(node.of, placeOf);
      return (inputs, t) => -of(inputs, t);
    }
    case 'binary': {
      const { operator } = node;
      const left = compileFormula(node.left, placeOf);
      const right = compileFormula(node.right, placeOf);
      return (inputs, t) => combine(operator, left(inputs, t), right(inputs, t));
    }
    case 'call':
      return compileCall(node, placeOf);
  }
}

function compileCall(
  { name, parts, months }: Extract<FormulaNode, { kind: 'call' }>,
  placeOf: (name: string) => number,
): CompiledFormula {
  const compiled = parts.map((part) => compileFormula(part, placeOf));
  const [first, second, third] = compiled;
  const nothing: CompiledFormula = () => Number.NaN;
  const a = first ?? nothing;
  switch (name) {
    case 'if':
      return (inputs, t) => {
        const holds = a(inputs, t);
        if (Number.isNaN(holds)) return Number.NaN;
        return (holds !== 0 ? (second ?? nothing) : (third ?? nothing))(inputs, t);
      };
    case 'min':
    case 'max':
      return (inputs, t) =>
        extreme(
          name,
          compiled.map((part) => part(inputs, t)),
        );
    case 'round':
      return (inputs, t) => roundTo(a(inputs, t), second ? second(inputs, t) : 0);
    case 'lag':
      return (inputs, t) => (t - months < 0 ? Number.NaN : a(inputs, t - months));
    case 'sum':
    case 'average':
      return (inputs, t) => {
        let total = 0;
        for (let at = t - months + 1; at <= t; at += 1)
          total += at < 0 ? Number.NaN : a(inputs, at);
        return name === 'sum' ? total : total / months;
      };
  }
}
