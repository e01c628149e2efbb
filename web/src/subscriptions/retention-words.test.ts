import { monthFrom } from '@dravex/core';
import { assert } from 'chai';
import { formatsFor } from '../format/numbers.ts';
import type { CohortRow } from './cohort-row.ts';
import { churnInWords, cohortsInWords, rateInWords } from './retention-words.ts';
import { worthLines } from './worth-lines.ts';

const formats = formatsFor('en-GB', 'EUR');
const left = (age: number) =>
  Array.from({ length: age + 1 }, (_, at) => ({ s: 0.9 ** at, low: 0, high: 1 }));

describe('how long subscribers stay', () => {
  it('is said with the longest age by which people speak of it', () => {
    const churn = { kind: 'constant', rate: 0.1 } as const;
    const fitted = { churn, left: left(14), atRisk: 100, lost: 10 };
    const found = { through: '2026-09', cohorts: [], ages: [], fitted };
    assert.equal(
      churnInWords(found, formats),
      'Subscribers leave at 10.0% a month; 28.2% are still there after 12 months',
    );
    assert.include(
      churnInWords({ ...found, fitted: { ...fitted, left: left(4) } }, formats),
      '72.9% are still there after 3 months',
    );
    const none = { ...found, fitted: null };
    assert.equal(churnInWords(none, formats), 'Nobody has left yet');
    const few = { ...none, ages: [{ age: 1, atRisk: 9, lost: 2, rate: 2 / 9 }] };
    assert.include(churnInWords(few, formats), 'Too few have left');
  });

  it('names every kind of churn', () => {
    assert.equal(
      rateInWords({ kind: 'atRenewal', term: 12, rate: 0.4 }, formats),
      '40.0% every 12 months',
    );
    assert.equal(
      rateInWords({ kind: 'byAge', rates: [0.12, 0.06] }, formats),
      '12.0% in the first month, falling to 6.0%',
    );
  });

  it('points the worst cohort out, or says that there is none', () => {
    const row = (start: string, worse: CohortRow['worse']): CohortRow => ({
      ...{ start: monthFrom(start), size: 200, cells: [], forecastFrom: 0, before: false, worse },
    });
    const usual = row('2026-01', null);
    assert.equal(
      cohortsInWords([usual], formats),
      '1 cohort, and none leaves faster than those before it',
    );
    assert.equal(
      cohortsInWords(
        [
          usual,
          row('2026-02', { lost: 60, expected: 40 }),
          row('2026-03', { lost: 100, expected: 20 }),
        ],
        formats,
      ),
      'Those who started in March 2026 leave faster: 50.0% have left, of those before 10.0% had',
    );
  });

  it('makes a subscriber’s worth from figures that are all shown', () => {
    const lines = worthLines(
      {
        ...{ price: 10, margin: 0.5, lifetime: 25, lifetimeValue: 125 },
        ...{ acquisitionCost: 20, monthsToPayBack: 4 },
      },
      formats,
    );
    assert.deepEqual(
      lines.slice(3).map(({ name, value, how }) => [name, value, how]),
      [
        ['Lifetime value', '125.00', 'price 10.00 x margin 50.0% x 25 months'],
        ['Acquisition cost', '20.00', 'spent on all sources / new subscribers of the period'],
        ['Paid back after', '4 months', 'acquisition cost 20.00 / (price 10.00 x margin 50.0%)'],
      ],
    );
    const endless = worthLines(
      {
        ...{ price: 10, margin: 0.5, lifetime: null, lifetimeValue: null },
        ...{ acquisitionCost: null, monthsToPayBack: null },
      },
      formats,
    );
    assert.equal(endless.find(({ name }) => name === 'Lifetime')?.how, 'nobody leaves');
    assert.include(
      endless.find(({ name }) => name === 'Acquisition cost')?.how,
      'nothing is spent',
    );
  });
});
