import type { MonthText } from '../calendar/month.ts';
import type { Span } from '../calendar/period.ts';
import type { Combination, Scope } from '../dimensions/dimension.ts';
import type { Source } from '../sources/source.ts';
import type { TraceSource } from './trace.ts';

/**
 * What a cell of a source rests on.
 * @param closed whether its month is closed
 * @returns undefined where it is computed by the run
 */
export function cellRestsOn(
  source: Source,
  { id, members }: Combination,
  month: MonthText,
  span: Span,
  closed: boolean,
): TraceSource | undefined {
  switch (source.kind) {
    case 'version':
      return { kind: 'kept', version: source.id, combination: id, month };
    // A target is set in revenue: of units and cost it has nothing.
    case 'target':
      return { kind: 'nothing' };
    case 'yearBefore':
      return undefined;
    default:
      return isSales(source, closed) ? salesOf(source, members, span) : undefined;
  }
}

/** The sales lines of a scope and some months that a source counts. */
export function salesOf(source: Source, scope: Scope, span: Span): TraceSource {
  const books = (source.kind === 'actual' || source.kind === 'forecast') && source.books;
  return { kind: 'sales', scope, span, ...(books ? { books } : {}) };
}

/** Whether all numbers of a source over some months are sales lines. */
export function isSales(source: Source, closed: boolean): boolean {
  // Of what was kept it is not known here whose months are actual.
  return source.kind === 'actual' || (source.kind === 'forecast' && closed && !source.kept);
}
