import { monthFrom, monthText, type MonthText } from '../calendar/month.ts';
import type { Driver } from '../drivers/driver.ts';
import { addsOverStreams, weightsOf } from '../drivers/driver-table.ts';
import { BY_DEFAULT, BY_FORMULA, MISSING, type HeldSeries } from '../drivers/holding.ts';
import { explainFormula } from '../formula/explain.ts';
import { streamsIn, type CompiledStream, type Model } from '../forecast/model.ts';
import { ratio } from '../tables/measure.ts';
import { narrower } from './breakdown.ts';
import type { TraceDisplay, TraceNode, TraceQuestion, TraceSource } from './trace.ts';

type DriverQuestion = Extract<TraceQuestion, { kind: 'driver' }>;

function driverNamed(model: Model, code: string): Driver {
  const driver = model.plan.drivers.find((candidate) => candidate.code === code);
  if (!driver) throw new RangeError(`There is no driver "${code}"`);
  return driver;
}

function displayOf({ kind }: Driver): TraceDisplay {
  if (kind === 'percent') return 'percent';
  return kind === 'money' || kind === 'moneyPerUnit' ? 'price' : 'units';
}

/** What a driver is for one stream in one month: the assumption that holds, or the default. */
export function driverLeaf(
  model: Model,
  compiled: CompiledStream,
  code: string,
  month: MonthText,
): TraceNode {
  return leafOf(model, compiled, code, month, seriesOf(model, compiled, code));
}

/** A driver's series for a stream, also where only formulas of its drivers read it. */
function seriesOf(model: Model, compiled: CompiledStream, code: string): HeldSeries | undefined {
  const own = compiled.inputs[compiled.codes.indexOf(code)];
  if (own || !model.drivers.holdings.has(code)) return own;
  const { members } = compiled.combination;
  return model.drivers.series(code, members, model.streams.indexOf(compiled));
}

function leafOf(
  model: Model,
  { combination }: CompiledStream,
  code: string,
  month: MonthText,
  held: HeldSeries | undefined,
): TraceNode {
  const driver = driverNamed(model, code);
  const t = monthFrom(month) - model.first;
  const holder = held?.holders[t] ?? MISSING;
  const value = held?.values[t] ?? Number.NaN;
  let source: TraceSource = { kind: 'assumption', id: holder, month };
  if (holder === BY_DEFAULT) source = { kind: 'default', driver: code };
  else if (holder === MISSING) source = { kind: 'missing', driver: code, month };
  return {
    label: driver.name,
    display: displayOf(driver),
    value: Number.isNaN(value) ? null : value,
    incomplete: Number.isNaN(value),
    shape: 'value',
    parts: [],
    question: { kind: 'driver', driver: code, scope: combination.members, month },
    // What a formula gives is explained further: it has a question and no source.
    ...(holder === BY_FORMULA ? {} : { source }),
  };
}

/** A driver that its formula gives, for one stream in one month, as the tree of its formula. */
function explainByFormula(
  model: Model,
  compiled: CompiledStream,
  driver: Driver,
  t: number,
): TraceNode | undefined {
  const formula = model.drivers.formulas.get(driver.code);
  if (!formula) return undefined;
  const index = model.streams.indexOf(compiled);
  const { members } = compiled.combination;
  return explainFormula(formula.node, t, (name, month) => {
    const other = driverNamed(model, name);
    const text = monthText(model.first + month);
    const said = month < model.open ? model.drivers.observed(name, index)?.[month] : undefined;
    if (said !== undefined && !Number.isNaN(said)) {
      const span = { from: model.first + month, to: model.first + month };
      return {
        label: `${other.name}, ${text}`,
        display: displayOf(other),
        value: said,
        incomplete: false,
        shape: 'value',
        parts: [],
        source: other.history
          ? { kind: 'measured', measure: other.history.measure, scope: members, month: text }
          : { kind: 'sales', scope: members, span },
      };
    }
    return leafOf(model, compiled, name, text, model.drivers.series(name, members, index));
  });
}

/**
 * A driver's number for a scope and a month: the assumption that holds for all of it, a sum over
 * the parts of the scope for a count, a mean weighted by volume for the rest.
 */
export function explainDriver(model: Model, question: DriverQuestion): TraceNode {
  const driver = driverNamed(model, question.driver);
  const codes = model.drivers.withReaders(driver.code);
  const using = streamsIn(model, question.scope).filter((index) =>
    model.streams[index]?.codes.some((code) => codes.has(code)),
  );
  return { ...explainStreams(model, driver, question, using), question };
}

function explainStreams(
  model: Model,
  driver: Driver,
  question: DriverQuestion,
  using: readonly number[],
  deep = true,
): TraceNode {
  const leaves = using.flatMap((index) => {
    const compiled = model.streams[index];
    return compiled
      ? [{ index, leaf: driverLeaf(model, compiled, driver.code, question.month) }]
      : [];
  });
  const label = model.tree.label(question.scope);
  const [first] = leaves;
  const base = { label, display: displayOf(driver), parts: [], question };
  if (!first) {
    return { ...base, value: null, incomplete: false, shape: 'value', source: { kind: 'nothing' } };
  }
  const known = leaves.filter(({ leaf }) => leaf.value !== null);
  const incomplete = known.length < leaves.length;
  const adds = addsOverStreams(driver.code);
  const t = monthFrom(question.month) - model.first;
  const same =
    first.leaf.source !== undefined &&
    leaves.every(({ leaf }) => JSON.stringify(leaf.source) === JSON.stringify(first.leaf.source));
  if (leaves.length === 1 || (same && !adds)) {
    const { value, source } = first.leaf;
    const only = model.streams[first.index];
    if (source === undefined && deep && only) {
      const made = explainByFormula(model, only, driver, t);
      if (made) return { ...base, value, incomplete, shape: 'plus', parts: [made] };
    }
    return { ...base, value, incomplete, shape: 'value', ...(source ? { source } : {}) };
  }
  // Where nothing differs, the volumes do not matter: every stream weighs the same.
  const flat = known.every(({ leaf }) => leaf.value === known[0]?.leaf.value);
  const weight = (indexes: readonly number[]): number =>
    indexes.reduce((sum, index) => sum + (flat ? 1 : weightOf(model, driver.code, index, t)), 0);
  const own = known.map(({ index }) => index);
  const value = adds
    ? known.reduce((sum, { leaf }) => sum + (leaf.value ?? 0), 0)
    : flat
      ? (known[0]?.leaf.value ?? null)
      : ratio(
          known.reduce((sum, { leaf, index }) => sum + weight([index]) * (leaf.value ?? 0), 0),
          weight(own),
        );
  const shape = adds ? 'sum' : 'mean';
  const node = { ...base, value: known.length > 0 ? value : null, incomplete };
  if (!deep) return { ...node, shape: 'value', ...(adds ? {} : { weight: weight(own) }) };
  const combinations = model.streams.map(({ combination }) => combination);
  const parts = narrower(model.tree, combinations, question.scope, using).map((part) => ({
    ...explainStreams(model, driver, { ...question, scope: part.scope }, part.indexes, false),
    label: part.label,
    ...(adds ? {} : { weight: weight(part.indexes.filter((index) => own.includes(index))) }),
  }));
  return { ...node, shape, parts };
}

function weightOf(model: Model, driver: string, index: number, t: number): number {
  const compiled = model.streams[index];
  if (!compiled) return 0;
  const { codes, inputs } = compiled;
  return weightsOf(driver).reduce(
    (heavy, code) => heavy * (inputs[codes.indexOf(code)]?.values[t] || 0),
    1,
  );
}
