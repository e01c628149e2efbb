/** What is left of a year's plan. Source: calculations, *Comparison* (still to go). */
import type { Month } from '../calendar/month.ts';
import type { Span } from '../calendar/period.ts';
import type { MemberTree } from '../dimensions/member-tree.ts';
import { MEASURES, type MeasureCode } from '../measures/catalogue.ts';
import type { Figures } from '../tables/figures.ts';
import { rollUp } from '../tables/roll-up.ts';
import type { ComparisonQuery } from './compare.ts';

/** In the measure's unit. */
export interface StillToGo {
  /** Plan of the year less actual; below 0 where more was sold than planned. */
  readonly left: number;
  /** Open months of the year, and what each of them has to bring. */
  readonly months: number;
  readonly each: number;
  /** The best closed month there ever was; null without sales. */
  readonly best: { readonly month: Month; readonly value: number } | null;
}

/**
 * Plan of a year less what was sold in its closed months, beside the best month so far.
 * @param planned a source that covers the year
 * @returns null of measures that do not add up over months and of subscriptions, of closed years, and where a number is missing
 */
export function stillToGo(
  actual: Figures,
  planned: Figures,
  tree: MemberTree,
  { measure, rows, scope }: Omit<ComparisonQuery, 'span'>,
  year: Span,
  closedThrough: Month,
): StillToGo | null {
  const months = year.to - Math.max(closedThrough, year.from - 1);
  const { nature, making } = MEASURES[measure];
  if (nature !== 'flow' || making.kind === 'subscription' || months <= 0) return null;
  const table = (figures: Figures, span: Span) =>
    rollUp(
      figures,
      tree,
      { measure: measure as MeasureCode, rows, scope, span, columns: 'time', grain: 'month' },
      1,
    ).total;
  const whole = table(planned, year).total.value;
  const history = { from: actual.first, to: closedThrough };
  if (whole === null || history.to < history.from) return null;
  const sold = table(actual, history).cells.map(({ value }) => value ?? 0);
  const done = sold.slice(Math.max(0, year.from - history.from)).reduce((a, b) => a + b, 0);
  const best = sold.reduce((most, value, at) => (value > (sold[most] ?? 0) ? at : most), 0);
  const left = whole - done;
  return {
    left,
    months,
    each: left / months,
    best: (sold[best] ?? 0) > 0 ? { month: history.from + best, value: sold[best] ?? 0 } : null,
  };
}
