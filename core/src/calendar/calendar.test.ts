import { assert } from 'chai';
import fc from 'fast-check';
import { fiscalQuarterOf, fiscalYearOf, fiscalYearStart } from './fiscal.ts';
import { monthFrom, monthInYear, monthOf, monthText, parseMonth, yearOf } from './month.ts';
import { fiscalYearSpan, periodsOf } from './period.ts';

const month = fc.integer({ min: monthOf(1900, 1), max: monthOf(2199, 12) });
const start = fc.integer({ min: 1, max: 12 });

describe('month', () => {
  it('reads what it writes', () => {
    fc.assert(fc.property(month, (m) => parseMonth(monthText(m)) === m));
    fc.assert(fc.property(month, (m) => monthOf(yearOf(m), monthInYear(m)) === m));
  });

  it('refuses what is no month', () => {
    for (const text of ['2026-13', '2026-00', '2026-4', '26-04', '2026-04-01', '']) {
      assert.isUndefined(parseMonth(text), text);
    }
    assert.throws(() => monthFrom('soon'), RangeError, '"soon" is not a month');
  });
});

describe('fiscal year', () => {
  it('starts in its first month and lasts twelve', () => {
    fc.assert(
      fc.property(month, start, (m, s) => {
        const year = fiscalYearOf(m, s);
        const { from, to } = fiscalYearSpan(year, s);
        assert.isTrue(from <= m && m <= to);
        assert.equal(monthInYear(from), s);
        assert.equal(fiscalYearStart(year + 1, s), to + 1);
      }),
    );
  });

  it('has quarters of three months, the first one first', () => {
    assert.deepEqual(
      [4, 6, 7, 12, 1, 3].map((m) => fiscalQuarterOf(monthOf(2026, m), 4)),
      [1, 1, 2, 3, 4, 4],
    );
  });
});

describe('periodsOf', () => {
  it('cuts a span into periods without gap or overlap', () => {
    const grain = fc.constantFrom('month' as const, 'quarter' as const, 'year' as const);
    fc.assert(
      fc.property(month, fc.integer({ min: 0, max: 80 }), grain, start, (from, length, g, s) => {
        const periods = periodsOf({ from, to: from + length }, g, s);
        let next = from;
        for (const period of periods) {
          assert.equal(period.from, next);
          next = period.to + 1;
        }
        assert.equal(next, from + length + 1);
      }),
    );
  });

  it('marks a quarter that the span holds only in part', () => {
    const span = { from: monthFrom('2026-05'), to: monthFrom('2026-09') };
    assert.deepEqual(
      periodsOf(span, 'quarter', 4).map(({ key, partial }) => [key, partial]),
      [
        ['FY2027-Q1', true],
        ['FY2027-Q2', false],
      ],
    );
  });
});
