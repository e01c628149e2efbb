/** What in a plan deserves a second look, line by line. Source: calculations, *Budget*. */
import type { Month } from '../calendar/month.ts';
import type { Span } from '../calendar/period.ts';
import type { Scope } from '../dimensions/dimension.ts';
import type { MemberTree } from '../dimensions/member-tree.ts';
import { inScope, rowTree } from '../dimensions/row-tree.ts';
import type { ResultCode } from '../measures/catalogue.ts';
import type { Figures } from '../tables/figures.ts';

const YEAR = 12;
/** So near is a repetition, as a part of last year. */
const HAIR = 0.005;
/** So many of a line's months repeat before it is said, and so many there are at least. */
const MOST_MONTHS = 0.9;
const FEWEST_MONTHS = 6;
/** Growth below this is nothing special; above it, it is held against the best there was. */
const PLAIN_GROWTH = 0.1;
const MORE_GROWTH = 0.05;
/** How far beyond every price, and every margin rate, there was. */
const PRICE_SLACK = 0.05;
const MARGIN_SLACK = 0.05;

/** What is said of a line; see `planWarnings`. */
export type WarningKind = 'repeats' | 'growth' | 'price' | 'margin' | 'sold';

export interface PlanWarning {
  readonly kind: WarningKind;
  /** The line's place among the rows. */
  readonly key: string;
  readonly label: string;
  readonly scope: Scope;
  /** What is planned: revenue, a growth, a price, or a margin rate. */
  readonly planned: number;
  /** What is held beside it: last year, its own growth, the nearest there ever was, or what is sold. */
  readonly beside: number;
}

export interface PlanWarnings {
  readonly warnings: readonly PlanWarning[];
  /** Lines with a plan. */
  readonly lines: number;
}

/** What a plan is looked over by. */
export interface WarningsQuery {
  readonly rows: readonly string[];
  readonly scope: Scope;
  /** The months of the version. */
  readonly span: Span;
  readonly closedThrough: Month;
}

/**
 * What deserves a second look in a plan, by the lowest rows of a table:
 * - `repeats`: nine of ten months are last year's within half a percent;
 * - `growth`: more than any twelve months ever grew on the twelve before; beside it the last ones;
 * - `price`, `margin`: beyond every month there was; beside it the nearest one;
 * - `sold`: less is planned in all of its months than was sold in those that are closed.
 * @param planned the version
 * @param line one line of actual and forecast
 */
export function planWarnings(
  planned: Figures,
  line: Figures,
  tree: MemberTree,
  { rows, scope, span, closedThrough }: WarningsQuery,
): PlanWarnings {
  const held = inScope(tree, planned.combinations, scope);
  const nodes = rowTree(tree, planned.combinations, rows, (index) => held.has(index));
  let lines = 0;
  const warnings = nodes.flatMap(({ parent, key, label, scope: of, parts }) => {
    if (parent) return [];
    const plan = new LineMonths(planned, parts);
    if (plan.sum('revenue', span) === 0) return [];
    lines += 1;
    const found = warningsOf(plan, new LineMonths(line, parts), span, closedThrough);
    return found.map((one) => ({ ...one, key, label, scope: of }));
  });
  return { warnings, lines };
}

/** The months of some combinations together; a month that is missing makes its sum missing. */
class LineMonths {
  readonly first: Month;

  constructor(
    private readonly figures: Figures,
    private readonly parts: readonly number[],
  ) {
    this.first = figures.first;
  }

  at(code: ResultCode, month: Month): number {
    const { first, count, measures } = this.figures;
    const t = month - first;
    if (t < 0 || t >= count) return Number.NaN;
    return this.parts.reduce((sum, index) => sum + (measures[code][index * count + t] ?? 0), 0);
  }

  sum(code: ResultCode, { from, to }: Span): number {
    let sum = 0;
    for (let month = from; month <= to; month += 1) sum += this.at(code, month);
    return sum;
  }
}

type Found = Pick<PlanWarning, 'kind' | 'planned' | 'beside'>;

function warningsOf(plan: LineMonths, line: LineMonths, span: Span, closed: Month): Found[] {
  return [
    repeats(plan, line, span),
    grows(plan, line, span, closed),
    beyond(plan, line, span, closed, 'price'),
    beyond(plan, line, span, closed, 'margin'),
    alreadySold(plan, line, span, closed),
  ].filter((found) => found !== undefined);
}

const yearBefore = ({ from, to }: Span): Span => ({ from: from - YEAR, to: to - YEAR });

function repeats(plan: LineMonths, line: LineMonths, span: Span): Found | undefined {
  let months = 0;
  let same = 0;
  for (let month = span.from; month <= span.to; month += 1) {
    const [now, before] = [plan.at('revenue', month), line.at('revenue', month - YEAR)];
    if (!(now > 0 && before > 0)) continue;
    months += 1;
    if (Math.abs(now - before) <= HAIR * before) same += 1;
  }
  if (months < FEWEST_MONTHS || same < MOST_MONTHS * months) return undefined;
  const planned = plan.sum('revenue', span);
  return { kind: 'repeats', planned, beside: line.sum('revenue', yearBefore(span)) };
}

/** How sales of some months have grown on the same months a year before; NaN where that is not known. */
function growthOf(line: LineMonths, span: Span): number {
  const before = line.sum('revenue', yearBefore(span));
  return before > 0 ? line.sum('revenue', span) / before - 1 : Number.NaN;
}

function grows(plan: LineMonths, line: LineMonths, span: Span, closed: Month): Found | undefined {
  const before = line.sum('revenue', yearBefore(span));
  if (!(before > 0)) return undefined;
  const planned = plan.sum('revenue', span) / before - 1;
  const last = growthOf(line, { from: closed - YEAR + 1, to: closed });
  let best = Number.NEGATIVE_INFINITY;
  for (let to = closed; to - 2 * YEAR + 1 >= line.first; to -= 1) {
    const growth = growthOf(line, { from: to - YEAR + 1, to });
    if (growth > best) best = growth;
  }
  const never = planned > PLAIN_GROWTH && planned > best + MORE_GROWTH;
  return never && Number.isFinite(best) && Number.isFinite(last)
    ? { kind: 'growth', planned, beside: last }
    : undefined;
}

/** A price is a ratio of money, a margin rate a part of revenue. */
function rateOf(of: LineMonths, span: Span, kind: 'price' | 'margin'): number {
  const revenue = of.sum('revenue', span);
  const units = of.sum('units', span);
  if (kind === 'price') return units > 0 ? revenue / units : Number.NaN;
  return revenue > 0 ? 1 - of.sum('cost', span) / revenue : Number.NaN;
}

function beyond(
  plan: LineMonths,
  line: LineMonths,
  span: Span,
  closed: Month,
  kind: 'price' | 'margin',
): Found | undefined {
  const planned = rateOf(plan, span, kind);
  let months = 0;
  let [least, most] = [Infinity, -Infinity];
  for (let month = line.first; month <= closed; month += 1) {
    const rate = rateOf(line, { from: month, to: month }, kind);
    if (Number.isNaN(rate)) continue;
    months += 1;
    least = Math.min(least, rate);
    most = Math.max(most, rate);
  }
  if (months < FEWEST_MONTHS || Number.isNaN(planned)) return undefined;
  const [low, high] =
    kind === 'price'
      ? [least * (1 - PRICE_SLACK), most * (1 + PRICE_SLACK)]
      : [least - MARGIN_SLACK, most + MARGIN_SLACK];
  if (planned < low) return { kind, planned, beside: least };
  return planned > high ? { kind, planned, beside: most } : undefined;
}

function alreadySold(
  plan: LineMonths,
  line: LineMonths,
  span: Span,
  closed: Month,
): Found | undefined {
  if (closed < span.from) return undefined;
  const beside = line.sum('revenue', { from: span.from, to: Math.min(closed, span.to) });
  const planned = plan.sum('revenue', span);
  return planned < beside ? { kind: 'sold', planned, beside } : undefined;
}
