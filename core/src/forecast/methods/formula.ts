/** A stream by formulas of drivers, of other streams, and of its own months before. */
import type { Driver } from '../../drivers/driver.ts';
import { explainFormula } from '../../formula/explain.ts';
import { leastLags } from '../../formula/parse.ts';
import { formulaMistakes, readFormula, unitsOfDrivers } from '../../formula/read-formula.ts';
import { MONEY, PIECES, type Unit } from '../../formula/units.ts';
import { FORECAST_RESULTS, MEASURES, type ForecastResult } from '../../measures/catalogue.ts';
import type { Stream, StreamFormula, StreamName } from '../plan.ts';
import {
  explainValued,
  PRICED,
  valueUnits,
  type Explaining,
  type Explanation,
  type Method,
  type StreamReading,
  type Stretch,
} from './method.ts';

const NONE: StreamFormula = { units: null, revenue: null, names: [] };
const formulaOf = ({ settings }: Stream): StreamFormula => settings?.formula ?? NONE;

/** The unit of each result that formulas give and read: units may be counted in anything but money. */
const UNITS: Readonly<Record<ForecastResult, Unit>> = { units: PIECES, revenue: MONEY };
const isResult = (name: string): name is ForecastResult =>
  FORECAST_RESULTS.some((result) => result === name);

/** The formulas that a stream has, by what they give. */
function textsOf(stream: Stream): { readonly result: ForecastResult; readonly text: string }[] {
  return FORECAST_RESULTS.flatMap((result) => {
    const text = formulaOf(stream)[result];
    return text === null ? [] : [{ result, text }];
  });
}

/** The names that both formulas read, in the order in which they come. */
function namesIn(stream: Stream): string[] {
  const all = textsOf(stream).flatMap(({ text }) => readFormula(text).formula?.names ?? []);
  return [...new Set(all)];
}

/** The other streams that the formulas read: a name that is listed and not used is not read. */
function streamsIn(stream: Stream): StreamName[] {
  const used = new Set(namesIn(stream));
  return formulaOf(stream).names.filter(({ name }) => used.has(name));
}

/** The names of both formulas that are drivers. */
function driversIn(stream: Stream): string[] {
  const others = new Set(streamsIn(stream).map(({ name }) => name));
  return namesIn(stream).filter((name) => !isResult(name) && !others.has(name));
}

/** How far back both formulas read a name at the least; undefined where neither does. */
function lagOf(stream: Stream, name: string): number | undefined {
  const lags = textsOf(stream).flatMap(({ text }) => {
    const { formula } = readFormula(text);
    const lag = formula && leastLags(formula.node).get(name);
    return lag === undefined ? [] : [lag];
  });
  return lags.length > 0 ? Math.min(...lags) : undefined;
}

/** What a name of a formula stands for: a driver as it is read, another stream, an own result. */
function seriesOf({ stream, inputs, results, others }: Stretch, name: string) {
  const place = streamsIn(stream).findIndex((one) => one.name === name);
  const other = streamsIn(stream)[place];
  if (other) return others[place]?.[other.measure];
  return isResult(name) ? results[name] : inputs[driversIn(stream).indexOf(name)];
}

/** A formula of a stream that reads its own result of the same month cannot be computed. */
function ownMistakes(stream: Stream): string[] {
  return textsOf(stream).flatMap(({ result, text }) => {
    const { formula } = readFormula(text);
    if (!formula) return [];
    const lags = leastLags(formula.node);
    const mistakes: string[] = [];
    if (lags.get(result) === 0) {
      mistakes.push(
        `The formula of ${result} reads ${result} of the same month; let it read lag(${result}, 1)`,
      );
    }
    if (result === 'units' && lags.get('revenue') === 0) {
      mistakes.push('The formula of units reads revenue of the same month, which comes after it');
    }
    return mistakes;
  });
}

function mistakesOf(stream: Stream, drivers: readonly Driver[], months: number): string[] {
  const texts = textsOf(stream);
  if (texts.length === 0) return ['It has no formula yet'];
  const unitOfDriver = unitsOfDrivers(drivers);
  const others = new Map(formulaOf(stream).names.map(({ name, measure }) => [name, measure]));
  const mistakesInTexts = texts.flatMap(({ result, text }) =>
    formulaMistakes(text, {
      unitOf(name) {
        const measure = others.get(name) ?? (isResult(name) ? name : undefined);
        return measure === undefined ? unitOfDriver(name) : UNITS[measure];
      },
      named: 'driver or stream',
      wanted: UNITS[result],
      accepts: ({ money = 0 }) => money === (UNITS[result].money ?? 0),
      whose: MEASURES[result].name.toLowerCase(),
      months,
    }).map(({ message }) => `Formula of ${result}: ${message}`),
  );
  return [...mistakesInTexts, ...ownMistakes(stream)];
}

function explainResult(result: ForecastResult, explaining: Explaining): Explanation {
  const { stretch, t, driver, cell, setting } = explaining;
  const { stream } = stretch;
  const text = formulaOf(stream)[result];
  if (text === null) {
    return result === 'revenue'
      ? explainValued(explaining)
      : { shape: 'plus', parts: [setting('There is no formula of units', 'units', 0)] };
  }
  const { formula } = readFormula(text);
  if (!formula) {
    return { shape: 'plus', parts: [setting('The formula cannot be read', 'units', Number.NaN)] };
  }
  const streams = streamsIn(stream);
  const node = explainFormula(
    formula.node,
    t,
    (name, month) => {
      const place = streams.findIndex((one) => one.name === name);
      const other = streams[place];
      if (other) return { ...cell(other.measure, month, place), label: name };
      return isResult(name) ? cell(name, month) : driver(name, month);
    },
    (name) => seriesOf(stretch, name),
  );
  return { shape: 'plus', parts: [node] };
}

/** Formula: units and revenue by arithmetic over drivers and streams. */
export const formula: Method = {
  code: 'formula',
  name: 'Formula',
  when: 'No other method fits: you can write a formula of drivers or other forecast lines.',
  needs: 'A formula of revenue, or one of units and a list price.',
  writes: ['units', 'revenue'],
  readsClosedMonths: true,
  inputs: (stream) => [...driversIn(stream), ...(formulaOf(stream).revenue === null ? PRICED : [])],
  reads: (stream): StreamReading[] => [
    ...streamsIn(stream).map(({ name, combination }) => ({
      combination,
      lag: lagOf(stream, name) ?? 0,
    })),
    // Its own months before make it a component that is computed month by month.
    ...(FORECAST_RESULTS.some((name) => (lagOf(stream, name) ?? 0) > 0)
      ? [{ combination: stream.combination, lag: 1 }]
      : []),
  ],
  mistakes: mistakesOf,
  problems: ({ stream, others }) =>
    streamsIn(stream).flatMap(({ name }, place) =>
      others[place] ? [] : [`The forecast line that ${name} stands for is not there`],
    ),
  compute(stretch) {
    const { stream, results, from, to } = stretch;
    const { units, revenue } = formulaOf(stream);
    const run = (text: string | null) => {
      const { formula: read } = text === null ? {} : readFormula(text);
      return read?.compute(read.names.map((name) => seriesOf(stretch, name)));
    };
    const ofUnits = run(units);
    const ofRevenue = run(revenue);
    for (let t = from; t < to; t += 1) {
      results.units[t] = units === null ? 0 : (ofUnits?.(t) ?? Number.NaN);
      if (revenue === null) {
        valueUnits({ ...stretch, from: t, to: t + 1 }, stretch.inputs.length - PRICED.length);
      } else {
        results.revenue[t] = ofRevenue?.(t) ?? Number.NaN;
      }
    }
  },
  explain: explainResult,
};
