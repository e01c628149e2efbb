/** The funnels of a scope in one month, as chains: what enters, which part passes, what comes out. */
import type { Month } from '../calendar/month.ts';
import type { Scope } from '../dimensions/dimension.ts';
import { ratio, valueOrNull } from '../measures/nature.ts';
import { funnelNumbers, type ChainNumbers } from './methods/funnel.ts';
import { throughFunnel } from './methods/subscription-numbers.ts';
import type { FunnelSource, FunnelStep } from './plan.ts';
import { stretchOf, type Model } from './run.ts';
import { streamsIn } from './structure.ts';

/** A step in a month: of several streams of one name the sums, and the rate that they come to. */
export interface ChainStep {
  readonly name: string;
  /** The driver of the rate. */
  readonly driver: string;
  readonly lag: number;
  /** What the step before had, its lag earlier. */
  readonly came: number | null;
  readonly rate: number | null;
  readonly passed: number | null;
}

/** A source in a month, with the steps that it passes by itself. */
export interface ChainSource {
  readonly name: string;
  readonly kind: FunnelSource['kind'];
  readonly drivers: readonly string[];
  readonly brings: number | null;
  readonly steps: readonly ChainStep[];
  /** After which of the common steps it enters, from 0. */
  readonly enters: number;
}

export interface FunnelChain {
  readonly sources: readonly ChainSource[];
  /** The common steps. */
  readonly steps: readonly ChainStep[];
  /** What comes out: the last step's, with what entered after it. */
  readonly out: number | null;
  /** How many streams of the scope have a funnel. */
  readonly streams: number;
}

interface Sums {
  came: number;
  passed: number;
}

/**
 * Adds up the funnels of a scope in a month. Funnels that are built differently stand below each
 * other: steps and sources are told apart by their names.
 * @param model evaluated
 * @param month an open one
 */
export function funnelChain(model: Model, scope: Scope, month: Month): FunnelChain {
  const m = month - model.first - model.open;
  const sources = new Map<string, { source: FunnelSource; brings: number }>();
  const steps = new Map<string, { step: FunnelStep; sums: Sums; of: string }>();
  let out = 0;
  let streams = 0;
  const addSteps = (list: readonly FunnelStep[], numbers: ChainNumbers | undefined, of: string) =>
    list.forEach((step, place) => {
      const known = steps.get(`${of} ${step.name}`) ?? { step, sums: { came: 0, passed: 0 }, of };
      known.sums.came += numbers?.came[place]?.[m] ?? Number.NaN;
      known.sums.passed += numbers?.passed[place]?.[m] ?? Number.NaN;
      steps.set(`${of} ${step.name}`, known);
    });
  for (const index of streamsIn(model, scope)) {
    const stretch = stretchOf(model, index);
    const { method, settings } = stretch.stream;
    const { funnel } = settings ?? {};
    if (!funnel || (method !== 'funnel' && method !== 'subscription')) continue;
    streams += 1;
    const numbers = funnelNumbers(method === 'funnel' ? stretch : throughFunnel(stretch));
    funnel.sources.forEach((source, place) => {
      const known = sources.get(source.name) ?? { source, brings: 0 };
      known.brings += numbers.sources[place]?.[m] ?? Number.NaN;
      sources.set(source.name, known);
      addSteps(source.steps ?? [], numbers.chains[place], source.name);
    });
    addSteps(funnel.steps, numbers, '');
    out += numbers.stages.at(-1)?.[m] ?? Number.NaN;
  }
  const stepsOf = (wanted: string): ChainStep[] =>
    [...steps.values()]
      .filter(({ of }) => of === wanted)
      .map(({ step: { name, rate, lag }, sums: { came, passed } }) => ({
        ...{ name, driver: rate, lag },
        ...{ came: valueOrNull(came), passed: valueOrNull(passed), rate: ratio(passed, came) },
      }));
  return {
    sources: [...sources.values()].map(({ source: { name, kind, drivers, enters }, brings }) => ({
      ...{ name, kind, drivers, enters },
      ...{ brings: valueOrNull(brings), steps: stepsOf(name) },
    })),
    steps: stepsOf(''),
    out: valueOrNull(out),
    streams,
  };
}
