/** Explaining a formula's number: the same formula as a tree of what each part came to. */
import { valueOrNull } from '../measures/nature.ts';
import type { TraceNode } from '../trace/trace.ts';
import { combine, compileFormula, extreme, roundTo, type FormulaRun } from './evaluate.ts';
import type { FormulaNode } from './parse.ts';

const SHAPES = { '+': 'plus', '-': 'difference', '*': 'product', '/': 'ratio' } as const;
const LABELS = { '+': 'Sum', '-': 'Difference', '*': 'Product', '/': 'Quotient' } as const;

const valueOf = (node: TraceNode | undefined): number => node?.value ?? Number.NaN;

/** So many parts are shown of one number at most: windows in windows have more than anybody opens. */
const MOST_PARTS = 2000;

/**
 * The tree of a formula in one month. Windows in windows are shown as far as there is room, and by
 * their number beyond.
 * @param t the month, counted from the plan's first
 * @param leaf what a name came to in a month
 * @param series what a name is in every month
 */
export function explainFormula(
  node: FormulaNode,
  t: number,
  leaf: (name: string, t: number) => TraceNode,
  series: (name: string) => Float64Array | undefined,
): TraceNode {
  const names = namesOf(node);
  const inputs = names.map(series);
  const numbers = (part: FormulaNode): FormulaRun =>
    compileFormula(part, (name) => names.indexOf(name))(inputs);
  return explainPart(node, t, { leaf, numbers, room: { parts: MOST_PARTS } });
}

interface Explaining {
  readonly leaf: (name: string, t: number) => TraceNode;
  readonly numbers: (part: FormulaNode) => FormulaRun;
  readonly room: { parts: number };
}

function namesOf(node: FormulaNode): string[] {
  switch (node.kind) {
    case 'number':
      return [];
    case 'name':
      return [node.name];
    case 'negate':
      return namesOf(node.of);
    case 'binary':
      return [...new Set([...namesOf(node.left), ...namesOf(node.right)])];
    case 'call':
      return [...new Set(node.parts.flatMap(namesOf))];
  }
}

function explainPart(node: FormulaNode, t: number, explaining: Explaining): TraceNode {
  const { leaf, room } = explaining;
  room.parts -= 1;
  const below = (part: FormulaNode, month = t): TraceNode => explainPart(part, month, explaining);
  const make = (
    label: string,
    value: number,
    shape: TraceNode['shape'],
    parts: readonly TraceNode[],
    operation?: TraceNode['operation'],
  ): TraceNode => ({
    label,
    display: parts.find(({ source }) => source?.kind !== 'written')?.display ?? 'units',
    value: valueOrNull(value),
    incomplete: Number.isNaN(value),
    shape,
    parts,
    ...(operation === undefined ? {} : { operation }),
  });
  switch (node.kind) {
    case 'number':
      return written(node.value);
    case 'name':
      return leaf(node.name, t);
    case 'negate': {
      const of = below(node.of);
      return make('With the other sign', -valueOf(of), 'apply', [of], 'negate');
    }
    case 'binary': {
      const { operator } = node;
      const left = below(node.left);
      const right = below(node.right);
      const value = combine(operator, valueOf(left), valueOf(right));
      if (operator === '+' || operator === '-' || operator === '*' || operator === '/') {
        return make(LABELS[operator], value, SHAPES[operator], [left, right]);
      }
      return make(
        operator === '^' ? 'Power' : `Whether ${operator}`,
        value,
        'apply',
        [left, right],
        operator,
      );
    }
    case 'call':
      if (room.parts < 0) {
        const run = explaining.numbers(node);
        return make('Computed', run(t), 'value', []);
      }
      return explainCall(node, t, below, make);
  }
}

/** A number that stands in the formula. */
export const written = (value: number): TraceNode => ({
  label: String(value),
  display: 'units',
  value,
  incomplete: false,
  shape: 'value',
  parts: [],
  source: { kind: 'written' },
});

/** A month before the plan begins. */
const nothing = (t: number): TraceNode => ({
  label: `${-t} months before the first`,
  display: 'units',
  value: null,
  incomplete: true,
  shape: 'value',
  parts: [],
  source: { kind: 'nothing' },
});

function explainCall(
  { name, parts, months }: Extract<FormulaNode, { kind: 'call' }>,
  t: number,
  below: (part: FormulaNode, month?: number) => TraceNode,
  make: (
    label: string,
    value: number,
    shape: TraceNode['shape'],
    parts: readonly TraceNode[],
    operation?: TraceNode['operation'],
  ) => TraceNode,
): TraceNode {
  const [first] = parts;
  if (name === 'lag' && first) {
    const earlier = t - months < 0 ? nothing(t - months) : below(first, t - months);
    return make(`${months} months before`, valueOf(earlier), 'plus', [earlier]);
  }
  if ((name === 'sum' || name === 'average') && first) {
    const list = Array.from({ length: months }, (_, i) => t - months + 1 + i);
    const nodes = list.map((month) => (month < 0 ? nothing(month) : below(first, month)));
    const total = nodes.reduce((sum, node) => sum + valueOf(node), 0);
    const whole = make(`Sum of ${months} months`, total, 'plus', nodes);
    if (name === 'sum') return whole;
    return make(`Average of ${months} months`, total / months, 'ratio', [whole, written(months)]);
  }
  const nodes = parts.map((part) => below(part));
  const values = nodes.map(valueOf);
  const [a = Number.NaN, b = 0] = values;
  switch (name) {
    case 'if': {
      const taken = Number.isNaN(a) ? undefined : nodes[a === 0 ? 2 : 1];
      return make(
        a === 0 ? 'Otherwise' : 'As the condition holds',
        valueOf(taken),
        'apply',
        nodes,
        'if',
      );
    }
    case 'round':
      return make('Rounded', roundTo(a, b), 'apply', nodes, 'round');
    case 'floor':
      return make('Rounded down', Math.floor(a), 'apply', nodes, 'floor');
    case 'ceil':
      return make('Rounded up', Math.ceil(a), 'apply', nodes, 'ceil');
    default:
      return make(
        name === 'min' ? 'The smallest' : 'The largest',
        extreme(name === 'min' ? 'min' : 'max', values),
        'apply',
        nodes,
        name === 'min' ? 'min' : 'max',
      );
  }
}
