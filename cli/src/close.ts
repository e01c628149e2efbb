/** Closing a month of a plan file, and how good its kept forecasts were. */
import { BY_HAND, type PlanFile } from '@dravex/contract';
import {
  accuracyByLead,
  actualFigures,
  closeRefusal,
  compile,
  evaluate,
  figuresFromRows,
  forecastFigures,
  inColumns,
  keepForecast,
  MemberTree,
  monthFrom,
  monthText,
  rowsOfCells,
  type AddingCode,
  type LeadAccuracy,
  type Plan,
} from '@dravex/core';
import { scopeOf } from './explain.ts';
import { UnreadablePlan } from './plan-file.ts';

/**
 * Closes a month of a plan file: its forecast is kept as it stands, and the horizon grows by the
 * file's rule.
 * @param sure that a month without sales, or one that is not over, is closed nevertheless
 * @returns the file as it is afterwards
 * @throws UnreadablePlan saying what stands in the way
 */
export function closeFile(file: PlanFile, month: string, sure: boolean): PlanFile {
  const plan = file.plan as Plan;
  const { calendar } = plan;
  const { roll } = file.closingRules ?? BY_HAND;
  const actual = actualFigures(plan);
  const refusal = closeRefusal(calendar, actual, month, roll);
  if (refusal && (refusal.kind === 'cannot' || !sure)) {
    const more = refusal.kind === 'sure' ? '; close it nevertheless with --sure' : '';
    throw new UnreadablePlan(`${refusal.message}${more}`);
  }
  const span = { from: monthFrom(month), to: monthFrom(calendar.last) };
  const figures = forecastFigures(evaluate(compile(plan)), actual);
  const { rows } = keepForecast(figures, span, plan.currency.minorDigits);
  return {
    ...file,
    plan: {
      ...file.plan,
      calendar: { ...calendar, closedThrough: month, last: monthText(span.to + roll) },
    },
    closes: [
      {
        month,
        at: `${calendar.asOf}T00:00:00Z`,
        byItself: false,
        lastBefore: calendar.last,
        cells: inColumns(rows),
      },
      ...file.closes,
    ],
  };
}

export interface AccuracyAsked {
  readonly measure: AddingCode;
  readonly rows: readonly string[];
  readonly scope: string;
  readonly from?: string | undefined;
  readonly to?: string | undefined;
  readonly leads: readonly number[];
}

const COLUMNS = ['bias', 'mae', 'mape', 'wape', 'mase'] as const;

/**
 * How good the forecasts of a plan file were, as CSV: a row for each row and lead.
 * @throws UnreadablePlan for a file without kept forecasts, or a dimension that it does not have
 */
export function accuracyLines(file: PlanFile, asked: AccuracyAsked): string[] {
  const plan = file.plan as Plan;
  if (file.closes.length === 0) {
    throw new UnreadablePlan('No forecast was kept in this file; dravex close keeps one');
  }
  const known = plan.dimensions.map(({ code }) => code);
  const odd = asked.rows.find((code) => !known.includes(code));
  if (odd !== undefined) {
    throw new UnreadablePlan(`There is no dimension "${odd}"; there are ${known.join(', ')}`);
  }
  const tree = new MemberTree(plan.dimensions);
  const table = accuracyByLead(
    actualFigures(plan),
    file.closes.map(({ month, cells }) => ({
      closed: monthFrom(month),
      figures: figuresFromRows(plan, rowsOfCells(cells)),
    })),
    tree,
    {
      measure: asked.measure,
      rows: asked.rows,
      scope: scopeOf(file, asked.scope),
      leads: asked.leads,
      span: {
        from: monthFrom(asked.from ?? plan.calendar.first),
        to: monthFrom(asked.to ?? plan.calendar.last),
      },
    },
    monthFrom(plan.calendar.closedThrough),
  );
  const line = (key: string, lead: LeadAccuracy): string =>
    [key, lead.lead, lead.months, ...COLUMNS.map((name) => lead[name] ?? '')].join(',');
  const codes = (scope: readonly number[]): string =>
    scope.map((id) => tree.member(id).code).join(' ');
  return [
    ['row', 'months ahead', 'months', ...COLUMNS].join(','),
    ...table.rows.flatMap(({ scope, leads }) => leads.map((lead) => line(codes(scope), lead))),
    ...table.total.leads.map((lead) => line('all', lead)),
  ];
}
