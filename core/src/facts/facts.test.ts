import { assert } from 'chai';
import fc from 'fast-check';
import { monthFrom, monthText } from '../calendar/month.ts';
import { factOverTime, ledgerShares, likelyNature, subscriberMonths } from './facts.ts';

describe('measured facts', () => {
  it('roll up over time by their nature', () => {
    assert.equal(factOverTime('flow', [1, null, 2]), 3);
    assert.equal(factOverTime('stock', [5, 7, null]), 7);
    assert.isNull(factOverTime('level', [4, 5]));
    assert.equal(factOverTime('level', [null, 5]), 5);
    assert.isNull(factOverTime('ratio', [0.1, 0.2]));
    assert.isNull(factOverTime('flow', [null, null]));
  });

  it('have a likely nature by their name', () => {
    assert.equal(likelyNature('Web visits'), 'flow');
    assert.equal(likelyNature('Satisfaction score'), 'level');
    assert.equal(likelyNature('Active plans'), 'stock');
    assert.equal(likelyNature('Open rate'), 'ratio');
  });
});

describe('subscriberMonths', () => {
  it('balances in every month, whoever comes and goes', () => {
    const day = fc
      .tuple(fc.integer({ min: 0, max: 40 }), fc.integer({ min: 1, max: 28 }))
      .map(
        ([month, of]) =>
          `${monthText(monthFrom('2023-01') + month)}-${String(of).padStart(2, '0')}`,
      );
    const span = fc.tuple(day, fc.option(day)).map(([start, end]) => ({
      start,
      end: end !== null && end < start ? start : end,
    }));
    const from = monthFrom('2024-01');
    const to = monthFrom('2025-06');
    fc.assert(
      fc.property(fc.array(span, { maxLength: 40 }), (spans) => {
        for (const { month, opening, added, lost, closing } of subscriberMonths(spans, from, to)) {
          assert.equal(opening + added - lost, closing);
          const active = spans.filter(({ start, end }) => {
            const begin = monthFrom(start.slice(0, 7));
            const left = end === null ? Infinity : Math.max(begin + 1, monthFrom(end.slice(0, 7)));
            return begin <= month && left > month;
          });
          assert.equal(closing, active.length);
        }
      }),
    );
  });
});

describe('ledgerShares', () => {
  it('shows revenue positive and every account as a share of it', () => {
    const shares = ledgerShares([
      { account: '4000', kind: 'revenue', amount: -80_000 },
      { account: '4010', kind: 'revenue', amount: -20_000 },
      { account: '5000', kind: 'expense', amount: 45_000 },
    ]);
    assert.deepEqual(
      shares.map(({ amount, share }) => [amount, share]),
      [
        [80_000, 0.8],
        [20_000, 0.2],
        [45_000, 0.45],
      ],
    );
    assert.isNull(ledgerShares([{ account: 'x', kind: 'expense', amount: 5 }])[0]?.share);
  });
});
