/** How far kept forecasts were from what happened, by how far ahead they were made. */
import { accuracyOf, type Accuracy } from '../baselines/accuracy.ts';
import type { Month } from '../calendar/month.ts';
import type { Span } from '../calendar/period.ts';
import type { Scope } from '../dimensions/dimension.ts';
import type { MemberTree } from '../dimensions/member-tree.ts';
import { inScope, rowTree } from '../dimensions/row-tree.ts';
import type { AddingCode } from '../measures/catalogue.ts';
import { ratio } from '../measures/nature.ts';
import { seriesOf, type Figures } from '../tables/figures.ts';
import { toEnd } from '../to-end.ts';

/** A forecast as it stood when a month was closed. */
export interface KeptForecast {
  /** The month that was closed: the first one that the forecast speaks of. */
  readonly closed: Month;
  readonly figures: Figures;
}

export interface AccuracyQuery {
  readonly measure: AddingCode;
  readonly rows: readonly string[];
  readonly scope: Scope;
  /** The months that were forecast; open ones are left out. */
  readonly span: Span;
  /** Months ahead: 1 is the first month after the last closed one. */
  readonly leads: readonly number[];
}

/** How good forecasts made so many months ahead were. */
export interface LeadAccuracy extends Accuracy {
  readonly lead: number;
  /** How many months stand behind it. */
  readonly months: number;
  /** The sum of errors as a share of the absolute actuals: above zero, forecasts were too low. */
  readonly biasShare: number | null;
  /** What the shares are made of: errors with and without their signs, actuals without theirs. */
  readonly sums: { readonly error: number; readonly off: number; readonly actual: number };
}

export interface AccuracyRow {
  readonly key: string;
  readonly label: string;
  readonly level: number;
  readonly scope: Scope;
  readonly parent: boolean;
  readonly leads: readonly LeadAccuracy[];
  /** Forecasts of the shortest lead that all erred to the same side, four months or more. */
  readonly always: 'tooHigh' | 'tooLow' | null;
}

export interface AccuracyTable {
  readonly rows: readonly AccuracyRow[];
  readonly total: AccuracyRow;
}

/** So many errors to one side in a row are no chance any more. */
const ALWAYS = 4;

/** Actual and forecast of the months that were forecast so far ahead. */
interface Pairs {
  readonly months: Month[];
  readonly actual: number[];
  readonly forecast: number[];
}

/**
 * Measures kept forecasts against actuals: combinations are added up first, by row and month, so
 * that errors within a row may cancel out, as they do in its total. A month whose forecast misses an
 * input is left out. The scaled error measures against the row's own history before the first month
 * that counts. Source: calculations, *Close and roll*.
 * @param actual over the same plan as the kept forecasts, so that combinations match by place
 * @param closedThrough the last month with actuals
 */
export function accuracyByLead(...asked: Parameters<typeof measuringAccuracy>): AccuracyTable {
  return toEnd(measuringAccuracy(...asked));
}

/** The same row by row, so that others have their turn in between. */
export function* measuringAccuracy(
  actual: Figures,
  kept: readonly KeptForecast[],
  tree: MemberTree,
  { measure, rows, scope, span, leads }: AccuracyQuery,
  closedThrough: Month,
): Generator<void, AccuracyTable> {
  const { combinations, count, first } = actual;
  const held = inScope(tree, combinations, scope);
  const keptByMonth = new Map(kept.map((one) => [one.closed, seriesOf(one.figures, measure)]));
  const series = seriesOf(actual, measure);
  const sum = (values: Float64Array, parts: readonly number[], month: Month): number => {
    const t = month - first;
    return parts.reduce((all, part) => all + (values[part * count + t] ?? 0), 0);
  };
  const last = Math.min(span.to, closedThrough, first + count - 1);

  function pairs(parts: readonly number[], lead: number): Pairs {
    const found: Pairs = { months: [], actual: [], forecast: [] };
    for (let month = Math.max(span.from, first); month <= last; month += 1) {
      const forecast = keptByMonth.get(month - lead + 1);
      if (!forecast) continue;
      const said = sum(forecast, parts, month);
      const happened = sum(series, parts, month);
      if (Number.isNaN(said) || Number.isNaN(happened)) continue;
      found.months.push(month);
      found.actual.push(happened);
      found.forecast.push(said);
    }
    return found;
  }

  function measured(parts: readonly number[]): Pick<AccuracyRow, 'leads' | 'always'> {
    const all = leads.map((lead) => pairs(parts, lead));
    const happened = Array.from({ length: count }, (_, t) => sum(series, parts, first + t));
    return {
      leads: all.map((found, place) => {
        const [start = first] = found.months;
        const history = happened.slice(0, start - first);
        const errors = found.actual.map((value, at) => value - (found.forecast[at] ?? 0));
        const total = (values: readonly number[]): number => values.reduce((a, b) => a + b, 0);
        const sums = {
          error: total(errors),
          off: total(errors.map(Math.abs)),
          actual: total(found.actual.map(Math.abs)),
        };
        return {
          lead: leads[place] ?? 0,
          months: found.months.length,
          ...accuracyOf(found.actual, found.forecast, history),
          biasShare: ratio(sums.error, sums.actual),
          sums,
        };
      }),
      always: sideOf(all[0]),
    };
  }

  const measuredRows: AccuracyRow[] = [];
  for (const { parts, ...node } of rowTree(tree, combinations, rows, (at) => held.has(at))) {
    measuredRows.push({ ...node, ...measured(parts) });
    yield;
  }
  return {
    rows: measuredRows,
    total: {
      key: '',
      label: '',
      level: 0,
      scope,
      parent: false,
      ...measured([...held]),
    },
  };
}

function sideOf(found: Pairs | undefined): AccuracyRow['always'] {
  if (!found || found.months.length < ALWAYS) return null;
  const errors = found.actual.map((value, at) => value - (found.forecast[at] ?? 0));
  if (errors.every((error) => error < 0)) return 'tooHigh';
  return errors.every((error) => error > 0) ? 'tooLow' : null;
}
