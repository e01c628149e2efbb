/** A stream by formulas of drivers, of other streams, and of its own months before. */
import { compileFormula, type CompiledFormula, type NamedSeries } from '../../formula/evaluate.ts';
import { leastLags, longestLag, parseFormula, type FormulaNode } from '../../formula/parse.ts';
import { explainFormula } from '../../formula/explain.ts';
import type { Stream, StreamFormula } from '../plan.ts';
import {
  blockOf,
  explainValued,
  OWN_NAMES,
  PRICED,
  valueUnits,
  type Explaining,
  type Explanation,
  type Method,
  type Result,
  type StreamReading,
  type Stretch,
} from './method.ts';

const NONE: StreamFormula = { units: null, revenue: null, names: [] };
const formulaOf = ({ settings }: Stream): StreamFormula => settings?.formula ?? NONE;

/** A formula that was read, with what each of its names is. */
interface Read {
  readonly node: FormulaNode;
  readonly names: readonly string[];
  readonly compute: CompiledFormula;
}

/** The formulas of a stream: read once, then found by the text. */
const known = new Map<string, Read | null>();
const MOST_KNOWN = 5000;

function readFormula(text: string | null): Read | null {
  if (text === null) return null;
  const before = known.get(text);
  if (before !== undefined) return before;
  const { node, names = [] } = { names: [], ...parseFormula(text) };
  const place = new Map(names.map((name, index) => [name, index]));
  const read = node
    ? { node, names, compute: compileFormula(node, (name) => place.get(name) ?? -1) }
    : null;
  if (known.size > MOST_KNOWN) known.clear();
  known.set(text, read);
  return read;
}

/** The names of both formulas that are drivers, in the order in which they are read. */
function driversIn(stream: Stream): string[] {
  const { units, revenue, names } = formulaOf(stream);
  const own = new Set<string>([...OWN_NAMES, ...names.map(({ name }) => name)]);
  const all = [units, revenue].flatMap((text) => readFormula(text)?.names ?? []);
  return [...new Set(all)].filter((name) => !own.has(name));
}

/** How far back both formulas read a name at the least; undefined where neither does. */
function lagOf(stream: Stream, name: string): number | undefined {
  const { units, revenue } = formulaOf(stream);
  const lags = [units, revenue].flatMap((text) => {
    const read = readFormula(text);
    const lag = read && leastLags(read.node).get(name);
    return typeof lag === 'number' ? [lag] : [];
  });
  return lags.length > 0 ? Math.min(...lags) : undefined;
}

/** What the names of a formula stand for in the arrays of a stretch. */
function inputsOf(stretch: Stretch, names: readonly string[]): NamedSeries[] {
  const { stream, inputs, units, revenue, offset, others } = stretch;
  const drivers = driversIn(stream);
  const streams = formulaOf(stream).names;
  return names.map((name) => {
    const driver = inputs[drivers.indexOf(name)];
    if (driver) return { series: driver, offset: 0 };
    const place = streams.findIndex((one) => one.name === name);
    const other = streams[place];
    if (other) {
      const start = others[place] ?? -1;
      return start < 0
        ? { series: new Float64Array(), offset: 0 }
        : blockOf(stretch[other.measure], start);
    }
    return blockOf(name === 'units' ? units : revenue, offset);
  });
}

/** A formula of a stream that reads its own result of the same month cannot be computed. */
function ownMistakes(stream: Stream): string[] {
  const { units, revenue } = formulaOf(stream);
  const found: string[] = [];
  for (const [result, text] of [
    ['units', units],
    ['revenue', revenue],
  ] as const) {
    const read = readFormula(text);
    if (!read) continue;
    const lags = leastLags(read.node);
    if (lags.get(result) === 0) {
      found.push(
        `The formula of ${result} reads ${result} of the same month; let it read lag(${result}, 1)`,
      );
    }
    if (result === 'units' && lags.get('revenue') === 0) {
      found.push('The formula of units reads revenue of the same month, which comes after it');
    }
  }
  return found;
}

function explainResult(result: Result, explaining: Explaining): Explanation {
  const { stretch, t, driver, cell, setting } = explaining;
  const { stream } = stretch;
  const text = formulaOf(stream)[result];
  if (text === null) {
    return result === 'revenue'
      ? explainValued(explaining)
      : { shape: 'plus', parts: [setting('There is no formula of units', 'units', 0)] };
  }
  const read = readFormula(text);
  if (!read)
    return { shape: 'plus', parts: [setting('The formula cannot be read', 'units', Number.NaN)] };
  const streams = formulaOf(stream).names;
  const node = explainFormula(read.node, t, (name, month) => {
    const place = streams.findIndex((one) => one.name === name);
    const other = streams[place];
    if (other) return { ...cell(other.measure, month, place), label: name };
    if (name === 'units' || name === 'revenue') return cell(name, month);
    return driver(name, month);
  });
  return { shape: 'plus', parts: [node] };
}

/** Formula: units and revenue by arithmetic over drivers and streams. */
export const formula: Method = {
  code: 'formula',
  name: 'Formula',
  when: 'None of the others fits: you can write down how it depends on drivers or other streams.',
  needs: 'A formula of revenue, or one of units and a list price.',
  inputs: (stream) => [...driversIn(stream), ...(formulaOf(stream).revenue === null ? PRICED : [])],
  reads: (stream): StreamReading[] => [
    ...formulaOf(stream).names.map(({ name, combination }) => ({
      combination,
      lag: lagOf(stream, name) ?? 0,
    })),
    // Its own months before make it a component that is computed month by month.
    ...(OWN_NAMES.some((name) => (lagOf(stream, name) ?? 0) > 0)
      ? [{ combination: stream.combination, lag: 1 }]
      : []),
  ],
  problems({ stream, count, others }) {
    const { units, revenue, names } = formulaOf(stream);
    const found: string[] = [];
    if (units === null && revenue === null) found.push('It has no formula yet');
    for (const [result, text] of [
      ['units', units],
      ['revenue', revenue],
    ] as const) {
      if (text === null) continue;
      const parsed = parseFormula(text);
      for (const { message } of parsed.problems ?? [])
        found.push(`Formula of ${result}: ${message}`);
      const back = parsed.node ? longestLag(parsed.node) : 0;
      if (back >= count) {
        found.push(
          `Formula of ${result}: it reads ${back} months back; the plan has ${count} months in all`,
        );
      }
    }
    names.forEach(({ name }, place) => {
      if ((others[place] ?? -1) < 0) found.push(`The stream that ${name} stands for is not there`);
    });
    return [...found, ...ownMistakes(stream)];
  },
  compute(stretch) {
    const { stream, units, revenue, offset, from, to } = stretch;
    const texts = formulaOf(stream);
    const ofUnits = readFormula(texts.units);
    const ofRevenue = readFormula(texts.revenue);
    const unitInputs = ofUnits ? inputsOf(stretch, ofUnits.names) : [];
    const revenueInputs = ofRevenue ? inputsOf(stretch, ofRevenue.names) : [];
    const broken = ownMistakes(stream).length > 0;
    for (let t = from; t < to; t += 1) {
      const none = texts.units === null ? 0 : Number.NaN;
      units[offset + t] = ofUnits && !broken ? ofUnits.compute(unitInputs, t) : none;
      if (texts.revenue === null) {
        valueUnits({ ...stretch, from: t, to: t + 1 }, stretch.inputs.length - PRICED.length);
      } else {
        revenue[offset + t] =
          ofRevenue && !broken ? ofRevenue.compute(revenueInputs, t) : Number.NaN;
      }
    }
  },
  explain: explainResult,
};
