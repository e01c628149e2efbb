/** Reading formulas: arithmetic as everybody writes it, over names of drivers and streams. */
import jsep from 'jsep';

export type BinaryOperator = '+' | '-' | '*' | '/' | '^' | '<' | '<=' | '>' | '>=' | '==' | '!=';
export type FormulaFunction =
  'if' | 'min' | 'max' | 'round' | 'floor' | 'ceil' | 'sum' | 'average' | 'lag';

/** A formula taken apart. */
export type FormulaNode =
  | { readonly kind: 'number'; readonly value: number }
  | { readonly kind: 'name'; readonly name: string }
  | { readonly kind: 'negate'; readonly of: FormulaNode }
  | {
      readonly kind: 'binary';
      readonly operator: BinaryOperator;
      readonly left: FormulaNode;
      readonly right: FormulaNode;
    }
  | {
      readonly kind: 'call';
      readonly name: FormulaFunction;
      readonly parts: readonly FormulaNode[];
      /** Of `sum`, `average` and `lag`: how many months. */
      readonly months: number;
    };

/** A mistake in a formula: where it starts and how long it is, in characters of the text. */
export interface FormulaProblem {
  readonly message: string;
  readonly at: number;
  readonly length: number;
}

/** A formula that was read, or what is wrong with it. */
export type ParsedFormula =
  | { readonly node: FormulaNode; readonly names: readonly string[]; readonly problems?: undefined }
  | { readonly node?: undefined; readonly problems: readonly FormulaProblem[] };

const LONGEST = 10_000;
const DEEPEST = 100;
/** A window or a lag reaches back this many months at most. */
export const LONGEST_LAG = 240;
/** So many steps a month a formula takes at most; a window takes one for each of its months. */
const MOST_STEPS = 5000;

/** How many parts a function takes. */
const PARTS: Readonly<Record<FormulaFunction, readonly [number, number]>> = {
  if: [3, 3],
  min: [1, 50],
  max: [1, 50],
  round: [1, 2],
  floor: [1, 1],
  ceil: [1, 1],
  sum: [2, 2],
  average: [2, 2],
  lag: [2, 2],
};
export const FORMULA_FUNCTIONS = Object.keys(PARTS) as FormulaFunction[];
const OPERATORS: ReadonlySet<string> = new Set([
  '+',
  '-',
  '*',
  '/',
  '^',
  '<',
  '<=',
  '>',
  '>=',
  '==',
  '!=',
]);

// The parser's own ^ is another operator of another rank; ours is a power, and binds to the right.
jsep.addBinaryOp('^', 12, true);
for (const operator of ['===', '!==', '&', '|', '<<', '>>', '>>>', '%', '&&', '||', '??']) {
  jsep.removeBinaryOp(operator);
}
for (const operator of ['!', '~']) jsep.removeUnaryOp(operator);
jsep.removeAllLiterals();

/** Says what a mistake is and where; thrown while a formula is read, and caught there. */
class Mistake extends Error {
  constructor(
    message: string,
    readonly at: number,
    readonly length = 1,
  ) {
    super(message);
  }
}

/** A formula in the parser's signs, and for each of its characters where that came from. */
function plain(text: string): { text: string; from: number[] } {
  const SIGNS: Readonly<Record<string, string>> = { '×': '*', '·': '*', '÷': '/', '\u2212': '-' };
  let out = '';
  const from: number[] = [];
  const push = (piece: string, at: number): void => {
    for (const _ of piece) from.push(at);
    out += piece;
  };
  for (let at = 0; at < text.length;) {
    const percent = /^(\d+(?:\.\d+)?)\s*%/.exec(text.slice(at, at + 40));
    if (percent) {
      push(`(${percent[1] ?? ''}/100)`, at);
      at += percent[0].length;
      continue;
    }
    const sign = text.charAt(at);
    const alone =
      sign === '=' && !/[=<>!]/.test(text.charAt(at - 1)) && text.charAt(at + 1) !== '=';
    push(alone ? '==' : (SIGNS[sign] ?? sign), at);
    at += 1;
  }
  return { text: out, from };
}

/** Whether brackets or signs are nested deeper than anybody writes; a parser would follow them all. */
function tooDeep(text: string): boolean {
  let depth = 0;
  let signs = 0;
  for (const sign of text) {
    if (sign === '(') depth += 1;
    else if (sign === ')') depth -= 1;
    if (sign === '-' || sign === '+') signs += 1;
    else if (sign.trim() !== '') signs = 0;
    if (depth > DEEPEST || signs > DEEPEST) return true;
  }
  return false;
}

/**
 * Reads a formula: `+ - * / ^`, comparisons, `if(c, a, b)`, `min`, `max`, `round(x, digits)`,
 * `floor`, `ceil`,
 * `sum(x, n)` and `average(x, n)` over the last n months with this one, and `lag(x, n)`. `5%` is
 * 0.05. A sign belongs to its number: `-a ^ 2` is `(-a) ^ 2`.
 * @example parseFormula('lag(units, 1) * (1 + 5%)')
 */
export function parseFormula(text: string): ParsedFormula {
  const refuse = (message: string, at = 0, length = text.length): ParsedFormula => ({
    problems: [{ message, at, length }],
  });
  if (text.trim() === '') return refuse('The formula is empty');
  if (tooDeep(text)) {
    return refuse(
      `The formula is nested more than ${DEEPEST} deep. Split it into drivers of its own`,
    );
  }
  if (text.length > LONGEST) {
    return refuse(
      `The formula has ${text.length} characters; at most ${LONGEST} are read. Split it into drivers of its own`,
    );
  }
  const written = plain(text);
  const origin = (at: number): number => written.from[at] ?? text.length;
  try {
    const names = new Set<string>();
    const node = read(jsep(written.text), text, names);
    const steps = stepsOf(node);
    if (steps > MOST_STEPS) {
      return refuse(
        `The formula takes ${steps} steps a month; at most ${MOST_STEPS} are computed. Split it into drivers of its own, or let it look at fewer months`,
      );
    }
    return { node, names: [...names] };
  } catch (error) {
    if (error instanceof Mistake) return refuse(error.message, error.at, error.length);
    const { index, description } = error as { index?: number; description?: string };
    if (typeof index === 'number') {
      const sign = written.text.charAt(index);
      const what =
        sign === '' ? 'Something is missing at the end' : `"${sign}" was not expected here`;
      return refuse(
        /unclosed/i.test(description ?? '') ? 'A bracket is not closed' : what,
        origin(index),
        1,
      );
    }
    if (error instanceof RangeError) return refuse('The formula is too deep to be read');
    throw error;
  }
}

/** How many steps a formula takes in a month: each part is computed once, a window adds its months. */
function stepsOf(node: FormulaNode): number {
  switch (node.kind) {
    case 'number':
    case 'name':
      return 1;
    case 'negate':
      return 1 + stepsOf(node.of);
    case 'binary':
      return 1 + stepsOf(node.left) + stepsOf(node.right);
    case 'call': {
      const window = node.name === 'sum' || node.name === 'average' ? node.months : 1;
      return node.parts.reduce((sum, part) => sum + stepsOf(part), window);
    }
  }
}

/** Where a word stands in a formula, as a word of its own. */
function placeOf(word: string, text: string): number {
  const wordPattern = new RegExp(
    `(?<![\\p{L}\\p{N}_])${word.replace(/[$]/g, '\\$&')}(?![\\p{L}\\p{N}_])`,
    'u',
  ).exec(text);
  return wordPattern?.index ?? 0;
}

function read(from: jsep.Expression, text: string, names: Set<string>): FormulaNode {
  switch (from.type) {
    case 'Literal': {
      const { value, raw } = from as jsep.Literal;
      if (typeof value === 'number') return { kind: 'number', value };
      throw new Mistake(`${raw} is no number`, Math.max(0, text.indexOf(raw)), raw.length);
    }
    case 'Identifier': {
      const { name } = from as jsep.Identifier;
      names.add(name);
      return { kind: 'name', name };
    }
    case 'UnaryExpression': {
      const { operator, argument } = from as jsep.UnaryExpression;
      const of = read(argument, text, names);
      return operator === '-' ? { kind: 'negate', of } : of;
    }
    case 'BinaryExpression': {
      const { operator, left, right } = from as jsep.BinaryExpression;
      if (!OPERATORS.has(operator)) {
        throw new Mistake(
          `"${operator}" is no sign of a formula`,
          Math.max(0, text.indexOf(operator)),
        );
      }
      return {
        kind: 'binary',
        operator: operator as BinaryOperator,
        left: read(left, text, names),
        right: read(right, text, names),
      };
    }
    case 'CallExpression':
      return readCall(from as jsep.CallExpression, text, names);
    case 'Compound':
      throw new Mistake(
        'Two formulas stand beside each other; a sign between them is missing',
        0,
        text.length,
      );
    default:
      throw new Mistake('This is no arithmetic', 0, text.length);
  }
}

function readCall(from: jsep.CallExpression, text: string, names: Set<string>): FormulaNode {
  const name = from.callee.type === 'Identifier' ? (from.callee as jsep.Identifier).name : '';
  const at = placeOf(name, text);
  const functionName = FORMULA_FUNCTIONS.find((candidate) => candidate === name.toLowerCase());
  if (!functionName) {
    const functionNames = FORMULA_FUNCTIONS.join(', ');
    throw new Mistake(
      `"${name}" is no function; there are ${functionNames}`,
      at,
      Math.max(1, name.length),
    );
  }
  const [least, most] = PARTS[functionName];
  const given = from.arguments.length;
  if (given < least || given > most) {
    const wanted = least === most ? `${least}` : `${least} to ${most}`;
    throw new Mistake(
      `${functionName} takes ${wanted} parts; it has ${given}`,
      at,
      functionName.length,
    );
  }
  const parts = from.arguments.map((part) => read(part, text, names));
  if (functionName !== 'sum' && functionName !== 'average' && functionName !== 'lag') {
    return { kind: 'call', name: functionName, parts, months: 0 };
  }
  const [of, months] = parts;
  const count = months?.kind === 'number' ? months.value : Number.NaN;
  if (!of || !Number.isInteger(count) || count < 1 || count > LONGEST_LAG) {
    throw new Mistake(
      `${functionName} takes a whole number of months, 1 to ${LONGEST_LAG}, as its second part`,
      at,
      functionName.length,
    );
  }
  return { kind: 'call', name: functionName, parts: [of], months: count };
}

/**
 * How far back a formula reads each name at the least: 0 where it reads the month itself. What is
 * read only from months before can be part of a circle.
 */
export function leastLags(node: FormulaNode): ReadonlyMap<string, number> {
  const lagsByName = new Map<string, number>();
  const visit = (at: FormulaNode, lag: number): void => {
    switch (at.kind) {
      case 'number':
        return;
      case 'name':
        lagsByName.set(at.name, Math.min(lag, lagsByName.get(at.name) ?? Number.POSITIVE_INFINITY));
        return;
      case 'negate':
        visit(at.of, lag);
        return;
      case 'binary':
        visit(at.left, lag);
        visit(at.right, lag);
        return;
      case 'call':
        for (const part of at.parts) visit(part, at.name === 'lag' ? lag + at.months : lag);
    }
  };
  visit(node, 0);
  return lagsByName;
}

/** How far back a formula reads at the most, in months. */
export function longestLag(node: FormulaNode): number {
  switch (node.kind) {
    case 'number':
    case 'name':
      return 0;
    case 'negate':
      return longestLag(node.of);
    case 'binary':
      return Math.max(longestLag(node.left), longestLag(node.right));
    case 'call': {
      const below = Math.max(0, ...node.parts.map(longestLag));
      if (node.name === 'lag') return below + node.months;
      return node.name === 'sum' || node.name === 'average' ? below + node.months - 1 : below;
    }
  }
}
