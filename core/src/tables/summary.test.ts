import { assert } from 'chai';
import fc from 'fast-check';
import {
  addDays,
  daysBetween,
  isoWeek,
  lastDayOf,
  weekStart,
  yearBefore,
} from '../calendar/day.ts';
import { MemberTree } from '../dimensions/member-tree.ts';
import { M, smallPlan } from '../testing/small-plan.ts';
import { spanBefore, timeColumns, unlikeSpans } from './day-columns.ts';
import { summarise, summaryValue, type SummaryGroup } from './summary.ts';

const tree = new MemberTree(smallPlan([]).dimensions);
const sums = (revenue: number, units = 1, cost = 0, byHand = 0) => ({
  units,
  revenue,
  cost,
  lines: 1,
  byHand,
});

describe('summarise', () => {
  const place = (member: number): number => tree.dimensionOf(member);
  const members = (...ids: number[]): number[] => {
    const list = tree.dimensions.map(() => -1);
    for (const id of ids) list[place(id)] = id;
    return list;
  };
  const groups: SummaryGroup[] = [
    { members: members(M.web, M.carafe), column: 0, sums: sums(100, 4, 60), before: false },
    { members: members(M.web, M.carafe), column: 1, sums: sums(50, 1, 20), before: false },
    { members: members(M.stores, M.carafe), column: 1, sums: sums(-10, 0, 0, 1), before: false },
    { members: members(M.web, M.carafe), column: 1, sums: sums(40), before: true },
  ];

  it('adds up at every level, and keeps the compared span apart', () => {
    const { rows, total } = summarise(tree, ['channel', 'product'], 2, groups);
    const web = rows.find(({ label, level }) => level === 0 && label === tree.member(M.web).name);
    assert.deepEqual(
      web?.cells.map(({ revenue }) => revenue),
      [100, 50],
    );
    assert.equal(web?.totalBefore.revenue, 40);
    assert.equal(total.total.revenue, 140);
    assert.equal(total.total.lines, 3);
    assert.deepEqual([total.total.byHand, web?.total.byHand], [1, 0]);
    assert.isTrue(rows.some(({ level }) => level > 0));
  });

  it('makes ratios from sums, with no value where there is nothing to divide by', () => {
    const { total } = summarise(tree, [], 2, groups);
    assert.equal(summaryValue(total.total, 'averagePrice'), 140 / 5);
    assert.equal(summaryValue(total.total, 'margin'), 60);
    assert.equal(summaryValue(total.total, 'marginRate'), 60 / 140);
    assert.isNull(
      summaryValue({ units: 0, revenue: 5, cost: 0, lines: 1, byHand: 0 }, 'averagePrice'),
    );
    assert.deepEqual(summarise(tree, [], 2, []).total.total, {
      units: 0,
      revenue: 0,
      cost: 0,
      lines: 0,
      byHand: 0,
    });
  });
});

describe('columns of days', () => {
  it('cut a span into ISO weeks and fiscal quarters, and mark what it cuts short', () => {
    const weeks = timeColumns({ from: '2026-10-01', to: '2026-10-12' }, 'week', 4);
    assert.deepEqual(
      weeks.map(({ key, from, to, partial }) => [key, from, to, partial]),
      [
        ['2026-W40', '2026-10-01', '2026-10-04', true],
        ['2026-W41', '2026-10-05', '2026-10-11', false],
        ['2026-W42', '2026-10-12', '2026-10-12', true],
      ],
    );
    const quarters = timeColumns({ from: '2026-04-01', to: '2026-10-12' }, 'quarter', 4);
    assert.deepEqual(
      quarters.map(({ key, partial }) => [key, partial]),
      [
        ['FY2027-Q1', false],
        ['FY2027-Q2', false],
        ['FY2027-Q3', true],
      ],
    );
    assert.lengthOf(timeColumns({ from: '2026-04-01', to: '2026-10-12' }, 'none', 4), 1);
  });

  it('know the span a year before, and say when it is not alike', () => {
    assert.deepEqual(spanBefore({ from: '2026-10-01', to: '2026-10-12' }, 'month'), {
      from: '2025-10-01',
      to: '2025-10-12',
    });
    const leap = { from: '2025-02-01', to: '2025-02-28' };
    assert.deepEqual(spanBefore(leap, 'none'), { from: '2024-02-01', to: '2024-02-29' });
    assert.include(
      unlikeSpans(leap, spanBefore(leap, 'none'), '2023-04-01', 'none'),
      '28 days beside 29',
    );
    assert.equal(
      unlikeSpans(
        { from: '2026-10-01', to: '2026-10-12' },
        { from: '2025-10-01', to: '2025-10-12' },
        '2023-04-01',
        'month',
      ),
      '',
    );
  });
});

describe('days', () => {
  it('know weeks, months and years', () => {
    assert.equal(isoWeek('2026-10-12'), '2026-W42');
    assert.equal(isoWeek('2021-01-03'), '2020-W53');
    assert.equal(isoWeek('2024-12-30'), '2025-W01');
    assert.equal(weekStart('2026-10-18'), '2026-10-12');
    assert.equal(yearBefore('2024-02-29'), '2023-02-28');
    assert.equal(lastDayOf('2024-02'), '2024-02-29');
  });

  it('add and count', () => {
    const day = fc.date({
      min: new Date('1990-01-01'),
      max: new Date('2100-01-01'),
      noInvalidDate: true,
    });
    fc.assert(
      fc.property(day, fc.integer({ min: 0, max: 4000 }), (date, days) => {
        const from = date.toISOString().slice(0, 10);
        assert.equal(daysBetween(from, addDays(from, days)), days + 1);
        assert.isTrue(isoWeek(from) === isoWeek(weekStart(from)));
      }),
    );
  });
});
