/** A statistical baseline of a stream's own closed months. */
import { valueOrNull } from '../../measures/nature.ts';
import { leavesBlank } from '../anew.ts';
import {
  baseline as continueHistory,
  BASELINES,
  cannot,
  cannotChoose,
  historyOf,
  type BaselineKind,
  type BaselineSettings,
} from '../../baselines/baseline.ts';
import { bestKind, intervals, league, type Interval } from '../../baselines/backtest.ts';
import type { ForecastResult } from '../../measures/catalogue.ts';
import type { BaselineChoice, Stream } from '../plan.ts';
import {
  explainValued,
  PRICED,
  valueUnits,
  type Method,
  type Prepared,
  type Stretch,
} from './method.ts';

const USUAL: BaselineChoice = { of: 'units', kind: 'best', settings: {} };
const choiceOf = ({ settings }: Stream): BaselineChoice => settings?.baseline ?? USUAL;

/** The closed months of a result from the first sale on. */
function historyIn(stretch: Stretch, result: ForecastResult): number[] {
  return historyOf([...stretch.results[result].subarray(0, stretch.open)]);
}

/**
 * What was fitted before, by all that it follows from: a plan is read anew whenever somebody changes
 * it, and the histories of nearly all its streams are the same.
 */
const fitted = new Map<string, Prepared>();
/** More than the streams of a large plan; what is left out is fitted again. */
const MOST_FITTED = 5000;

function prepare(stretch: Stretch): Prepared {
  const { of, kind, settings } = choiceOf(stretch.stream);
  const { first, open, count } = stretch;
  const histories = [historyIn(stretch, 'units'), of === 'revenue' && historyIn(stretch, of)];
  const key = JSON.stringify([of, kind, settings, first, open, count, histories]);
  const fittedBefore = fitted.get(key);
  if (fittedBefore) return fittedBefore;
  if (fitted.size >= MOST_FITTED) fitted.clear();
  const made = fit(stretch);
  fitted.set(key, made);
  return made;
}

/** What a baseline continues, for the trace. */
function inWords(kind: BaselineKind, { span, month }: BaselineSettings, months: number) {
  const { name } = BASELINES[kind];
  if (kind === 'mean' && span) return `${name}: ${span.from} to ${span.to}`;
  if (kind === 'lastMonth' && month !== undefined) return `As in ${month}`;
  return `${name} through ${months} closed months`;
}

function fit(stretch: Stretch): Prepared {
  const choice = choiceOf(stretch.stream);
  const { of, kind, settings } = choice;
  if (leavesBlank(choice)) {
    const nothing = new Float64Array(stretch.count - stretch.open);
    return { units: nothing, revenue: nothing, words: 'Left blank' };
  }
  const { open, count } = stretch;
  const months = count - open;
  const history = historyIn(stretch, of);
  const taken = kind === 'best' ? bestKind(history) : kind;
  if (taken === null) return { units: null, revenue: null, words: 'Nothing was sold yet' };
  const ahead = (result: ForecastResult): Float64Array => {
    const historyOfStretch = historyIn(stretch, result);
    // Streams without units, such as services by the amount, have none to continue.
    if (historyOfStretch.length === 0) return new Float64Array(months);
    return Float64Array.from(
      continueHistory(taken, historyOfStretch, months, settings, stretch.first + open - 1),
    );
  };
  return {
    units: ahead('units'),
    revenue: of === 'revenue' ? ahead('revenue') : null,
    words: inWords(taken, settings, history.length),
  };
}

/**
 * Between which values a baseline will probably lie, four times of five, by the errors that its
 * kind made over the last twelve closed months; over the open months. Where units are continued,
 * revenue is as far from its forecast in proportion as they are. Null for another method, and
 * where nothing could be tried.
 */
export function bandOf(stretch: Stretch, result: ForecastResult): Interval[] | null {
  if (stretch.stream.method !== 'baseline') return null;
  const { of, kind, settings } = choiceOf(stretch.stream);
  const history = historyIn(stretch, of);
  const { rows, best } = league(history, settings);
  const taken = kind === 'best' ? best : kind;
  const errors = rows.find((row) => row.kind === taken)?.errors ?? [];
  if (errors.length === 0) return null;
  const { open, count } = stretch;
  const monthsAhead = (name: ForecastResult): number[] => [
    ...stretch.results[name].subarray(open, count),
  ];
  const ahead = monthsAhead(of);
  const band = intervals(ahead, errors);
  if (of === result) return band;
  return monthsAhead(result).map((value, t) => {
    const price = value / (ahead[t] ?? Number.NaN);
    const { low = Number.NaN, high = Number.NaN } = band[t] ?? {};
    return { low: low * price, high: high * price };
  });
}

/** Statistical baseline: continued from actuals by the kind that is chosen, or the one that did best. */
export const baseline: Method = {
  code: 'baseline',
  name: 'Statistical baseline',
  when: 'There is history and nothing better is known: it continues as before.',
  needs:
    'Closed months of sales, two years for season and trend; a list price when units are continued.',
  writes: ['units', 'revenue'],
  inputs: (stream) => (choiceOf(stream).of === 'units' ? PRICED : []),
  prepare,
  problems(stretch) {
    const { of, kind, settings } = choiceOf(stretch.stream);
    const history = historyIn(stretch, of);
    const why =
      leavesBlank(choiceOf(stretch.stream)) || kind === 'best' || history.length === 0
        ? undefined
        : (cannot(kind, history) ??
          cannotChoose(kind, history, settings, stretch.first + stretch.open - 1));
    return why === undefined ? [] : [why];
  },
  notes: (stretch) =>
    !leavesBlank(choiceOf(stretch.stream)) &&
    historyIn(stretch, choiceOf(stretch.stream).of).length === 0
      ? ['Nothing was sold yet: there is no history to continue']
      : [],
  compute(stretch) {
    const { prepared, results, from, to, open } = stretch;
    const { units, revenue } = results;
    for (let t = from; t < to; t += 1) {
      units[t] = prepared?.units?.[t - open] ?? Number.NaN;
      if (prepared?.revenue) revenue[t] = prepared.revenue[t - open] ?? Number.NaN;
      else if (!prepared?.units) revenue[t] = Number.NaN;
    }
    if (prepared?.units && !prepared.revenue) valueUnits(stretch, 0);
  },
  explain(result, explaining) {
    const { stretch, t, history } = explaining;
    const { prepared, open } = stretch;
    if (result === 'revenue' && choiceOf(stretch.stream).of === 'units')
      return explainValued(explaining);
    const value = valueOrNull(prepared?.[result]?.[t - open]);
    const display = result === 'units' ? 'units' : 'money';
    return { shape: 'plus', parts: [history(prepared?.words ?? '', display, value)] };
  },
};
