/** Which months two sources can be compared in. Source: calculations, *Comparison*. */
import { fiscalYearSpan, type Span } from '../calendar/period.ts';
import { monthFrom } from '../calendar/month.ts';
import type { Calendar } from '../forecast/plan.ts';
import type { Source } from '../sources/source.ts';

const YEAR = 12;

/**
 * The months that a source has numbers of: sales up to the last closed month, the forecast line all
 * of the plan, a version those it was made for, a target its year.
 * @param versionSpan what a version covers; undefined for one that is not there
 */
export function coverageOf(
  source: Source,
  calendar: Calendar,
  versionSpan: (id: number) => Span | undefined,
): Span | undefined {
  const first = monthFrom(calendar.first);
  const last = monthFrom(calendar.last);
  switch (source.kind) {
    case 'actual':
      return { from: first, to: monthFrom(calendar.closedThrough) };
    case 'forecast':
      return { from: first, to: last };
    case 'version':
      return versionSpan(source.id);
    case 'target':
      return fiscalYearSpan(source.fiscalYear, calendar.fiscalStart);
    case 'yearBefore': {
      const of = coverageOf(source.of, calendar, versionSpan);
      return of && { from: of.from + YEAR, to: of.to + YEAR };
    }
  }
}

/** The months that all of some spans have; undefined where there are none, or one span is not known. */
export function inAll(spans: readonly (Span | undefined)[]): Span | undefined {
  let [from, to] = [-Infinity, Infinity];
  for (const span of spans) {
    if (!span) return undefined;
    from = Math.max(from, span.from);
    to = Math.min(to, span.to);
  }
  return from <= to ? { from, to } : undefined;
}
