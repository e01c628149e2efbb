import { monthFrom } from '@dravex/core';
import { assert } from 'chai';
import { formatsFor } from '../format/numbers.ts';
import { readBudget, type BudgetGrid } from './typed-budget.ts';

const formats = formatsFor('en-IE', 'EUR');
const APRIL = monthFrom('2026-04');

async function read(text: string, now: number | null, part: Partial<BudgetGrid> = {}) {
  const span = { from: APRIL - 3, to: APRIL + 2 };
  const { typed, refusals, doubts } = await readBudget(
    [{ row: 'r', column: 'c', text, scope: [4], span }],
    {
      measure: 'revenue',
      covered: { from: APRIL, to: APRIL + 11 },
      minor: 100,
      unit: 1,
      keeps: 'units',
      now: () => Promise.resolve(now),
      ...part,
    },
    formats,
  );
  return typed[0] ?? refusals[0]?.reason ?? doubts[0];
}

describe('what is typed into a budget', () => {
  it('is money to the cent, over the months that the version covers, with what was seen', async () => {
    assert.deepEqual(await read('1.2k', 50_000), {
      scope: [4],
      from: '2026-04',
      to: '2026-06',
      measure: 'revenue',
      total: 120_000,
      saw: 50_000,
      basis: 'standing',
      keeps: 'units',
    });
    assert.deepInclude(await read('0.015', 7), { total: 2 });
    assert.deepInclude(await read('+8%', 50_001), { total: 54_001 });
    assert.deepInclude(await read('-=10', 50_000), { total: 49_000 });
    assert.deepInclude(await read('x1.5', 3, { measure: 'units' }), { total: 5 });
    assert.deepInclude(await read('12.5', 10.25, { measure: 'units' }), { total: 12.5 });
    assert.deepInclude(await read('9.99', 950.5, { measure: 'averagePrice' }), { total: 999 });
  });

  it('is in the unit that is shown, unless it says its own', async () => {
    const thousands = { unit: 1000 } as const;
    assert.deepInclude(await read('200', 17_900_000, thousands), { total: 20_000_000 });
    assert.deepInclude(await read('0.5', 100_000, thousands), { total: 50_000 });
    assert.deepInclude(await read('200k', 17_900_000, thousands), { total: 20_000_000 });
    assert.deepInclude(await read('+=2', 17_900_000, thousands), { total: 18_100_000 });
    assert.deepInclude(await read('x2', 17_900_000, thousands), { total: 35_800_000 });
    assert.deepInclude(await read('9.99', 950, { ...thousands, measure: 'averagePrice' }), {
      total: 999,
    });
  });

  it('is asked about where it is a thousand times what stands there, or a thousandth', async () => {
    assert.deepInclude(await read('200000', 17_900_000, { unit: 1000 }), {
      typed: '200,000.00 thousand \u20ac',
      meant: '200.00 thousand \u20ac',
      stands: '179.00 thousand \u20ac',
      text: '200',
    });
    assert.deepInclude(await read('179', 17_900_000), { text: '179000' });
    assert.deepInclude(await read('179', 17_900), { total: 17_900 }, 'as it stands');
    assert.deepInclude(await read('5', null), { total: 500 }, 'nothing stood there');
  });

  it('is asked about where it is below zero and what stands there is not', async () => {
    assert.deepInclude(await read('-500', 17_900), { meant: '500.00 \u20ac', text: '500' });
    assert.deepInclude(await read('-=500', 17_900), { meant: '321.00 \u20ac' });
    assert.deepInclude(await read('-5', null), { text: '5' });
    assert.deepInclude(await read('-2', -300), { total: -200 }, 'returns are planned there');
  });

  it('is refused with the reason where it cannot be', async () => {
    assert.include(await read('', 5), 'type 0');
    assert.include(await read('abc', 5), 'not a number');
    assert.include(await read('+8%', null), 'Nothing is there');
    assert.include(await read('1e30', 5), 'more than can be kept');
    const past = { covered: { from: APRIL + 20, to: APRIL + 30 } };
    assert.include(await read('5', 5, past), 'does not cover');
  });
});
