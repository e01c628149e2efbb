/** Explains a result of a stream in an open month, from the method that computed it. */
import { valueOrNull } from '../measures/nature.ts';
import { monthText } from '../calendar/month.ts';
import { METHODS } from '../forecast/methods/index.ts';
import { COST_DRIVERS } from '../drivers/catalogue.ts';
import type { Explaining } from '../forecast/methods/method.ts';
import { seriesOfDriver, stretchAnew, stretchOf, type Model } from '../forecast/run.ts';
import { anewAt, type CompiledStream } from '../forecast/structure.ts';
import { FORECAST } from '../sources/source.ts';
import { MEASURES, type ForecastResult, type ResultCode } from '../measures/catalogue.ts';
import { driverLeaf } from './explain-driver.ts';
import type { TraceDisplay, TraceNode } from './trace.ts';

/** A number of a stream in a month, with the question that explains it further. */
function cellOf(
  model: Model,
  { combination }: CompiledStream,
  result: ResultCode,
  t: number,
  value: number | undefined,
): TraceNode {
  const month = model.first + t;
  const number = valueOrNull(value);
  const span = { from: month, to: month };
  const node = {
    label: `${MEASURES[result].name}, ${monthText(month)}`,
    display: MEASURES[result].display,
    value: number,
    incomplete: number === null,
    shape: 'value' as const,
    parts: [],
    question: {
      kind: 'table' as const,
      source: FORECAST,
      measure: result,
      scope: combination.members,
      span,
    },
  };
  if (t < 0) return { ...node, value: null, incomplete: true, source: { kind: 'nothing' } };
  return t < model.open
    ? { ...node, source: { kind: 'sales', scope: combination.members, span } }
    : node;
}

/** A result of a stream in an open month: what was computed, or what is typed over it. */
export function explainResult(
  model: Model,
  index: number,
  result: ResultCode,
  t: number,
): TraceNode {
  const compiled = model.streams[index];
  if (!compiled) throw new RangeError(`There is no stream at ${index}`);
  const value = model.results[result][index]?.[t];
  if (result === 'cost') return explainCost(model, index, t, value);
  const typed = model.overrides.get(index)?.get(t);
  const computed = model.beforeOverride.get(index)?.get(t);
  const base = { ...cellOf(model, compiled, result, t, value), label: MEASURES[result].name };
  const override = typed?.[result];
  if (!typed || !computed) return explainComputed(model, index, result, t, value);
  const replaces = explainComputed(model, index, result, t, computed[result]);
  if (override) {
    const { combination, month, by, why, at } = override;
    return { ...base, source: { kind: 'override', combination, month, by, why, at }, replaces };
  }
  if (result === 'units' || !typed.units) return replaces;
  // Units are typed: revenue follows at the computed price.
  const price = computed.revenue / computed.units;
  if (!Number.isFinite(price)) return replaces;
  return {
    ...base,
    shape: 'product',
    parts: [
      explainResult(model, index, 'units', t),
      {
        label: 'Computed price',
        display: 'price',
        value: price,
        incomplete: false,
        shape: 'ratio',
        parts: [replaces, explainComputed(model, index, 'units', t, computed.units)],
      },
    ],
    replaces,
  };
}

/** Cost of sales: net units x unit cost where one is assumed, else revenue x cost share. */
function explainCost(model: Model, index: number, t: number, value: number | undefined): TraceNode {
  const compiled = model.streams[index];
  if (!compiled) throw new RangeError(`There is no stream at ${index}`);
  const base = { ...cellOf(model, compiled, 'cost', t, value), label: MEASURES.cost.name };
  const month = monthText(model.first + t);
  const [perUnit] = COST_DRIVERS;
  const held = seriesOfDriver(model, index, perUnit)?.values[t];
  const byUnits = held !== undefined && !Number.isNaN(held);
  const [of, driver] = byUnits
    ? (['units', perUnit] as const)
    : (['revenue', 'costShare'] as const);
  if (!model.drivers.holdings.has(driver)) return { ...base, source: { kind: 'nothing' } };
  return {
    ...base,
    shape: 'product',
    parts: [explainResult(model, index, of, t), driverLeaf(model, index, driver, month)],
  };
}

function explainComputed(
  model: Model,
  index: number,
  result: ForecastResult,
  t: number,
  value: number | undefined,
): TraceNode {
  const compiled = model.streams[index];
  if (!compiled) throw new RangeError(`There is no stream at ${index}`);
  const { stream } = compiled;
  const circle = model.components[model.componentOf[index] ?? 0]?.circle;
  const base = { ...cellOf(model, compiled, result, t, value), label: MEASURES[result].name };
  const anew = anewAt(compiled, t);
  const mistaken = !anew && compiled.mistakes.length > 0;
  if (circle || mistaken) return { ...base, source: { kind: 'nothing' } };
  const explaining = explainingOf(model, index, t);
  return { ...base, ...METHODS[(anew?.stream ?? stream).method].explain(result, explaining) };
}

/** What the method of a stream needs to explain a number of a month. */
export function explainingOf(model: Model, index: number, t: number): Explaining {
  const compiled = model.streams[index];
  if (!compiled) throw new RangeError(`There is no stream at ${index}`);
  const { stream, others, combination } = compiled;
  const anew = anewAt(compiled, t);
  return {
    stretch: anew ? stretchAnew(model, index, anew) : stretchOf(model, index),
    t,
    driver: (code, month = t) => driverLeaf(model, index, code, monthText(model.first + month)),
    cell(measure, month, other) {
      const place = other === undefined ? index : (others[other] ?? -1);
      const read = model.streams[place];
      if (!read) return { ...cellOf(model, compiled, measure, -1, undefined), label: 'Not there' };
      if (place === index && month === t) {
        // Within one month revenue is made of the units as they were computed.
        const units =
          model.beforeOverride.get(index)?.get(t)?.[measure] ?? model.results[measure][index]?.[t];
        return explainComputed(model, index, measure, t, units);
      }
      return cellOf(model, read, measure, month, model.results[measure][place]?.[month]);
    },
    setting: (label: string, display: TraceDisplay, number: number) => ({
      label,
      display,
      value: valueOrNull(number),
      incomplete: Number.isNaN(number),
      shape: 'value',
      parts: [],
      source: { kind: 'setting', stream: stream.id },
    }),
    history: (label, display, number) => ({
      label,
      display,
      value: number,
      incomplete: number === null,
      shape: 'value',
      parts: [],
      source: {
        kind: 'sales',
        scope: combination.members,
        span: { from: model.first, to: model.first + model.open - 1 },
      },
    }),
  };
}
