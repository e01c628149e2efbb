/** Funnel of conversion steps with lags, several sources, and what was under way at the start. */
import { valueOrNull } from '../../measures/nature.ts';
import type { TraceNode } from '../../trace/trace.ts';
import type { Funnel, FunnelSource, FunnelStep, Stream } from '../plan.ts';
import {
  at,
  explainValued,
  PRICED,
  netUnitsOf,
  oneMinus,
  valueUnits,
  type Explaining,
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

/** What was in the common steps before the first open month, beside the sources. */
export const UNDER_WAY = 'Under way at the start';

const NONE: Funnel = { sources: [], steps: [] };
const funnelOf = ({ settings }: Stream): Funnel => settings?.funnel ?? NONE;

/** All steps of a funnel: those of each source by itself, then the common ones. */
export const stepsOf = ({ sources, steps }: Funnel): FunnelStep[] => [
  ...sources.flatMap((source) => source.steps ?? []),
  ...steps,
];

/** The drivers of a funnel in the order in which they are read: sources, rates, costs. */
export function funnelDrivers(funnel: Funnel): string[] {
  const steps = stepsOf(funnel);
  return [
    ...funnel.sources.flatMap(({ drivers }) => drivers),
    ...steps.map(({ rate }) => rate),
    ...steps.flatMap(({ cost }) => (cost === null ? [] : [cost])),
  ];
}

/** What a source brings in a month. */
export function brings(kind: FunnelSource['kind'], first: number, second: number): number {
  if (kind === 'typed') return first;
  if (kind === 'times') return first * second;
  const items = first / second;
  return Number.isFinite(items) ? items : Number.NaN;
}

/** Steps one after the other over the open months. */
export interface ChainNumbers {
  /** What is at each stage: entries, then what passed each step. */
  readonly stages: readonly Float64Array[];
  /** What came to each step: what the step before had, its lag earlier. */
  readonly came: readonly Float64Array[];
  /** What passed each step, without what entered after it. */
  readonly passed: readonly Float64Array[];
  /** What each step costs: those who enter after it do not pass it. 0 where it costs nothing. */
  readonly costs: readonly Float64Array[];
}

/** A funnel's numbers: those of the common steps, and of each source. */
export interface FunnelNumbers extends ChainNumbers {
  /** What each source brings. */
  readonly sources: readonly Float64Array[];
  /** What a source spends by itself: what is paid for what it brings. 0 where it costs nothing. */
  readonly spent: readonly Float64Array[];
  /** The steps of each source by itself; what is at the last stage enters the common ones. */
  readonly chains: readonly ChainNumbers[];
}

/** The series of a step: its rate, and what an item that passes costs. */
interface StepSeries {
  readonly rate: Float64Array;
  readonly cost: Float64Array | undefined;
}

/** Takes items through steps, by what enters at each stage. */
function chainNumbers(
  entering: readonly (Float64Array | undefined)[],
  steps: readonly FunnelStep[],
  seriesOf: ReadonlyMap<FunnelStep, StepSeries>,
  months: number,
  underWay = true,
): ChainNumbers {
  const laid = steps.map((step): LaidStep => {
    const { lag, opening } = step;
    return {
      rate: seriesOf.get(step)?.rate ?? [],
      lag,
      opening: underWay ? opening : Array.from({ length: lag }, () => 0),
    };
  });
  const stages = funnelStages(entering, laid, months);
  const passed = steps.map((_, index) => {
    const entered = entering[index + 1];
    const there = stages[index + 1] ?? new Float64Array(months);
    return entered ? there.map((value, t) => value - (entered[t] ?? Number.NaN)) : there;
  });
  const came = laid.map((step, index) =>
    Float64Array.from({ length: months }, (_, t) => cameTo(step, stages[index], t)),
  );
  const costs = steps.map((step, index) => {
    const each = seriesOf.get(step)?.cost;
    if (!each) return new Float64Array(months);
    return each.map((value, t) => value * (passed[index]?.[t] ?? Number.NaN));
  });
  return { stages, came, passed, costs };
}

/**
 * The numbers of a stream's funnel.
 * @param inputs the series of its drivers, in their order
 * @param only of one source alone, with what was under way in its own steps and without what was in
 *   the common ones
 */
export function funnelNumbers(
  { stream, inputs, open, count }: Pick<Stretch, 'stream' | 'inputs' | 'open' | 'count'>,
  only?: number,
): FunnelNumbers {
  const funnel = funnelOf(stream);
  const months = count - open;
  let place = 0;
  const next = (): Float64Array => (inputs[place++] ?? new Float64Array()).subarray(open, count);
  const none = new Float64Array(months);
  const [sources, spent]: [Float64Array[], Float64Array[]] = [[], []];
  for (const { kind, drivers } of funnel.sources) {
    const [first, second] = drivers.map(next);
    sources.push(
      Float64Array.from({ length: months }, (_, t) => brings(kind, at(first, t), at(second, t))),
    );
    spent.push(kind === 'paid' && first ? first : none);
  }
  const all = stepsOf(funnel);
  const rates = all.map(next);
  const series = new Map(
    all.map((step, index): [FunnelStep, StepSeries] => [
      step,
      { rate: rates[index] ?? none, cost: step.cost === null ? undefined : next() },
    ]),
  );
  const chains = funnel.sources.map(({ steps = [] }, index) =>
    chainNumbers([sources[index]], steps, series, months),
  );
  const entering: (Float64Array | undefined)[] = [];
  funnel.sources.forEach(({ enters }, index) => {
    if (only !== undefined && only !== index) return;
    const arrives = chains[index]?.stages.at(-1);
    const there = entering[enters];
    entering[enters] = there && arrives ? there.map((v, t) => v + (arrives[t] ?? 0)) : arrives;
  });
  const common = chainNumbers(entering, funnel.steps, series, months, only === undefined);
  return { sources, spent, chains, ...common };
}

/** What passed a step: what came to it, times its rate. @param before what the step before had */
function explainStep(
  { stretch, driver, setting }: Explaining,
  { name, rate, lag, opening }: FunnelStep,
  m: number,
  before: (m: number) => TraceNode,
): TraceNode {
  const came =
    m < lag
      ? setting(`Under way before ${name}`, 'units', opening[m] ?? Number.NaN)
      : before(m - lag);
  const leaf = driver(rate, stretch.open + m);
  const product = (came.value ?? Number.NaN) * (leaf.value ?? Number.NaN);
  return {
    label: name,
    display: 'units',
    value: valueOrNull(product),
    incomplete: Number.isNaN(product),
    shape: 'product',
    parts: [came, leaf],
  };
}

/** What a source brings to the common steps: what it has by itself, through its own steps. */
function explainSource(
  explaining: Explaining,
  { sources }: Pick<FunnelNumbers, 'sources'>,
  index: number,
  m: number,
  stage?: number,
): TraceNode {
  const source = funnelOf(explaining.stretch.stream).sources[index];
  const { name = '', kind, drivers = [], steps = [] } = source ?? {};
  const at = stage ?? steps.length;
  const step = steps[at - 1];
  if (step) {
    const passed = explainStep(explaining, step, m, (before) =>
      explainSource(explaining, { sources }, index, before, at - 1),
    );
    return { ...passed, label: `${name}, ${step.name}` };
  }
  const brought = sources[index]?.[m] ?? Number.NaN;
  return {
    label: name,
    display: 'units',
    value: valueOrNull(brought),
    incomplete: Number.isNaN(brought),
    shape: kind === 'paid' ? 'ratio' : 'product',
    parts: drivers.map((code) => explaining.driver(code, explaining.stretch.open + m)),
  };
}

/** Why a stage has what it has in a month of the horizon. */
function explainStage(
  explaining: Explaining,
  numbers: FunnelNumbers,
  stage: number,
  m: number,
): TraceNode {
  const { stretch, setting } = explaining;
  const { sources, steps } = funnelOf(stretch.stream);
  const step = steps[stage - 1];
  const value = numbers.stages[stage]?.[m] ?? Number.NaN;
  const parts: TraceNode[] = [];
  if (step) {
    const before = (t: number): TraceNode => explainStage(explaining, numbers, stage - 1, t);
    parts.push(explainStep(explaining, step, m, before));
  }
  sources.forEach(({ enters }, index) => {
    if (enters === stage) parts.push(explainSource(explaining, numbers, index, m));
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

/** Why so many come out of a stream's funnel in a month. @param stretch with the funnel's own inputs */
export function explainFunnel(explaining: Explaining): TraceNode {
  const { stretch, t } = explaining;
  const last = funnelOf(stretch.stream).steps.length;
  return explainStage(explaining, funnelNumbers(stretch), last, t - stretch.open);
}

/** What is wrong with a funnel, in words. */
export function funnelMistakes({ sources, steps }: Funnel): string[] {
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
  for (const { name, lag, opening } of stepsOf({ sources, steps })) {
    if (opening.length < lag) {
      mistakes.push(
        `What was under way before ${name} is missing: ${lag} months, oldest first; there are ${opening.length}`,
      );
    }
  }
  return mistakes;
}

/**
 * What a funnel's driver acts on in a month: rates on what comes to their step, costs on what passes,
 * yields and costs of one on items. Undefined for a driver that is none of these.
 */
export function funnelActsOn(
  code: string,
  stretch: Pick<Stretch, 'stream' | 'inputs' | 'open' | 'count'>,
  t: number,
): number | undefined {
  const funnel = funnelOf(stretch.stream);
  const { sources, steps } = funnel;
  const month = t - stretch.open;
  const numbers = funnelNumbers(stretch);
  const chains = [...numbers.chains, numbers];
  const lists = [...sources.map((source) => source.steps ?? []), steps];
  for (const [chain, list] of lists.entries()) {
    const step = list.findIndex(({ rate, cost }) => rate === code || cost === code);
    if (step < 0) continue;
    const { passed = [], came = [] } = chains[chain] ?? {};
    return at((list[step]?.cost === code ? passed : came)[step], month);
  }
  const source = sources.findIndex(({ drivers }) => drivers[1] === code);
  if (source < 0) return undefined;
  const { kind, drivers = [] } = sources[source] ?? {};
  const place = funnelDrivers(funnel).indexOf(drivers[0] ?? '');
  return kind === 'paid' ? at(numbers.sources[source], month) : at(stretch.inputs[place], t);
}

/** Funnel: the last step's items are gross units; returns, list price and discount make revenue. */
export const funnel: Method = {
  code: 'funnel',
  name: 'Funnel',
  when: 'Sales come from visits, trials or leads that convert step by step, some of them later.',
  needs:
    'At least one source, a rate for every step, what was under way at the start, and a list price.',
  writes: ['units', 'revenue'],
  inputs: (stream) => [...funnelDrivers(funnelOf(stream)), ...PRICED, 'returnRate'],
  problems: ({ stream }) => funnelMistakes(funnelOf(stream)),
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
  actsOn: funnelActsOn,
  explain: (result, explaining) =>
    result === 'units'
      ? {
          shape: 'product',
          parts: [explainFunnel(explaining), oneMinus(explaining.driver('returnRate'))],
        }
      : explainValued(explaining),
};
