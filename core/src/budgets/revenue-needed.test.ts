import { assert } from 'chai';
import fc from 'fast-check';
import type { BudgetCell } from './cell.ts';
import { revenueNeeded } from './revenue-needed.ts';
import { budgetTotal, typeBudget } from './type-budget.ts';

const cell = (revenue: number, cost: number | null, units = 10): BudgetCell => ({
  ...{ combination: 1, month: 24_312, units, revenue, cost },
});

describe('revenue needed for a profit', () => {
  it('is what costs and profit are over what a euro contributes', () => {
    // 40 cents of each euro are left: 30 for costs and 10 for profit need a hundred.
    assert.deepEqual(revenueNeeded([cell(5000, 3000)], { fixed: 3000, profit: 1000 }), {
      ...{ revenue: 5000, cost: 3000, ratio: 0.4, needed: 10_000 },
    });
    // Nothing but the costs: break-even.
    assert.include(
      revenueNeeded([cell(6000, 2000), cell(2000, 2000)], { fixed: 5000, profit: 0 }),
      {
        needed: 10_000,
      },
    );
  });

  it('says why it cannot be said', () => {
    const wanted = { fixed: 100, profit: 100 };
    assert.equal(revenueNeeded([], wanted), 'no-revenue');
    assert.equal(revenueNeeded([cell(-5, 1)], wanted), 'no-revenue');
    assert.equal(revenueNeeded([cell(500, 100), cell(500, null)], wanted), 'no-cost');
    assert.equal(revenueNeeded([cell(500, 500)], wanted), 'no-margin');
    assert.equal(revenueNeeded([cell(500, 100)], { fixed: 100, profit: -100 }), 'no-need');
    // What plans nothing has no cost either, and hinders nothing.
    assert.include(revenueNeeded([cell(500, 250), cell(0, null, 0)], wanted), { needed: 400 });
  });

  it('leaves the profit once it is spread with prices kept', () => {
    const someCells = fc.array(
      fc
        .record({
          units: fc.integer({ min: 1, max: 500 }),
          price: fc.integer({ min: 50, max: 9999 }),
        })
        .chain(({ units, price }) =>
          fc
            .integer({ min: 0, max: Math.floor(price * 0.9) })
            .map((unitCost) => cell(units * price, units * unitCost, units)),
        ),
      { minLength: 1, maxLength: 20 },
    );
    fc.assert(
      fc.property(someCells, fc.nat(9_999_999), fc.nat(9_999_999), (cells, fixed, profit) => {
        const found = revenueNeeded(cells, { fixed: fixed + 1, profit });
        if (typeof found === 'string') throw new Error(found);
        const changed = typeBudget(cells, {
          ...{ measure: 'revenue', total: found.needed, basis: 'standing', keeps: 'price' },
        });
        const after = changed.length === 0 ? cells : [...changed];
        if (after.length < cells.length) return;
        assert.equal(budgetTotal(after, 'revenue'), found.needed);
        const left = found.needed - (budgetTotal(after, 'cost') ?? 0) - fixed - 1;
        // A thousandth of a unit and a cent in each cell, and the cent of the whole.
        const hair = cells.reduce(
          (sum, { cost, units }) => sum + 2 + (cost ?? 0) / units / 1000,
          2,
        );
        assert.closeTo(left, profit, hair);
      }),
    );
  });
});
