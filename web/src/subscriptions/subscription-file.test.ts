import { monthFrom, type SubscriptionTable } from '@dravex/core';
import { assert } from 'chai';
import { formatsFor } from '../format/numbers.ts';
import { plateauInWords } from './plateau-words.ts';
import { byAge } from './cohort-row.ts';
import { cohortLines, movementLines } from './subscription-file.ts';

const first = monthFrom('2026-10');
const table: Pick<SubscriptionTable, 'periods' | 'lines' | 'cohorts' | 'months'> = {
  periods: [{ key: '2026-10', from: first, to: first, partial: false }],
  lines: [
    { code: 'lost', name: 'Lost', display: 'units', takes: 'flow', values: [4], total: 4 },
    { code: 'new', name: 'New', display: 'money', takes: 'flow', values: [null], total: null },
  ],
  months: [first, first + 1],
  cohorts: [
    { start: first - 1, before: true, size: 10, active: [9, 8], revenue: [90, 80] },
    { start: first + 1, before: false, size: 4, active: [null, 4], revenue: [null, 40] },
  ],
};

describe('files of subscriptions', () => {
  it('hold movements with their units, and what is missing as nothing', () => {
    assert.deepEqual(movementLines(table, 'EUR'), [
      ['Line', 'Unit', '2026-10', 'Total'],
      ['Lost', 'subscribers', 4, 4],
      ['New', 'EUR', null, null],
    ]);
  });

  it('hold cohorts by the month of their start, as counts or as parts', () => {
    const rows = byAge(undefined, table, 2);
    assert.deepEqual(cohortLines(rows, ['0', '1', '2'], false, first - 1), [
      ['Started in', 'Counted through', 'Subscribers', '0', '1', '2'],
      ['2026-09', 'forecast', 10, null, 9, 8],
      ['2026-11', 'forecast', 4, 4, null, null],
    ]);
    assert.deepEqual(cohortLines(rows, [], true, first)[1]?.slice(4), [0.9, 0.8]);
  });

  it('go on from the records, where the forecast begins with as many as they have', () => {
    const cohort = { start: '2026-09', worse: null, without: false };
    const [met, ...rest] = byAge({ cohorts: [{ ...cohort, active: [10] }] }, table, 2);
    assert.deepEqual([met?.cells, met?.forecastFrom, rest.length], [[10, 9, 8], 1, 1]);
    const [paid] = byAge({ cohorts: [{ ...cohort, active: [10] }] }, table, 2, 'revenue');
    assert.deepEqual([paid?.cells, paid?.size], [[null, 90, 80], 10]);
    const apart = byAge({ cohorts: [{ ...cohort, active: [40] }] }, table, 2);
    assert.deepEqual(
      apart.map(({ cells, before }) => [before, ...cells]),
      [
        [false, 40, null, null],
        [true, null, 9, 8],
        [false, 4, null, null],
      ],
    );
  });
});

describe('where subscriptions lead', () => {
  const formats = formatsFor('en-GB', 'EUR');
  const words = (leadsTo: SubscriptionTable['leadsTo']): string => plateauInWords(leadsTo, formats);

  it('is said in a sentence', () => {
    assert.equal(
      words({ gain: 40, churn: 0.04, plateau: 1000, near: { month: first, from: 'below' } }),
      'At 40 new a month and 4.0% churn, subscribers level off at 1,000; nine tenths of it are reached in October 2026.',
    );
    assert.equal(
      words({ gain: 40, churn: null, plateau: 1000, near: null }),
      'At 40 new a month, subscribers level off at 1,000.',
    );
    assert.include(words({ gain: 40, churn: 0, plateau: null, near: null }), 'there is no level');
    assert.equal(words(null), '');
  });
});
