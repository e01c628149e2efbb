import { assert } from 'chai';
import fc from 'fast-check';
import { addDays, daysBetween, isoWeek } from '../calendar/day.ts';
import { monthFrom, monthText } from '../calendar/month.ts';
import { periodsOf } from '../calendar/period.ts';
import { daysOfMonths, weeksOfMonth } from '../calendar/week.ts';
import { compile, evaluate } from '../forecast/run.ts';
import { MEASURED_CODES } from '../measures/catalogue.ts';
import { FORECAST, type Source } from '../sources/source.ts';
import { Sources } from '../sources/sources.ts';
import { somePlan } from '../testing/rich-plan.ts';
import { explainFully } from '../trace/explain.ts';
import { evaluateTrace } from '../trace/trace.ts';
import type { Plan } from '../forecast/plan.ts';
import { marketOf } from './market.ts';
import { grownOn, measuredTable } from './measured.ts';
import { rollUp } from './roll-up.ts';
import { weekParts, type KeptWeeks } from './week-parts.ts';

/** Lines of the plan's closed months by week: a month's sales all in one of its weeks, or in two. */
function weeksOf(plan: Plan, seed: number, years: number): KeptWeeks {
  const { actuals } = plan;
  const rows = actuals.combination.flatMap((combination, row) => {
    const month = monthFrom(actuals.month[row] ?? '') + 12 * years;
    const count = weeksOfMonth(month).length;
    const [one, other] = [(row + seed) % count, (row * seed + 1) % count];
    const half = (values: readonly number[], first: boolean): number => {
      const value = values[row] ?? 0;
      const part = Math.trunc(value / 3);
      return first ? part : value - part;
    };
    return [one, other].map((week, at) => ({
      combination,
      month: monthText(month),
      week,
      units: half(actuals.units, at === 0),
      revenue: half(actuals.revenue, at === 0),
      cost: half(actuals.cost, at === 0),
    }));
  });
  return {
    combination: rows.map((row) => row.combination),
    month: rows.map((row) => row.month),
    week: rows.map((row) => row.week),
    units: rows.map((row) => row.units),
    revenue: rows.map((row) => row.revenue),
    cost: rows.map((row) => row.cost),
  };
}

const close = (one: number, other: number, what: string): void =>
  assert.isAtMost(
    Math.abs(one - other),
    1e-7 * Math.max(1, Math.abs(one), Math.abs(other)),
    `${what}: ${one} beside ${other}`,
  );

/** A plan's numbers by week, half of the runs with the weeks of what was sold. */
function laidOut(plan: Plan, seed: number) {
  const model = evaluate(compile(plan));
  const closed = model.first + model.open - 1;
  const before = weekParts(weeksOf(plan, seed, 1), 100, closed + 12);
  const weeks = weekParts(weeksOf(plan, seed, 0), 100, closed, before);
  const sources = new Sources(
    model,
    () => ({ combination: [], month: [], units: [], revenue: [], cost: [] }),
    { weeks: () => (seed % 2 === 0 ? weeks : undefined) },
  );
  return { model, figuresOf: (source: Source) => sources.figures(source) };
}
const span = { from: monthFrom('2025-11'), to: monthFrom('2026-06') };

describe('weeks', () => {
  it('cut every day of some months once, and are those of the calendar', () => {
    fc.assert(
      fc.property(fc.integer({ min: 24_000, max: 24_600 }), fc.nat(14), (from, more) => {
        const all = periodsOf({ from, to: from + more }, 'week', 1);
        const { from: first, to: last } = daysOfMonths(from, from + more);
        let day = first;
        for (const { key, days, partial } of all) {
          assert.equal(days?.from, day);
          const to = days?.to ?? '';
          assert.equal(isoWeek(day), key);
          assert.equal(isoWeek(to), key);
          const wholeWeek = addDays(day, 6) === to;
          assert.equal(partial, !wholeWeek);
          day = addDays(to, 1);
        }
        assert.equal(addDays(day, -1), last);
        assert.equal(new Set(all.map(({ key }) => key)).size, all.length);
      }),
    );
  });

  it('add up to the months, whatever is shown', () => {
    fc.assert(
      fc.property(somePlan, fc.nat(9), (plan, seed) => {
        const { model, figuresOf } = laidOut(plan, seed);
        const { fiscalStart } = plan.calendar;
        const figures = figuresOf(FORECAST);
        for (const measure of ['units', 'revenue', 'margin'] as const) {
          const asked = { measure, rows: ['channel'], columns: 'time', scope: [], span } as const;
          const months = rollUp(figures, model.tree, { ...asked, grain: 'month' }, fiscalStart);
          for (const grain of ['week', 'day'] as const) {
            const fine = rollUp(figures, model.tree, { ...asked, grain }, fiscalStart);
            for (const [place, row] of [...fine.rows, fine.total].entries()) {
              const other = [...months.rows, months.total][place];
              const sum = row.cells.reduce((all, { value }) => all + (value ?? 0), 0);
              close(sum, other?.total.value ?? 0, `${measure} of ${row.label} by ${grain}`);
              assert.deepEqual(row.total, other?.total);
            }
          }
        }
      }),
      { numRuns: 60 },
    );
  });

  it('are divided into days that are alike, of which each week has its own', () => {
    fc.assert(
      fc.property(somePlan, fc.nat(9), (plan, seed) => {
        const { model, figuresOf } = laidOut(plan, 2 * seed + 1);
        const figures = figuresOf(FORECAST);
        const asked = { measure: 'units', rows: [], columns: 'time', scope: [], span } as const;
        const [days, weeks] = (['day', 'week'] as const).map((grain) =>
          rollUp(figures, model.tree, { ...asked, grain }, plan.calendar.fiscalStart),
        );
        const { from: first, to: last } = daysOfMonths(span.from, span.to);
        assert.equal(days?.columns.length, daysBetween(first, last));
        const ofWeek = new Map<string, number>();
        const ofMonth = new Map<number, number>();
        days?.columns.forEach(({ key, period }, place) => {
          assert.deepEqual(period?.days, { from: key, to: key });
          const value = days.total.cells[place]?.value ?? 0;
          ofWeek.set(isoWeek(key), (ofWeek.get(isoWeek(key)) ?? 0) + value);
          const month = period?.from ?? 0;
          ofMonth.set(month, ofMonth.get(month) ?? value);
          close(value, ofMonth.get(month) ?? NaN, key);
        });
        weeks?.columns.forEach(({ key }, place) =>
          close(weeks.total.cells[place]?.value ?? 0, ofWeek.get(key) ?? 0, key),
        );
      }),
      { numRuns: 40 },
    );
  });

  it('have what was sold in them where that is known, and days of the month where not', () => {
    const [plan] = fc.sample(somePlan, 1);
    if (!plan) throw new Error('There is no plan');
    const sold: Plan = {
      ...plan,
      actuals: { combination: [100], month: ['2025-12'], units: [31], revenue: [3100], cost: [0] },
    };
    const kept: KeptWeeks = {
      combination: [100],
      month: ['2025-12'],
      week: [2],
      units: [31],
      revenue: [3100],
      cost: [0],
    };
    const model = evaluate(compile(sold));
    const none = { combination: [], month: [], units: [], revenue: [], cost: [] };
    const read = (weeks: boolean): (number | null)[] => {
      const sources = new Sources(model, () => none, {
        weeks: () => (weeks ? weekParts(kept, 100, monthFrom('2025-12')) : undefined),
      });
      const month = { from: monthFrom('2025-12'), to: monthFrom('2025-12') };
      const asked = {
        measure: 'units',
        rows: [],
        columns: 'time',
        scope: [],
        span: month,
      } as const;
      const table = rollUp(sources.figures(FORECAST), model.tree, { ...asked, grain: 'week' }, 1);
      return table.total.cells.map(({ value }) => value);
    };
    assert.deepEqual(read(true), [0, 0, 31, 0, 0]);
    read(false).forEach((value, week) => close(value ?? 0, [7, 7, 7, 7, 3][week] ?? 0, 'by days'));
  });

  it('explain themselves by a tree that evaluates to them', () => {
    fc.assert(
      fc.property(somePlan, fc.nat(9), fc.nat(40), (plan, seed, at) => {
        const { model, figuresOf } = laidOut(plan, seed);
        const { fiscalStart } = plan.calendar;
        const query = {
          measures: MEASURED_CODES,
          rows: ['channel'],
          columns: 'time',
          scope: [],
          span,
          grain: 'week',
        } as const;
        const figures = figuresOf(FORECAST);
        const table = measuredTable(figures, marketOf(model), model.tree, query, fiscalStart);
        const place = at % table.columns.length;
        const period = table.columns[place]?.period ?? null;
        for (const { measure, cells } of table.totals) {
          const cell = cells[place];
          const asked = {
            kind: 'measured' as const,
            source: FORECAST,
            measure,
            scope: [],
            whole: [],
            span: { from: period?.from ?? 0, to: period?.to ?? 0, days: period?.days },
            before: grownOn(measure, span, period, 'week'),
          };
          if (asked.before === null && cell?.value === null) continue;
          const node = explainFully(model, asked, figuresOf);
          const value = evaluateTrace(node);
          if (cell?.value === null || cell === undefined || cell.incomplete) continue;
          close(value ?? Number.NaN, cell.value, `${measure} in ${period?.key ?? ''}`);
        }
      }),
      { numRuns: 60 },
    );
  });
});
