import { assert } from 'chai';
import fc from 'fast-check';
import { DivisionError } from '../spread/divide.ts';
import type { BudgetCell } from './cell.ts';
import { budgetTotal, typeBudget, type TypedBudget } from './type-budget.ts';
import { copyWithUplift } from './uplift.ts';

function cell(units: number, revenue: number, cost: number | null = null, id = 1): BudgetCell {
  return { combination: id, month: 24300, units, revenue, cost };
}

function type(cells: BudgetCell[], typed: Partial<TypedBudget>): BudgetCell[] {
  return typeBudget(cells, { measure: 'revenue', total: 0, basis: 'standing', ...typed });
}

describe('typeBudget', () => {
  it('brings revenue and cost along when units are typed, at the cell’s price and unit cost', () => {
    const [typed] = type([cell(10, 1000, 400)], { measure: 'units', total: 25 });
    assert.deepInclude(typed, { units: 25, revenue: 2500, cost: 1000 });
  });

  it('moves the price when revenue is typed, or the units where the price is kept', () => {
    const before = [cell(10, 1000, 400)];
    assert.deepInclude(type(before, { total: 1500 })[0], { units: 10, revenue: 1500, cost: 400 });
    assert.deepInclude(type(before, { total: 1500, keeps: 'price' })[0], {
      units: 15,
      revenue: 1500,
      cost: 600,
    });
  });

  it('moves revenue when a price is typed, and refuses a price without units', () => {
    const [typed] = type([cell(3, 900)], { measure: 'averagePrice', total: 333.5 });
    assert.deepInclude(typed, { units: 3, revenue: 1001 });
    assert.throws(() => type([cell(0, 0)], { measure: 'averagePrice', total: 5 }), DivisionError);
  });

  it('leaves units and revenue alone when cost is typed', () => {
    const [typed] = type([cell(3, 900, null)], { measure: 'cost', total: 500 });
    assert.deepInclude(typed, { units: 3, revenue: 900, cost: 500 });
  });

  it('spreads equally and by weights on request', () => {
    const cells = [cell(1, 100, null, 1), cell(1, 700, null, 2), cell(1, 0, null, 3)];
    const revenues = (typed: BudgetCell[]): number[] => typed.map(({ revenue }) => revenue);
    assert.deepEqual(revenues(type(cells, { total: 1000, basis: 'equal' })), [334, 333, 333]);
    const byWeights = { total: 1000, basis: 'lastYear', weights: [0, 1, 3] } as const;
    assert.deepEqual(revenues(type(cells, byWeights)), [0, 250, 750]);
    const nothing = { total: 1000, basis: 'forecast', weights: [0, 0, 0] } as const;
    assert.throws(() => type(cells, nothing), /zero/);
  });

  it('adds up to what was typed, to the last cent and unit, whatever stands there', () => {
    const any = fc.record({
      units: fc.integer({ min: -50, max: 5000 }),
      revenue: fc.integer({ min: -1e6, max: 1e8 }),
      cost: fc.option(fc.integer({ min: 0, max: 1e7 })),
    });
    fc.assert(
      fc.property(
        fc.array(any, { minLength: 1, maxLength: 30 }),
        fc.constantFrom('units', 'revenue', 'cost'),
        fc.integer({ min: -1e6, max: 1e9 }),
        fc.constantFrom('standing', 'equal'),
        (list, measure, total, basis) => {
          const cells = list.map((c, id) => cell(c.units, c.revenue, c.cost, id));
          const changed = new Map(
            type(cells, { measure, total, basis }).map((c) => [c.combination, c]),
          );
          const after = cells.map((c) => changed.get(c.combination) ?? c);
          assert.equal(budgetTotal(after, measure), total);
        },
      ),
    );
  });
});

describe('copyWithUplift', () => {
  it('multiplies every cell and is exact in total', () => {
    const cells = [cell(10, 1001, 333), cell(10, 1001, null), cell(10, 1001, 333)];
    const copy = copyWithUplift(cells, { volume: 0.04, price: 0 }, 12);
    assert.equal(budgetTotal(copy, 'revenue'), Math.round(3003 * 1.04));
    assert.equal(budgetTotal(copy, 'units'), 31);
    assert.equal(budgetTotal(copy, 'cost'), Math.round(666 * 1.04));
    assert.isTrue(copy.every(({ month }) => month === 24312));
    assert.isNull(copy[1]?.cost);
    // Higher prices bring revenue only, and come on top of more volume; 25 months on is as good as 12.
    const dearer = copyWithUplift(cells, { volume: 0.1, price: 0.05 }, 25);
    assert.equal(budgetTotal(dearer, 'revenue'), Math.round(3003 * 1.1 * 1.05));
    assert.equal(budgetTotal(dearer, 'units'), 33);
    assert.equal(budgetTotal(dearer, 'cost'), Math.round(666 * 1.1));
    assert.equal(dearer[0]?.month, 24325);
  });
});
