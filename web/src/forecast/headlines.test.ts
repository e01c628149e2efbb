import { monthFrom, varianceOf, type Comparison, type ComparisonRow } from '@dravex/core';
import { assert } from 'chai';
import { comparisonHeadline } from '../comparison/headline.ts';
import { formatsFor } from '../format/numbers.ts';
import { readPart } from '../targets/read-part.ts';
import { forecastHeadline } from './headline.ts';

const formats = formatsFor('en-IE', 'EUR');
const closedThrough = monthFrom('2026-09');
const year = { from: monthFrom('2026-04'), to: monthFrom('2027-03') };

describe('headings', () => {
  it('say what the forecast found, in the tense of its months', () => {
    const found = {
      many: false,
      measure: 'revenue',
      value: 2e7,
      span: year,
      closedThrough,
      against: { name: 'budget', value: 2.1e7 },
    } as const;
    assert.equal(
      forecastHeadline({ ...found, subject: 'North and Coast', many: true }, formats),
      'North and Coast are heading for 20 million, 4.8% under budget',
    );
    const past = { from: monthFrom('2026-04'), to: closedThrough };
    assert.equal(
      forecastHeadline({ ...found, subject: 'Ondwell', span: past, against: null }, formats),
      'Ondwell sold 20 million',
    );
    const ahead = { from: monthFrom('2027-01'), to: monthFrom('2027-03') };
    assert.equal(
      forecastHeadline(
        { ...found, subject: 'Ondwell', span: ahead, measure: 'units', against: null },
        formats,
      ),
      'Ondwell is forecast to sell 20 million units',
    );
    assert.include(
      forecastHeadline({ ...found, subject: 'X', value: null }, formats),
      'Nothing is forecast',
    );
    assert.include(
      forecastHeadline(
        { ...found, subject: 'X', against: { name: 'budget', value: 2e7 } },
        formats,
      ),
      'as in budget',
    );
  });

  it('say how far off a comparison is and where most of it is', () => {
    const row = (label: string, level: number, actual: number, plan: number): ComparisonRow => ({
      key: label,
      label,
      level,
      scope: [],
      parent: false,
      actual: { value: actual, incomplete: false },
      plan: { value: plan, incomplete: false },
      variance: varianceOf(actual, plan, 'moreIsGood'),
      beside: [],
    });
    const comparison = (actual: number, plan: number): Comparison => ({
      span: { from: year.from, to: closedThrough },
      cut: true,
      rows: [row('Web shop', 0, 800_000, 1_100_000), row('Office', 0, 500_000, 470_000)],
      total: row('Revenue', 0, actual, plan),
    });
    const budget = { against: 'Budget A' };
    assert.equal(
      comparisonHeadline(comparison(1_300_000, 1_570_000), 'revenue', formats, budget),
      'Six months in, 270 thousand under Budget A, most of it in Web shop',
    );
    assert.equal(
      comparisonHeadline(comparison(5, 5), 'revenue', formats, budget),
      'Six months in, as Budget A',
    );
    const lastYear = { of: 'the forecast', against: 'last year' };
    assert.equal(
      comparisonHeadline(comparison(2, 5), 'revenue', formats, lastYear),
      'The forecast is 3 under last year, most of it in Web shop',
    );
    assert.include(
      comparisonHeadline({ ...comparison(1, 2), total: null }, 'revenue', formats, budget),
      'nothing to compare',
    );
    const unknown = { ...row('Revenue', 0, 1, 2), variance: null };
    assert.equal(
      comparisonHeadline({ ...comparison(1, 2), total: unknown }, 'revenue', formats, budget),
      'Revenue: not every line has numbers on both sides',
    );
  });
});

describe('readPart', () => {
  it('knows a percent from an amount', () => {
    assert.deepEqual(readPart('25%', formats, 100), { part: { kind: 'percent', percent: 25 } });
    assert.deepEqual(readPart('33.3 %', formats, 100), {
      part: { kind: 'percent', percent: 33.3 },
    });
    assert.deepEqual(readPart('1,000.01', formats, 100), {
      part: { kind: 'amount', amount: 100_001 },
    });
  });

  it('says why a part cannot be taken', () => {
    for (const text of ['much', '', '1e400', '-5%', '-5', '0.0000001%']) {
      assert.property(readPart(text, formats, 100), 'reason', text);
    }
  });
});
