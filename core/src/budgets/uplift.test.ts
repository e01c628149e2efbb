import { assert } from 'chai';
import fc from 'fast-check';
import { MemberTree } from '../dimensions/member-tree.ts';
import { M, smallPlan } from '../testing/small-plan.ts';
import { budgetTotal } from './type-budget.ts';
import type { BudgetCell } from './cell.ts';
import { narrowestOf, ScopesCross } from '../dimensions/narrowest.ts';
import { copyWithUplifts } from './uplift.ts';

const { dimensions, combinations } = smallPlan([]);
const tree = new MemberTree(dimensions);
const membersOf = (id: number) => combinations.find((one) => one.id === id)?.members ?? [];
const uplift = (scope: number[], volume: number, price = 0) => ({ scope, volume, price });

describe('uplifts by scope', () => {
  const someCells = fc.array(
    fc.record({
      combination: fc.constantFrom(...combinations.map(({ id }) => id)),
      month: fc.integer({ min: 24_312, max: 24_323 }),
      units: fc.nat(999),
      revenue: fc.integer({ min: -9_999, max: 999_999 }),
      cost: fc.option(fc.nat(99_999)),
    }),
    { maxLength: 60 },
  );
  const percent = fc.integer({ min: -100, max: 300 }).map((n) => n / 100);

  it('hold by the narrowest scope, and each comes to its total to the cent', () => {
    fc.assert(
      fc.property(someCells, percent, percent, (cells, all, web) => {
        const inWeb = ({ combination }: BudgetCell) => membersOf(combination).includes(M.web);
        const copy = copyWithUplifts(
          tree,
          membersOf,
          cells,
          [uplift([], all), uplift([M.web], web, 0.1)],
          12,
        );
        assert.equal(copy.length, cells.length);
        const exact = (part: readonly BudgetCell[], factor: number) =>
          Math.round(Number((budgetTotal(part, 'revenue') ?? 0) * Number(factor.toPrecision(15))));
        const [inside, outside] = [cells.filter(inWeb), cells.filter((cell) => !inWeb(cell))];
        const totals = [copy.filter(inWeb), copy.filter((cell) => !inWeb(cell))].map(
          (part) => budgetTotal(part, 'revenue') ?? 0,
        );
        const factor = Number((1 + web).toPrecision(15)) * 1.1;
        assert.closeTo(totals[0] ?? NaN, exact(inside, factor), 1);
        assert.closeTo(totals[1] ?? NaN, exact(outside, 1 + all), 1);
      }),
    );
  });

  it('cross where neither is the narrower one, unless a third one is', () => {
    const [first] = combinations.filter(({ members }) => members.includes(M.web));
    const members = first?.members ?? [];
    const other = members.find((id) => id !== M.web) ?? 0;
    const crossing = [uplift([], 0), uplift([M.web], 0.1), uplift([other], 0.2)];
    assert.throws(() => narrowestOf(tree, members, crossing), ScopesCross);
    assert.equal(narrowestOf(tree, members, [...crossing, uplift([M.web, other], 0.3)]), 3);
    assert.equal(narrowestOf(tree, members, [uplift([other], 0.2)]), 0);
    assert.isUndefined(narrowestOf(tree, members, []));
    const twice = [uplift([M.web], 0.1), uplift([M.web], 0.2)];
    assert.throws(() => narrowestOf(tree, members, twice), ScopesCross);
  });
});
