import { monthFrom, type SubscriptionTable } from '@dravex/core';
import { assert } from 'chai';
import { formatsFor } from '../format/numbers.ts';
import { plateauInWords } from './plateau-words.ts';
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
    { start: first - 1, before: true, size: 10, active: [9, 8] },
    { start: first + 1, before: false, size: 4, active: [null, 4] },
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
    assert.deepEqual(cohortLines(table, false), [
      ['Started in', 'There before', 'Subscribers', '2026-10', '2026-11'],
      ['2026-09', 'yes', 10, 9, 8],
      ['2026-11', 'no', 4, null, 4],
    ]);
    assert.deepEqual(cohortLines(table, true)[1]?.slice(3), [0.9, 0.8]);
  });
});

describe('where subscriptions lead', () => {
  const formats = formatsFor('en-GB', 'EUR');
  const words = (leadsTo: SubscriptionTable['leadsTo']): string =>
    plateauInWords(leadsTo, first, formats);

  it('is said in a sentence', () => {
    assert.equal(
      words({ gain: 40, churn: 0.04, plateau: 1000, monthsToFraction: 57 }),
      'At 40 new a month and 4.0% churn, subscribers level off at 1,000; from nothing, nine tenths of it would be reached by June 2031.',
    );
    assert.equal(
      words({ gain: 40, churn: null, plateau: 1000, monthsToFraction: null }),
      'At 40 new a month, subscribers level off at 1,000.',
    );
    assert.include(
      words({ gain: 40, churn: 0, plateau: null, monthsToFraction: null }),
      'there is no level',
    );
    assert.equal(words(null), '');
  });
});
