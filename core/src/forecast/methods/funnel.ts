/** Funnel of conversion steps with lags, several sources, and what was under way at the start. */
import { valueOrNull } from '../../measures/nature.ts';
import type { TraceNode } from '../../trace/trace.ts';
import type { Funnel, FunnelSource, Stream } from '../plan.ts';
import {
  at,
  explainValued,
  PRICED,
  netUnitsOf,
  oneMinus,
  valueUnits,
  type Explaining,
  type Explanation,
  type Method,
  type Stretch,
} from './method.ts';

/** A step with its rates laid out by month. */
export interface LaidStep {
  readonly rate: ArrayLike<number>;
  readonly lag: number;
  readonly opening: readonly number[];
}

/** What comes to a step: what was there before it its lag earlier, first what was under way then. */
const cameTo = (
  { lag, opening }: Pick<LaidStep, 'lag' | 'opening'>,
  before: ArrayLike<number> | undefined,
  t: number,
): number => (t < lag ? opening[t] : before?.[t - lag]) ?? Number.NaN;

/**
 * What passes each step in each month: step k in month t = step k-1 in month t - lag x the rate in
 * month t, and what enters there. Source: calculations, *Methods of a stream*.
 * @param entering what enters before each step and after the last, by stage and month from the
 *   first open one; a stage that nothing enters is left out or empty
 * @returns a series a stage: entries first, then what passed each step; NaN where what was under
 *   way at the start is missing
 */
export function funnelStages(
  entering: readonly (ArrayLike<number> | undefined)[],
  steps: readonly LaidStep[],
  months: number,
): Float64Array[] {
  const stages: Float64Array[] = [];
  for (let stage = 0; stage <= steps.length; stage += 1) {
    const out = new Float64Array(months);
    const enteringStage = entering[stage];
    const step = steps[stage - 1];
    const before = stages[stage - 1];
    for (let t = 0; t < months; t += 1) {
      let value =
        enteringStage === undefined || enteringStage.length === 0
          ? 0
          : (enteringStage[t] ?? Number.NaN);
      if (step && before) value += cameTo(step, before, t) * (step.rate[t] ?? Number.NaN);
      out[t] = value;
    }
    stages.push(out);
  }
  return stages;
}

const NONE: Funnel = { sources: [], steps: [] };
const funnelOf = ({ settings }: Stream): Funnel => settings?.funnel ?? NONE;

/** The drivers of a funnel in the order in which they are read: sources, rates, costs. */
function driversOf({ sources, steps }: Funnel): string[] {
  return [
    ...sources.flatMap(({ drivers }) => drivers),
    ...steps.map(({ rate }) => rate),
    ...steps.flatMap(({ cost }) => (cost === null ? [] : [cost])),
  ];
}

/** What a source brings in a month. */
function brings(kind: FunnelSource['kind'], first: number, second: number): number {
  if (kind === 'typed') return first;
  if (kind === 'times') return first * second;
  const items = first / second;
  return Number.isFinite(items) ? items : Number.NaN;
}

/** A funnel's numbers over the open months. */
export interface FunnelNumbers {
  /** What each source brings. */
  readonly sources: readonly Float64Array[];
  /** What is at each stage: entries, then what passed each step. */
  readonly stages: readonly Float64Array[];
  /** What came to each step: what the step before had, its lag earlier. */
  readonly came: readonly Float64Array[];
  /** What passed each step, without what entered after it. */
  readonly passed: readonly Float64Array[];
  /** What each step costs: those who enter after it do not pass it. 0 where it costs nothing. */
  readonly costs: readonly Float64Array[];
}

/**
 * The numbers of a stream's funnel.
 * @param only of one source alone, without what was under way at the start
 */
export function funnelNumbers(
  { stream, inputs, open, count }: Pick<Stretch, 'stream' | 'inputs' | 'open' | 'count'>,
  only?: number,
): FunnelNumbers {
  const funnel = funnelOf(stream);
  const months = count - open;
  let place = 0;
  const next = (): Float64Array => (inputs[place++] ?? new Float64Array()).subarray(open, count);
  const sources = funnel.sources.map(({ kind, drivers }) => {
    const [first, second] = drivers.map(next);
    return Float64Array.from({ length: months }, (_, t) =>
      brings(kind, at(first, t), at(second, t)),
    );
  });
  const rates = funnel.steps.map(next);
  const entering: (Float64Array | undefined)[] = [];
  funnel.sources.forEach(({ enters }, index) => {
    if (only !== undefined && only !== index) return;
    const source = sources[index];
    const there = entering[enters];
    entering[enters] = there && source ? there.map((value, t) => value + (source[t] ?? 0)) : source;
  });
  const steps = funnel.steps.map(({ lag, opening }, index) => ({
    rate: rates[index] ?? [],
    lag,
    opening: only === undefined ? opening : Array.from({ length: lag }, () => 0),
  }));
  const stages = funnelStages(entering, steps, months);
  const passed = funnel.steps.map((_, index) => {
    const entered = entering[index + 1];
    const there = stages[index + 1] ?? new Float64Array(months);
    return entered ? there.map((value, t) => value - (entered[t] ?? Number.NaN)) : there;
  });
  const came = steps.map((step, index) =>
    Float64Array.from({ length: months }, (_, t) => cameTo(step, stages[index], t)),
  );
  const costs = funnel.steps.map(({ cost }, index) => {
    if (cost === null) return new Float64Array(months);
    const each = next();
    return each.map((value, t) => value * (passed[index]?.[t] ?? Number.NaN));
  });
  return { sources, stages, came, passed, costs };
}

/** Why a stage has what it has in a month of the horizon. */
function explainStage(
  explaining: Explaining,
  numbers: FunnelNumbers,
  stage: number,
  m: number,
): TraceNode {
  const { stretch, driver, setting } = explaining;
  const { sources, steps } = funnelOf(stretch.stream);
  const month = stretch.open + m;
  const step = steps[stage - 1];
  const value = numbers.stages[stage]?.[m] ?? Number.NaN;
  const parts: TraceNode[] = [];
  if (step) {
    const { lag, opening, name, rate } = step;
    const before =
      m < lag
        ? setting(`Under way before ${name}`, 'units', opening[m] ?? Number.NaN)
        : explainStage(explaining, numbers, stage - 1, m - lag);
    const leaf = driver(rate, month);
    const product = (before.value ?? Number.NaN) * (leaf.value ?? Number.NaN);
    parts.push({
      label: name,
      display: 'units',
      value: valueOrNull(product),
      incomplete: Number.isNaN(product),
      shape: 'product',
      parts: [before, leaf],
    });
  }
  sources.forEach(({ name, kind, drivers, enters }, index) => {
    if (enters !== stage) return;
    const leaves = drivers.map((code) => driver(code, month));
    const brought = numbers.sources[index]?.[m] ?? Number.NaN;
    parts.push({
      label: name,
      display: 'units',
      value: valueOrNull(brought),
      incomplete: Number.isNaN(brought),
      shape: kind === 'paid' ? 'ratio' : 'product',
      parts: leaves,
    });
  });
  const [only] = parts;
  if (parts.length === 1 && only) return only;
  return {
    label: step?.name ?? 'Entries',
    display: 'units',
    value: valueOrNull(value),
    incomplete: Number.isNaN(value),
    shape: 'plus',
    parts: parts.length > 0 ? parts : [setting('Nothing enters', 'units', 0)],
  };
}

function explainUnits(explaining: Explaining): Explanation {
  const { stretch, t, driver } = explaining;
  const last = funnelOf(stretch.stream).steps.length;
  const passed = explainStage(explaining, funnelNumbers(stretch), last, t - stretch.open);
  return { shape: 'product', parts: [passed, oneMinus(driver('returnRate'))] };
}

/** Funnel: the last step's items are gross units; returns, list price and discount make revenue. */
export const funnel: Method = {
  code: 'funnel',
  name: 'Funnel',
  when: 'Sales come from visits, trials or leads that convert step by step, some of them later.',
  needs:
    'At least one source, a rate for every step, what was under way at the start, and a list price.',
  writes: ['units', 'revenue'],
  inputs: (stream) => [...driversOf(funnelOf(stream)), ...PRICED, 'returnRate'],
  problems({ stream }) {
    const { sources, steps } = funnelOf(stream);
    const mistakes: string[] = [];
    if (sources.length === 0) mistakes.push('Its funnel has no source');
    for (const { name, kind, drivers, enters } of sources) {
      const wanted = kind === 'typed' ? 1 : 2;
      if (drivers.length !== wanted) {
        mistakes.push(`${name} names ${drivers.length} drivers; it takes ${wanted}`);
      }
      if (enters < 0 || enters > steps.length) {
        mistakes.push(`${name} enters after step ${enters}; there are ${steps.length}`);
      }
    }
    for (const { name, lag, opening } of steps) {
      if (opening.length < lag) {
        mistakes.push(
          `What was under way before ${name} is missing: ${lag} months, oldest first; there are ${opening.length}`,
        );
      }
    }
    return mistakes;
  },
  compute(stretch) {
    const { inputs, results, from, to, open } = stretch;
    const { stages } = funnelNumbers(stretch);
    const last = stages.at(-1);
    const returns = inputs.at(-1);
    for (let t = from; t < to; t += 1) {
      results.units[t] = netUnitsOf(at(last, t - open), at(returns, t));
    }
    valueUnits(stretch, inputs.length - 3);
  },
  /** Rates act on what comes to their step, costs on what passes, yields and costs of one on items. */
  actsOn(code, stretch, t) {
    const { sources, steps } = funnelOf(stretch.stream);
    const step = steps.findIndex(({ rate, cost }) => rate === code || cost === code);
    const source = sources.findIndex(({ drivers }) => drivers[1] === code);
    if (step < 0 && source < 0) return undefined;
    const numbers = funnelNumbers(stretch);
    const month = t - stretch.open;
    if (step < 0) {
      const { kind } = sources[source] ?? {};
      const place = driversOf(funnelOf(stretch.stream)).indexOf(sources[source]?.drivers[0] ?? '');
      return kind === 'paid' ? at(numbers.sources[source], month) : at(stretch.inputs[place], t);
    }
    return steps[step]?.cost === code
      ? at(numbers.passed[step], month)
      : at(numbers.came[step], month);
  },
  explain: (result, explaining) =>
    result === 'units' ? explainUnits(explaining) : explainValued(explaining),
};
