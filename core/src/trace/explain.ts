import { monthFrom, monthText } from '../calendar/month.ts';
import { fiscalYearSpan, type Span } from '../calendar/period.ts';
import type { Scope } from '../dimensions/dimension.ts';
import type { Model } from '../forecast/run.ts';
import {
  ACTUAL,
  FORECAST,
  inBooks,
  rootOf,
  type Objective,
  type Source,
} from '../sources/source.ts';
import {
  subscriberFigures,
  subscribersOfSource,
  type SubscriberFigures,
} from '../subscriptions/figures.ts';
import { seriesOf, type Figures } from '../tables/figures.ts';
import { MEASURES, type AddingCode, type ResultCode } from '../measures/catalogue.ts';
import { ratio } from '../measures/nature.ts';
import { inDays } from '../tables/week-parts.ts';
import { inScope } from '../dimensions/row-tree.ts';
import { narrower, shorter } from './breakdown.ts';
import { daysByMonth, explainDays } from './explain-days.ts';
import { explainDriver } from './explain-driver.ts';
import { explainMeasured } from './explain-measured.ts';
import { explainResult } from './explain-stream.ts';
import { cellRestsOn, isSales, salesOf } from './rests-on.ts';
import { questionOf, type TraceNode, type TraceQuestion } from './trace.ts';

type TableQuestion = Extract<TraceQuestion, { kind: 'table' }>;

/** What the numbers of a source are called beside another one's. */
const SOURCE_NAMES = {
  actual: 'Actual',
  forecast: 'Forecast',
  version: 'Plan',
  target: 'Target',
  yearBefore: 'A year before',
} as const;

/**
 * Explains one number from the definitions that computed it, one level down: a total by its parts,
 * a forecast month of one stream by its drivers. Every part carries the question that explains it
 * further, and `explainFully` asks them all.
 * @param model evaluated
 * @param figuresOf the numbers of a source, laid out over the model's plan
 * @param subscribersOf the subscriptions of a source; undefined where it has none
 * @throws RangeError for a member or driver that is not there
 */
export function explain(
  model: Model,
  question: TraceQuestion,
  figuresOf: (source: Source) => Figures,
  subscribersOf: (source: Source) => SubscriberFigures | undefined = (source) =>
    subscribersOfSource(
      source,
      () => subscriberFigures(model),
      () => undefined,
    ),
): TraceNode {
  switch (question.kind) {
    case 'driver':
      return explainDriver(model, question);
    case 'variance': {
      const { of = ACTUAL, against, measure, scope, span, books } = question;
      const side = (source: Source): TraceNode => ({
        ...explain(model, questionOf({ source, measure, scope, span }), figuresOf, subscribersOf),
        label: SOURCE_NAMES[source.kind],
      });
      const actual = side(books ? inBooks(of) : of);
      const planned = side(against);
      const both = actual.value !== null && planned.value !== null;
      return {
        label: 'Variance',
        display: MEASURES[measure].display,
        value: both ? (actual.value ?? 0) - (planned.value ?? 0) : null,
        incomplete: actual.incomplete || planned.incomplete,
        shape: 'difference',
        parts: [actual, planned],
        question,
      };
    }
    case 'table': {
      // What it was a year before is explained where it stood.
      // Days of it are known where they are compared, not where they stood.
      const root = question.span.days ? {} : rootOf(question.source, question.span);
      return explainTable(model, { ...question, ...root }, figuresOf);
    }
    case 'measured':
      return explainMeasured(
        model,
        question,
        { figures: figuresOf(question.source), subscribers: () => subscribersOf(question.source) },
        (asked) => explain(model, asked, figuresOf, subscribersOf),
      );
  }
}

/** Explains a number all the way down, following the question of every part that has one. */
export function explainFully(
  model: Model,
  question: TraceQuestion,
  figuresOf: (source: Source) => Figures,
): TraceNode {
  const asked = JSON.stringify(question);
  const deepen = (node: TraceNode): TraceNode => {
    if (node.shape !== 'value') return { ...node, parts: node.parts.map(deepen) };
    if (!node.question || node.source || JSON.stringify(node.question) === asked) return node;
    const below = explainFully(model, node.question, figuresOf);
    return node.weight === undefined ? below : { ...below, weight: node.weight };
  };
  const top = explain(model, question, figuresOf);
  return { ...top, parts: top.parts.map(deepen) };
}

function explainTable(
  model: Model,
  question: TableQuestion,
  figuresOf: (source: Source) => Figures,
): TraceNode {
  const { measure, scope, span } = question;
  const { making } = MEASURES[measure];
  if (making.kind !== 'ratio')
    return explainFlow(model, question, figuresOf, measure as AddingCode);
  const part = (code: AddingCode): TraceNode => ({
    ...explainFlow(model, { ...question, measure: code }, figuresOf, code),
    label: MEASURES[code].name,
  });
  const above = part(making.above);
  const below = part(making.below);
  return {
    label: tableLabel(model, scope, span),
    display: MEASURES[measure].display,
    value: ratio(above.value ?? NaN, below.value ?? NaN),
    incomplete: above.incomplete || below.incomplete,
    shape: 'ratio',
    parts: [above, below],
    question,
  };
}

function tableLabel(model: Model, scope: Scope, span: Span): string {
  if (span.days) return `${model.tree.label(scope)}, ${span.days.from} to ${span.days.to}`;
  const months =
    span.from === span.to
      ? monthText(span.from)
      : `${monthText(span.from)} to ${monthText(span.to)}`;
  return `${model.tree.label(scope)}, ${months}`;
}

/** The cells of some combinations in a span; NaN where one is missing. */
function* cellsIn(
  figures: Figures,
  measure: AddingCode,
  indexes: readonly number[],
  { from, to, days }: Span,
): Generator<number> {
  const series = seriesOf(figures, measure);
  for (const index of indexes) {
    for (let month = from; month <= to; month += 1) {
      const t = month - figures.first;
      if (t < 0 || t >= figures.count) continue;
      yield days
        ? inDays(figures, measure, index, t, days)
        : (series[index * figures.count + t] ?? 0);
    }
  }
}

/** What combinations come to over a span; what is missing is left out and marked. */
function sumOf(
  figures: Figures,
  measure: AddingCode,
  indexes: readonly number[],
  span: Span,
): { value: number | null; incomplete: boolean } {
  let value = 0;
  let incomplete = false;
  for (const cell of cellsIn(figures, measure, indexes, span)) {
    if (Number.isNaN(cell)) incomplete = true;
    else value += cell;
  }
  return incomplete && value === 0 ? { value: null, incomplete } : { value, incomplete };
}

function explainFlow(
  model: Model,
  question: TableQuestion,
  figuresOf: (source: Source) => Figures,
  measure: AddingCode,
): TraceNode {
  const { scope, span, source } = question;
  if (source.kind === 'target' && measure === 'revenue') {
    return explainPhased(model, question, source, figuresOf);
  }
  const figures = figuresOf(source);
  const held = [...inScope(model.tree, figures.combinations, scope)];
  // One whose months cancel each other is filled: a month of it alone is more than nothing.
  const holdsSome = (index: number, within: Span): boolean =>
    [...cellsIn(figures, measure, [index], within)].some((cell) => cell !== 0);
  const filled = held.filter((index) => holdsSome(index, span));
  const node = {
    label: tableLabel(model, scope, span),
    display: MEASURES[measure].display,
    ...sumOf(figures, measure, filled, span),
    question,
  };
  const [only] = filled;
  if (only === undefined) {
    return { ...node, shape: 'value', parts: [], source: { kind: 'nothing' } };
  }
  // Sales lines are listed for any scope and span; there is no need to go down cell by cell.
  if (filled.length > 1) {
    const parts = narrower(model.tree, figures.combinations, scope, filled).map((part) =>
      partOf(part.label, { ...question, scope: part.scope }, figures, measure, part.indexes),
    );
    return { ...node, shape: 'sum', parts, ...salesBehind(model, question) };
  }
  if (span.from < span.to) {
    const stretches = span.days
      ? daysByMonth(span)
      : shorter(span, model.plan.calendar.fiscalStart);
    const parts = stretches
      .filter((part) => holdsSome(only, part.span))
      .map((part) => partOf(part.key, { ...question, span: part.span }, figures, measure, [only]));
    return { ...node, shape: 'sum', parts, ...salesBehind(model, question) };
  }
  return span.days && measure !== 'margin'
    ? explainDays(figures, question, measure, only, node)
    : explainCell(model, question, figures, measure, only, node);
}

/** A target of some months and a scope: the objective times their part of the year before's revenue. */
function explainPhased(
  model: Model,
  question: TableQuestion,
  { fiscalYear, objective }: Objective,
  figuresOf: (source: Source) => Figures,
): TraceNode {
  const { scope, span } = question;
  const figures = figuresOf(question.source);
  const year = fiscalYearSpan(fiscalYear, model.plan.calendar.fiscalStart);
  const inYear = { from: Math.max(span.from, year.from), to: Math.min(span.to, year.to) };
  const within = (asked: Scope): number[] => [...inScope(model.tree, figures.combinations, asked)];
  const node = {
    label: tableLabel(model, scope, span),
    display: 'money',
    ...sumOf(figures, 'revenue', within(scope), span),
    question,
  } as const;
  const sold = (label: string, asked: Scope, { from, to }: Span): TraceNode =>
    partOf(
      label,
      { ...question, source: FORECAST, scope: asked, span: { from: from - 12, to: to - 12 } },
      figuresOf(FORECAST),
      'revenue',
      within(asked),
    );
  const part = sold('The same months a year before', scope, inYear);
  const whole = sold('The whole year before', [], year);
  if (inYear.to < inYear.from || (whole.value ?? 0) <= 0) {
    return { ...node, shape: 'value', parts: [], source: { kind: 'nothing' } };
  }
  return {
    ...node,
    shape: 'product',
    parts: [
      {
        label: `Objective of FY ${fiscalYear}`,
        display: 'money',
        value: objective,
        incomplete: false,
        shape: 'value',
        parts: [],
        source: { kind: 'objective', fiscalYear },
      },
      {
        label: 'Part of the revenue of the year before',
        display: 'percent',
        value: ratio(part.value ?? NaN, whole.value ?? NaN),
        incomplete: false,
        shape: 'ratio',
        parts: [part, whole],
      },
    ],
  };
}

/** The sales lines behind a number, where all of it is actual. */
function salesBehind(
  model: Model,
  { source, scope, span }: TableQuestion,
): Pick<TraceNode, 'source'> | object {
  const closed = span.to < model.first + model.open;
  return isSales(source, closed) ? { source: salesOf(source, scope, span) } : {};
}

function partOf(
  label: string,
  question: TableQuestion,
  figures: Figures,
  measure: AddingCode,
  indexes: readonly number[],
): TraceNode {
  return {
    label,
    display: MEASURES[measure].display,
    ...sumOf(figures, measure, indexes, question.span),
    shape: 'value',
    parts: [],
    question: { ...question, measure },
  };
}

/** One combination in one month: sales lines, a kept cell, or a stream's drivers. */
function explainCell(
  model: Model,
  question: TableQuestion,
  figures: Figures,
  measure: AddingCode,
  index: number,
  node: Omit<TraceNode, 'shape' | 'parts'>,
): TraceNode {
  const { source, span } = question;
  const month = span.from;
  const combination = figures.combinations[index];
  const leaf = { ...node, shape: 'value' as const, parts: [] };
  if (!combination) return { ...leaf, source: { kind: 'nothing' } };
  if (measure === 'margin') {
    const { making } = MEASURES.margin;
    const [of, less] = making.kind === 'difference' ? [making.of, making.less] : [];
    const part = (code: ResultCode = 'revenue'): TraceNode => {
      const asked = { ...question, measure: code };
      return { ...partOf(MEASURES[code].name, asked, figures, code, [index]), question: asked };
    };
    return { ...node, shape: 'difference', parts: [part(of), part(less)] };
  }
  const t = month - model.first;
  if (source.kind === 'forecast' && source.kept && t < model.open) {
    return figures.kept?.has(month)
      ? { ...leaf, source: { kind: 'keptForecast', month: monthText(month) } }
      : { ...leaf, source: salesOf(source, combination.members, span) };
  }
  const rests = cellRestsOn(source, combination, monthText(month), span, t < model.open);
  if (rests) return { ...leaf, source: rests };
  const position = model.placeOf.get(combination.id);
  if (position === undefined) return { ...leaf, source: { kind: 'nothing' } };
  const { label, question: asked } = node;
  const result = explainResult(model, position, measure, t);
  return { ...result, label, ...(asked ? { question: asked } : {}) };
}

/** The first and last month of a question, for those who only know its texts. */
export function spanOf(from: string, to: string): Span {
  return { from: monthFrom(from), to: monthFrom(to) };
}
