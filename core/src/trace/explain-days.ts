/** Why some days of a month have the number they have: their sales lines, or their part of the month. */
import { yearBefore, type Days } from '../calendar/day.ts';
import { monthText, type Month } from '../calendar/month.ts';
import type { Span } from '../calendar/period.ts';
import { daysOfMonths } from '../calendar/week.ts';
import type { Scope } from '../dimensions/dimension.ts';
import type { AddingCode } from '../measures/catalogue.ts';
import { valueOrNull } from '../measures/nature.ts';
import { originOf, rootOf, type Source } from '../sources/source.ts';
import { seriesOf, type Figures } from '../tables/figures.ts';
import { hasWeeks, shareOfDays } from '../tables/week-parts.ts';
import { salesOf } from './rests-on.ts';
import type { TraceNode, TraceQuestion } from './trace.ts';

type TableQuestion = Extract<TraceQuestion, { kind: 'table' }>;

/** The days of each month of a stretch of days, as spans. */
export function daysByMonth({ from, to, days }: Span): { key: string; span: Span }[] {
  return Array.from({ length: to - from + 1 }, (_, at) => {
    const whole = daysOfMonths(from + at, from + at);
    const inside: Days = {
      from: days && days.from > whole.from ? days.from : whole.from,
      to: days && days.to < whole.to ? days.to : whole.to,
    };
    const span = { from: from + at, to: from + at, days: inside };
    return { key: `${inside.from} to ${inside.to}`, span };
  });
}

/** The sales lines of a source's days: a year before they stand a year before. */
function linesOf(source: Source, scope: Scope, span: Span): TraceNode['source'] {
  if (source.kind !== 'yearBefore') return salesOf(source, scope, span);
  const { days } = span;
  const before = { ...rootOf(source, span).span };
  const moved = days && { from: yearBefore(days.from), to: yearBefore(days.to) };
  return salesOf(originOf(source), scope, { ...before, days: moved });
}

/**
 * Explains some days of one combination's month.
 * @param node its label, value and question
 * @param index of the combination among the figures'
 */
export function explainDays(
  figures: Figures,
  question: TableQuestion,
  measure: AddingCode,
  index: number,
  node: Omit<TraceNode, 'shape' | 'parts'>,
): TraceNode {
  const { span, source } = question;
  const { from: month, days } = span;
  const t = month - figures.first;
  const { members = [] } = figures.combinations[index] ?? {};
  if (hasWeeks(figures, index, t)) {
    const lines = linesOf(source, members, span);
    return { ...node, shape: 'value', parts: [], ...(lines ? { source: lines } : {}) };
  }
  const value = seriesOf(figures, measure)[index * figures.count + t] ?? 0;
  const whole: TraceNode = {
    label: monthText(month),
    display: node.display,
    value: valueOrNull(value),
    incomplete: Number.isNaN(value),
    shape: 'value',
    parts: [],
    question: { ...question, measure, scope: members, span: { from: month, to: month } },
  };
  return { ...partOfMonth(whole, month, days ?? daysOfMonths(month, month)), ...node };
}

/** A month's number, times the part of its days that some days are. */
export function partOfMonth(whole: TraceNode, month: Month, days: Days): TraceNode {
  const share = shareOfDays(month, days);
  const { label, display, value, incomplete } = whole;
  return {
    label,
    display,
    value: value === null ? null : value * share,
    incomplete,
    shape: 'product',
    parts: [
      whole,
      {
        label: 'Part of the days of the month',
        display: 'percent',
        value: share,
        incomplete: false,
        shape: 'value',
        parts: [],
        source: { kind: 'calendar' },
      },
    ],
  };
}
