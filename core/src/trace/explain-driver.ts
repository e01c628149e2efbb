import { valueOrNull } from '../measures/nature.ts';
import { monthFrom, monthText, type MonthText } from '../calendar/month.ts';
import { driverNamed } from '../driver-table/driver-table.ts';
import { DriverRollUp } from '../driver-table/rolled.ts';
import { streamsBelow } from '../driver-table/type-into.ts';
import { adjusted, coversMonth, type Adjustment } from '../drivers/adjustment.ts';
import { natureOf, type Driver } from '../drivers/driver.ts';
import { BY_DEFAULT, BY_FORMULA, MISSING } from '../drivers/holding.ts';
import { explainFormula } from '../formula/explain.ts';
import { seriesOfDriver, type Model } from '../forecast/run.ts';
import { narrower } from './breakdown.ts';
import {
  evaluateTrace,
  type TraceDisplay,
  type TraceNode,
  type TraceQuestion,
  type TraceSource,
} from './trace.ts';

type DriverQuestion = Extract<TraceQuestion, { kind: 'driver' }>;

function displayOf({ kind }: Driver): TraceDisplay {
  if (kind === 'percent') return 'percent';
  return kind === 'money' || kind === 'moneyPerUnit' ? 'price' : 'units';
}

/** The adjustments over a driver of a stream in an open month, the first laid on first. */
function adjustmentsOver(model: Model, index: number, code: string, t: number): Adjustment[] {
  if (t < model.open) return [];
  const members = model.streams[index]?.combination.members ?? [];
  return model.drivers.adjustments
    .covering(code, members)
    .filter((one) => coversMonth(one, model.first + t));
}

/**
 * What a driver is for one stream in one month, as it is read: the assumption that holds, the
 * default, what actuals said; what is made of others has a question that explains it.
 */
export function driverLeaf(model: Model, index: number, code: string, month: MonthText): TraceNode {
  const t = monthFrom(month) - model.first;
  return observedLeaf(model, index, code, t) ?? heldLeaf(model, index, code, t);
}

/** In a closed month what actuals say of a driver; undefined where they say nothing. */
function observedLeaf(model: Model, index: number, code: string, t: number): TraceNode | undefined {
  const said = t < model.open ? model.drivers.observed(code, index)?.[t] : undefined;
  if (said === undefined || Number.isNaN(said)) return undefined;
  const driver = driverNamed(model, code);
  const scope = model.streams[index]?.combination.members ?? [];
  const month = monthText(model.first + t);
  return {
    label: `${driver.name}, ${month}`,
    display: displayOf(driver),
    value: said,
    incomplete: false,
    shape: 'value',
    parts: [],
    source: driver.history
      ? { kind: 'measured', measure: driver.history.measure, scope, month }
      : { kind: 'sales', scope, span: { from: model.first + t, to: model.first + t } },
  };
}

function heldLeaf(model: Model, index: number, code: string, t: number): TraceNode {
  const driver = driverNamed(model, code);
  const held = seriesOfDriver(model, index, code);
  const month = monthText(model.first + t);
  const holder = held?.holders[t] ?? MISSING;
  const value = held?.values[t] ?? Number.NaN;
  const made =
    holder === BY_FORMULA ||
    model.drivers.holdings.get(code)?.derived(holder) !== undefined ||
    adjustmentsOver(model, index, code, t).length > 0;
  let source: TraceSource = { kind: 'assumption', id: holder, month };
  if (holder === BY_DEFAULT) source = { kind: 'default', driver: code };
  else if (holder === MISSING) source = { kind: 'missing', driver: code, month };
  const scope = model.streams[index]?.combination.members ?? [];
  return {
    label: driver.name,
    display: displayOf(driver),
    value: valueOrNull(value),
    incomplete: Number.isNaN(value),
    shape: 'value',
    parts: [],
    question: { kind: 'driver', driver: code, scope, month },
    // What is made of others is explained further: it has a question and no source.
    ...(made ? {} : { source }),
  };
}

/** What holds before anything is laid over it: an assumption, a formula, last year and growth. */
function explainHeld(model: Model, index: number, driver: Driver, t: number): TraceNode {
  const { code } = driver;
  const leaf = heldLeaf(model, index, code, t);
  const held = seriesOfDriver(model, index, code);
  const holder = held?.holders[t] ?? MISSING;
  const members = model.streams[index]?.combination.members ?? [];
  const month = monthText(model.first + t);
  const value = held?.unadjusted?.[t] ?? held?.values[t] ?? Number.NaN;
  const base = {
    label: driver.name,
    display: displayOf(driver),
    value: valueOrNull(value),
    incomplete: Number.isNaN(value),
  };
  const formula = model.drivers.formulas.get(code);
  if (holder === BY_FORMULA && formula) {
    const made = explainFormula(
      formula.node,
      t,
      (name, at) => driverLeaf(model, index, name, monthText(model.first + at)),
      (name) => model.drivers.seriesAsRead(name, members, index).values,
    );
    return { ...base, shape: 'plus', parts: [made] };
  }
  const derived = model.drivers.holdings.get(code)?.derived(holder);
  const source: TraceSource =
    holder === BY_DEFAULT
      ? { kind: 'default', driver: code }
      : holder === MISSING
        ? { kind: 'missing', driver: code, month }
        : { kind: 'assumption', id: holder, month };
  if (!derived) return { ...leaf, ...base, shape: 'value', parts: [], source };
  const given = model.drivers.holdings.get(code)?.series(members).values[t] ?? Number.NaN;
  const part = (label: string, display: TraceDisplay, number: number): TraceNode => ({
    label,
    display,
    value: valueOrNull(number),
    incomplete: Number.isNaN(number),
    shape: 'value',
    parts: [],
    source,
  });
  if (derived.profile.kind === 'lastYear') {
    const before = driverLeaf(model, index, code, monthText(model.first + t - 12));
    const growth = part('Growth', 'percent', given);
    const more: TraceNode = {
      ...growth,
      label: 'With growth',
      value: growth.value === null ? null : 1 + growth.value,
      shape: 'onePlus',
      parts: [growth],
    };
    return { ...base, shape: 'product', parts: [before, more] };
  }
  const whole = part(`Total of ${model.tree.label(derived.scope)}`, base.display, given);
  const share = part('Share of what was sold', 'percent', value / given);
  return given === 0 || Number.isNaN(value)
    ? { ...base, shape: 'value', parts: [], source }
    : { ...base, shape: 'product', parts: [whole, share] };
}

/** A driver of one stream in one month, with what is laid over it: `279.76 x 1.04`. */
function explainStream(model: Model, index: number, driver: Driver, t: number): TraceNode {
  const observed = observedLeaf(model, index, driver.code, t);
  if (observed && t < model.open) return observed;
  let node = explainHeld(model, index, driver, t);
  for (const one of adjustmentsOver(model, index, driver.code, t)) {
    const value = adjusted(node.value ?? Number.NaN, one, driver);
    const by: TraceNode = {
      label: one.kind === 'times' ? 'Times' : one.kind === 'plus' ? 'Plus' : 'Set',
      display: one.kind === 'times' ? 'units' : displayOf(driver),
      value: one.value,
      incomplete: false,
      shape: 'value',
      parts: [],
      source: { kind: 'adjustment', id: one.id },
    };
    const base = {
      label: driver.name,
      display: displayOf(driver),
      value: valueOrNull(value),
      incomplete: Number.isNaN(value),
    };
    if (one.kind === 'set') {
      node = { ...by, ...base, replaces: node };
      continue;
    }
    const exact: TraceNode = {
      ...base,
      value: valueOrNull(
        one.kind === 'times'
          ? (node.value ?? Number.NaN) * one.value
          : (node.value ?? Number.NaN) + one.value,
      ),
      shape: one.kind === 'times' ? 'product' : 'plus',
      parts: [node, by],
    };
    node =
      exact.value === base.value
        ? exact
        : { ...base, shape: 'apply', operation: 'round', parts: [exact] };
  }
  const value = seriesOfDriver(model, index, driver.code)?.values[t] ?? Number.NaN;
  // What the driver forbids is no value, whatever it is made of.
  if (Number.isNaN(value) && evaluateTrace(node) !== null) {
    const { replaces: _, ...rest } = node;
    const source: TraceSource = {
      kind: 'missing',
      driver: driver.code,
      month: monthText(model.first + t),
    };
    return { ...rest, value: null, incomplete: true, shape: 'value', parts: [], source };
  }
  return node;
}

/**
 * A driver's number for a scope and a month by its nature: the one that holds for all of it, a sum
 * over the parts of the scope, or their mean weighted by what the driver acts on.
 * @param model evaluated
 */
export function explainDriver(model: Model, question: DriverQuestion): TraceNode {
  const driver = driverNamed(model, question.driver);
  const streams = streamsBelow(model, driver.code, question.scope);
  const rolled = new DriverRollUp(model, driver);
  return { ...explainStreams(rolled, question, streams), question };
}

function explainStreams(
  rolled: DriverRollUp,
  question: DriverQuestion,
  streams: readonly number[],
  deep = true,
): TraceNode {
  const { model, driver } = rolled;
  const t = monthFrom(question.month) - model.first;
  const label = model.tree.label(question.scope);
  const base = { label, display: displayOf(driver), question };
  const [first] = streams;
  if (first === undefined) {
    return {
      ...base,
      value: null,
      incomplete: false,
      shape: 'value',
      parts: [],
      source: { kind: 'nothing' },
    };
  }
  const { value, incomplete, weight, differs } = rolled.over(streams, t, t);
  const node = { ...base, value: valueOrNull(value), incomplete };
  const nature = natureOf(driver);
  const adds = (nature === 'flow' || nature === 'stock') && streams.length > 1;
  if (streams.length === 1) {
    const explained = explainStream(model, first, driver, t);
    const shown =
      deep || explained.source
        ? { ...explained, ...node }
        : { ...node, shape: 'value' as const, parts: [] };
    return nature === 'ratio' ? { ...shown, weight } : shown;
  }
  const weighs = nature === 'ratio' ? { weight } : {};
  if (!deep) return { ...node, shape: 'value', parts: [], ...weighs };
  if (!adds && !differs) {
    // One number for all of it: where it is the same assumption, that is what it rests on.
    const sources = streams.map((index) =>
      JSON.stringify(heldLeaf(model, index, driver.code, t).source ?? index),
    );
    if (new Set(sources).size === 1) {
      return { ...explainStream(model, first, driver, t), ...node };
    }
  }
  const combinations = model.streams.map(({ combination }) => combination);
  const parts = narrower(model.tree, combinations, question.scope, streams).map((part) => {
    const below = { ...question, scope: part.scope };
    const explained = { ...explainStreams(rolled, below, part.indexes, false), label: part.label };
    // Where nothing differs, weights do not matter, also where all are zero.
    return differs || nature !== 'ratio'
      ? explained
      : { ...explained, weight: explained.value === null ? 0 : 1 };
  });
  if (nature === 'level') return { ...node, shape: 'value', parts, source: { kind: 'nothing' } };
  const words = rolled.weightWords;
  return adds
    ? { ...node, shape: 'sum', parts }
    : {
        ...node,
        shape: 'mean',
        parts,
        weightedBy: words ?? 'nothing: all weigh the same',
      };
}
