/** The funnels of a scope as a table: what enters from where, what passes each step, what it brings. */
import { valueOrNull } from '../measures/nature.ts';
import type { Grain, Period, Span } from '../calendar/period.ts';
import { periodsOf } from '../calendar/period.ts';
import type { Scope } from '../dimensions/dimension.ts';
import { FORECAST_RESULTS, type ForecastResult } from '../measures/catalogue.ts';
import { netUnitsOf, revenueOf } from './methods/method.ts';
import { funnelNumbers, UNDER_WAY, type FunnelNumbers } from './methods/funnel.ts';
import {
  subscriptionNumbers,
  subscriptionSources,
  throughFunnel,
} from './methods/subscription-numbers.ts';
import type { Funnel } from './plan.ts';
import { stretchOf, type Model } from './run.ts';
import { anewAt, streamsIn } from './structure.ts';

/** A line of the table; lines of one name of several streams are added up. */
export interface FunnelLine {
  /** What a line counts: entries of a source, items past a step, their costs, what sources bring. */
  readonly kind: 'source' | 'step' | 'cost' | 'units' | 'revenue';
  readonly name: string;
  /** By period; null where something is missing. */
  readonly values: readonly (number | null)[];
  /** Of a step: the share of what came before that passes it, from the sums; null for nothing. */
  readonly rates: readonly (number | null)[];
  readonly total: number | null;
}

export interface FunnelTable {
  readonly periods: readonly Period[];
  readonly lines: readonly FunnelLine[];
  /** How many streams of the scope are funnels. */
  readonly streams: number;
}

/** What is typed over the streams instead of what their funnels bring. */
export const TYPED_OVER = 'Manual override';

/** What a baseline makes of months that are forecast anew. */
export const FORECAST_ANEW = 'Reforecast';

/**
 * Adds up the funnels of a scope over the open months of a span. What a source brings in units and
 * revenue is what the funnel would make of it alone; with what was under way they add up to the
 * streams' own numbers. Source: calculations, *Methods of a stream*.
 * @param model evaluated
 */
export function funnelTable(model: Model, scope: Scope, span: Span, grain: Grain): FunnelTable {
  const first = model.first + model.open;
  const open = { from: Math.max(span.from, first), to: span.to };
  const indexes = streamsIn(model, scope).filter((index) => {
    const { method, settings } = model.streams[index]?.stream ?? {};
    return method === 'funnel' || (method === 'subscription' && settings?.funnel !== undefined);
  });
  const { fiscalStart } = model.plan.calendar;
  const periods = open.from <= open.to ? periodsOf(open, grain, fiscalStart) : [];
  const months = model.count - model.open;
  const sums = new Map<string, { kind: FunnelLine['kind']; name: string; by: Float64Array }>();
  const add = (kind: FunnelLine['kind'], name: string, series: ArrayLike<number>): void => {
    const key = `${kind} ${name}`;
    const sumOfSource = sums.get(key) ?? { kind, name, by: new Float64Array(months) };
    sums.set(key, sumOfSource);
    for (let t = 0; t < months; t += 1)
      sumOfSource.by[t] = (sumOfSource.by[t] ?? 0) + (series[t] ?? NaN);
  };
  const tried = new Map<string, { base: Float64Array; passed: Float64Array }>();
  /** What enters from where, what passes each step, and what that costs. */
  const addSteps = (funnel: Funnel, numbers: FunnelNumbers): void => {
    const { sources } = numbers;
    funnel.sources.forEach(({ name }, place) => add('source', name, sources[place] ?? []));
    const chains = [...funnel.sources.map((source) => source.steps ?? []), funnel.steps];
    const steps = [...numbers.chains, numbers].flatMap(({ stages, came, passed, costs }, chain) =>
      (chains[chain] ?? []).map((step, place) => ({
        ...{ step, stage: stages[place + 1] ?? [] },
        ...{ came: came[place], passed: passed[place], costs: costs[place] },
      })),
    );
    steps.forEach(({ step: { name, cost }, stage, came, passed, costs }) => {
      add('step', name, stage);
      const stageSums = tried.get(name) ?? {
        base: new Float64Array(months),
        passed: new Float64Array(months),
      };
      tried.set(name, {
        base: stageSums.base.map((sum, t) => sum + (came?.[t] ?? NaN)),
        passed: stageSums.passed.map((sum, t) => sum + (passed?.[t] ?? NaN)),
      });
      if (cost !== null) add('cost', name, costs ?? []);
    });
  };
  for (const index of indexes) {
    const stretch = stretchOf(model, index);
    const { method, settings } = stretch.stream;
    const { funnel } = settings ?? {};
    if (!funnel) continue;
    if (method === 'subscription') {
      addSteps(funnel, funnelNumbers(throughFunnel(stretch)));
      for (const source of subscriptionSources(stretch, subscriptionNumbers(stretch))) {
        add('units', source.name, source.starters);
        add('revenue', source.name, source.revenue);
      }
      continue;
    }
    addSteps(funnel, funnelNumbers(stretch));
    const price = stretch.inputs.at(-3)?.subarray(model.open) ?? [];
    const discount = stretch.inputs.at(-2)?.subarray(model.open) ?? [];
    const returns = stretch.inputs.at(-1)?.subarray(model.open) ?? [];
    const typed = model.beforeOverride.get(index);
    // What is typed over the funnel is a line of its own: the funnel does not bring it.
    const now = (kind: ForecastResult): Float64Array =>
      (model.results[kind][index] ?? new Float64Array()).slice(model.open);
    const computed = (kind: ForecastResult): Float64Array =>
      now(kind).map((value, t) => typed?.get(model.open + t)?.[kind] ?? value);
    const left = { units: computed('units'), revenue: computed('revenue') };
    // Nor what is forecast anew: sources bring nothing in these months.
    const compiled = model.streams[index];
    const byFunnel = (value: number, t: number): number =>
      compiled && anewAt(compiled, model.open + t) ? 0 : value;
    for (const kind of compiled && compiled.anew.length > 0 ? FORECAST_RESULTS : []) {
      const all = left[kind];
      left[kind] = all.map(byFunnel);
      add(
        kind,
        FORECAST_ANEW,
        all.map((value, t) => value - (left[kind][t] ?? NaN)),
      );
    }
    for (const kind of FORECAST_RESULTS) {
      const over = now(kind).map((value, t) => value - (left[kind][t] ?? NaN));
      if (over.some((value) => value !== 0)) add(kind, TYPED_OVER, over);
    }
    const parts = funnel.sources.map(({ name }, place) => {
      const alone = funnelNumbers(stretch, place).stages.at(-1) ?? new Float64Array(months);
      const units = alone.map((value, t) => netUnitsOf(value, returns[t] ?? NaN)).map(byFunnel);
      const revenue = units
        .map((value, t) => revenueOf(value, price[t] ?? NaN, discount[t] ?? NaN))
        .map(byFunnel);
      for (let t = 0; t < months; t += 1) {
        left.units[t] = (left.units[t] ?? 0) - (units[t] ?? 0);
        left.revenue[t] = (left.revenue[t] ?? 0) - (revenue[t] ?? 0);
      }
      return { name, units, revenue };
    });
    for (const kind of FORECAST_RESULTS) {
      for (const part of parts) add(kind, part.name, part[kind]);
      add(kind, UNDER_WAY, left[kind]);
    }
  }
  const over = (series: ArrayLike<number>, { from, to }: Span): number => {
    let sum = 0;
    for (let month = from; month <= to; month += 1) sum += series[month - first] ?? NaN;
    return sum;
  };
  const ORDER = ['source', 'step', 'cost', 'units', 'revenue'] as const;
  const lines = ORDER.flatMap((wanted) =>
    [...sums.values()]
      .filter(({ kind }) => kind === wanted)
      .map(({ kind, name, by }): FunnelLine => {
        const stageSumsOfName = tried.get(name);
        return {
          kind,
          name,
          values: periods.map((period) => valueOrNull(over(by, period))),
          rates:
            kind === 'step' && stageSumsOfName
              ? periods.map((period) => {
                  const share =
                    over(stageSumsOfName.passed, period) / over(stageSumsOfName.base, period);
                  return Number.isFinite(share) ? share : null;
                })
              : [],
          total: periods.length > 0 ? valueOrNull(over(by, open)) : null,
        };
      }),
  );
  return { periods, lines, streams: indexes.length };
}
