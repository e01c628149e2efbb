import { assert } from 'chai';
import fc from 'fast-check';
import {
  accuracyByLead,
  accuracyOf,
  actualFigures,
  closeRefusal,
  closingDay,
  compile,
  evaluate,
  explain,
  figuresFromRows,
  FORECAST,
  forecastFigures,
  inColumns,
  isOver,
  keepForecast,
  KEPT_FORECAST,
  lookAtMonth,
  MemberTree,
  monthFrom,
  monthText,
  readHolidays,
  rowsOfCells,
  Sources,
  type Figures,
  type Plan,
} from '../index.ts';
import { somePlan } from '../testing/rich-plan.ts';

const OCTOBER = monthFrom('2026-10');

describe('the day of a close', () => {
  it('counts calendar days, or working days without weekends and holidays', () => {
    const none = new Set<string>();
    assert.isNull(closingDay(OCTOBER, { by: 'hand', day: 3 }, none));
    assert.equal(closingDay(OCTOBER, { by: 'calendarDay', day: 3 }, none), '2026-11-03');
    // 1 November 2026 is a Sunday.
    assert.equal(closingDay(OCTOBER, { by: 'workingDay', day: 3 }, none), '2026-11-04');
    assert.equal(
      closingDay(OCTOBER, { by: 'workingDay', day: 3 }, new Set(['2026-11-03', '2026-11-07'])),
      '2026-11-05',
    );
    assert.equal(
      closingDay(monthFrom('2027-12'), { by: 'workingDay', day: 1 }, new Set(['2028-01-03'])),
      '2028-01-04',
    );
  });

  it('is after the month, and never on a day off', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: monthFrom('2020-01'), max: monthFrom('2040-12') }),
        fc.integer({ min: 1, max: 28 }),
        fc.array(fc.integer({ min: 1, max: 28 }), { maxLength: 10 }),
        (month, day, off) => {
          const holidays = new Set(
            off.map((one) => `${monthText(month + 1)}-${String(one).padStart(2, '0')}`),
          );
          const at = closingDay(month, { by: 'workingDay', day }, holidays) ?? '';
          assert.isTrue(isOver(month, at));
          assert.isFalse(holidays.has(at));
          assert.notInclude([0, 6], new Date(`${at}T00:00:00Z`).getUTCDay());
        },
      ),
    );
  });

  it('reads a list of holidays, and says which line is none', () => {
    const { days, problems } = readHolidays(
      '\uFEFFDay;Name\n2026-12-25;Christmas\n26.12.2026 Second day\n\n2026-12-25,again\n',
    );
    assert.deepEqual([days, problems], [['2026-12-25', '2026-12-26'], []]);
    const odd = readHolidays('2026-12-25\nsoon\n31.02.2027\n');
    assert.deepEqual(
      odd.problems.map(({ where }) => where['line']),
      [2, 3],
    );
    assert.include(odd.problems[0]?.message, '"soon", is not a day');
  });

  it('is over with its last day', () => {
    assert.isFalse(isOver(OCTOBER, '2026-10-30'));
    assert.isTrue(isOver(OCTOBER, '2026-10-31'));
  });
});

/** Figures of two combinations over some months, in revenue. */
function figures(plan: Plan, rows: readonly (readonly [number, number, number])[]): Figures {
  return figuresFromRows(
    plan,
    rows.map(([combination, month, revenue]) => ({
      combination,
      month,
      units: revenue / 100,
      revenue,
      cost: 0,
    })),
  );
}

const PLAN = {
  calendar: {
    first: '2025-01',
    last: '2027-12',
    closedThrough: '2026-09',
    asOf: '2026-10-12',
    fiscalStart: 1,
  },
  currency: { code: 'EUR', minorDigits: 2 },
  dimensions: [
    {
      code: 'channel',
      name: 'Channel',
      members: [
        { id: 1, code: 'web', name: 'Web', parent: null },
        { id: 2, code: 'shop', name: 'Shop', parent: null },
      ],
    },
  ],
  combinations: [
    { id: 11, members: [1] },
    { id: 12, members: [2] },
  ],
  drivers: [],
  assumptions: [],
  adjustments: [],
  streams: [],
  actuals: { combination: [], month: [], units: [], revenue: [], cost: [] },
} as unknown as Plan;

describe('accuracy of kept forecasts', () => {
  const tree = new MemberTree(PLAN.dimensions);
  const july = monthFrom('2026-07');
  const actual = figures(PLAN, [
    ...Array.from(
      { length: 24 },
      (_, t) => [11, monthFrom('2025-01') + t, 10_000 + 100 * t] as const,
    ),
    [12, july, 5000],
    [12, july + 1, 5000],
    [12, july + 2, 5000],
  ]);
  const query = {
    measure: 'revenue',
    rows: ['channel'],
    scope: [],
    span: { from: july, to: july + 11 },
    leads: [1, 2],
  } as const;
  const said = (closed: number, ...values: number[]) => ({
    closed,
    figures: figures(
      PLAN,
      values.map((value, place) => [12, closed + place, value] as const),
    ),
  });

  it('takes a month from the forecast that was made so far ahead, and adds up before it measures', () => {
    const table = accuracyByLead(
      actual,
      [said(july, 6000, 5500), said(july + 1, 4000, 4500), said(july + 2, 6000)],
      tree,
      query,
      july + 2,
    );
    const shop = table.rows.find(({ label }) => label === 'Shop');
    const [one, two] = shop?.leads ?? [];
    // Errors of 60 - 50, 50 - 40 and 60 - 50 euros a month ahead; two ahead 55 and 45.
    assert.deepInclude(one, { lead: 1, months: 3, mae: 10, bias: (-10 + 10 - 10) / 3, wape: 0.2 });
    assert.deepInclude(two, { lead: 2, months: 2, mae: 5, bias: 0, wape: 0.1, biasShare: 0 });
    const expected = accuracyOf([50, 50, 50], [60, 40, 60], []);
    assert.equal(one?.mape, expected.mape);
    // Nothing was forecast for the web: its whole sales are the error, and they all say too low.
    const web = table.rows.find(({ label }) => label === 'Web');
    assert.equal(web?.leads[0]?.wape, 1);
    assert.deepInclude(table.total, { label: '', always: null });
  });

  it('leaves open months out, and names what always errs to one side', () => {
    const kept = [0, 1, 2, 3].map((back) => said(july - back, 9000));
    const early = figures(
      PLAN,
      [0, 1, 2, 3].map((back) => [12, july - back, 5000] as const),
    );
    const span = { from: july - 11, to: july + 5 };
    const table = accuracyByLead(early, kept, tree, { ...query, span }, july);
    assert.equal(table.rows.find(({ label }) => label === 'Shop')?.always, 'tooHigh');
    const shorter = accuracyByLead(early, kept, tree, { ...query, span }, july - 1);
    assert.equal(shorter.total.leads[0]?.months, 3);
    assert.isNull(shorter.total.always);
  });
});

describe('what is unusual in a month', () => {
  it('names jumps off forecast and year before, and what had a forecast and no sale', () => {
    const month = monthFrom('2026-07');
    const sold = figures(PLAN, [
      [11, month, 20_000],
      [11, month - 12, 9000],
    ]);
    const forecast = figures(PLAN, [
      [11, month, 10_000],
      [12, month, 3000],
    ]);
    const { jumps, unsold } = lookAtMonth(sold, forecast, month);
    assert.deepEqual(
      jumps.map(({ combination, actual, yearBefore }) => [combination.id, actual, yearBefore]),
      [[11, 200, 90]],
    );
    assert.deepEqual(
      unsold.map(({ combination, forecast: f }) => [combination.id, f]),
      [[12, 30]],
    );
    const usual = figures(PLAN, [
      [11, month, 20_000],
      [11, month - 12, 19_000],
    ]);
    assert.isEmpty(lookAtMonth(usual, forecast, month).jumps, 'as a year before');
  });

  it('says what stands in the way of a close', () => {
    const nothing = figures(PLAN, []);
    const refusal = (month: string, roll = 0, calendar = PLAN.calendar) =>
      closeRefusal(calendar, nothing, month, roll);
    assert.deepEqual(refusal('2026-09')?.kind, 'cannot');
    assert.include(refusal('2026-12')?.message, 'October 2026 comes before');
    assert.include(refusal('2026-10')?.message, 'is not over');
    const over = { ...PLAN.calendar, asOf: '2026-11-02' };
    assert.include(refusal('2026-10', 0, over)?.message, 'Nothing was sold');
    assert.isUndefined(closeRefusal(over, figures(PLAN, [[11, OCTOBER, 1]]), '2026-10', 0));
    const short = { ...over, last: '2026-10' };
    assert.include(refusal('2026-10', 0, short)?.message, 'The horizon ends');
    assert.equal(refusal('2026-10', 12, short)?.kind, 'sure');
  });
});

describe('a close', () => {
  it('keeps what the forecast was, and opened again every number is as before', () => {
    fc.assert(
      fc.property(somePlan, (plan) => {
        const before = forecastFigures(evaluate(compile(plan)));
        const open = monthFrom(plan.calendar.closedThrough) + 1;
        const span = { from: open, to: monthFrom(plan.calendar.last) };
        if (span.from >= span.to) return;
        const { rows } = keepForecast(before, span, plan.currency.minorDigits);
        const kept = figuresFromRows(plan, rowsOfCells(inColumns(rows)));
        before.measures.revenue.forEach((value, at) => {
          const t = at % before.count;
          if (t < open - before.first || Number.isNaN(value)) return;
          if (Number.isNaN(before.measures.units[at] ?? 0)) return;
          assert.closeTo(kept.measures.revenue[at] ?? 0, value, 0.0051 + Math.abs(value) * 1e-12);
        });
        const calendar = { ...plan.calendar, closedThrough: monthText(open) };
        const closed = forecastFigures(evaluate(compile({ ...plan, calendar })));
        const actual = actualFigures(plan);
        const t = open - before.first;
        before.combinations.forEach((_, index) => {
          const at = index * before.count + t;
          assert.equal(closed.measures.revenue[at], actual.measures.revenue[at]);
        });
        const again = forecastFigures(evaluate(compile(plan)));
        assert.deepEqual(again.measures, before.measures);
      }),
      { numRuns: 60 },
    );
  });
});

describe('the forecast line as it was kept', () => {
  it('has what was kept of closed months, explains it, and leaves every other month', () => {
    const month = fc.constantFrom('2025-03', '2025-12', '2026-04');
    const cell = fc.record({ month, place: fc.nat(7), units: fc.integer({ min: -5, max: 90 }) });
    fc.assert(
      fc.property(
        somePlan,
        fc.array(cell),
        fc.subarray(['2025-03', '2025-12']),
        (plan, all, months) => {
          const cells = all.filter((one) => months.includes(one.month));
          const idOf = (place: number): number => plan.combinations[place]?.id ?? -1;
          const kept = {
            months,
            cells: {
              combination: cells.map(({ place }) => idOf(place)),
              month: cells.map((one) => one.month),
              units: cells.map(({ units }) => units),
              revenue: cells.map(({ units }) => units * 700),
              cost: cells.map(() => 0),
            },
          };
          const model = evaluate(compile(plan));
          const sources = new Sources(model, () => kept.cells, { kept: () => kept });
          const [line, shown] = [sources.figures(FORECAST), sources.figures(KEPT_FORECAST)];
          for (const [index, { id, members }] of plan.combinations.entries()) {
            for (let t = 0; t < line.count; t += 1) {
              const text = monthText(line.first + t);
              const at = index * line.count + t;
              const of = cells.filter((one) => one.month === text && idOf(one.place) === id);
              const sum = of.reduce((units, one) => units + one.units, 0);
              const expected = months.includes(text) ? sum : line.measures.units[at];
              assert.deepEqual(shown.measures.units[at], expected, text);
              const span = { from: line.first + t, to: line.first + t };
              const { source, value } = explain(
                model,
                { kind: 'table', source: KEPT_FORECAST, measure: 'units', scope: members, span },
                (of) => sources.figures(of),
              );
              if (months.includes(text) && sum !== 0) {
                assert.deepEqual(source, { kind: 'keptForecast', month: text });
                assert.equal(value, sum);
              }
            }
          }
        },
      ),
      { numRuns: 30 },
    );
  });
});
