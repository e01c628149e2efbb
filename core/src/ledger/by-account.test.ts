import { assert } from 'chai';
import fc from 'fast-check';
import { monthFrom } from '../calendar/month.ts';
import { MemberTree } from '../dimensions/member-tree.ts';
import { COMBINATIONS, M, smallPlan } from '../testing/small-plan.ts';
import { budgetByAccount, reconcile } from './by-account.ts';

const { dimensions } = smallPlan([]);
const tree = new MemberTree(dimensions);
const membersOf = (id: number) => COMBINATIONS.find((one) => one.id === id)?.members ?? [];
const span = { from: monthFrom('2026-01'), to: monthFrom('2026-03') };

describe('a budget by account', () => {
  it('adds up to the budget to the cent, whatever accounts there are', () => {
    const someCells = fc.array(
      fc.record({
        combination: fc.constantFrom(...COMBINATIONS.map(({ id }) => id)),
        month: fc.integer({ min: span.from - 1, max: span.to + 1 }),
        units: fc.nat(9),
        revenue: fc.integer({ min: -9_999, max: 999_999 }),
        cost: fc.constant(null),
      }),
      { maxLength: 40 },
    );
    const someAccounts = fc.array(
      fc.record({
        scope: fc.subarray([M.web, M.stores, M.hardware, M.tap, M.north, M.coast]),
        account: fc.constantFrom('4000', '4010', '4900'),
      }),
      { maxLength: 4 },
    );
    fc.assert(
      fc.property(someCells, someAccounts, (cells, accounts) => {
        const found = budgetByAccount(tree, membersOf, cells, accounts, span);
        const all = [...found.accounts.map(({ months }) => months), found.without, found.unclear];
        for (let month = span.from; month <= span.to; month += 1) {
          const sum = all.reduce((total, months) => total + (months[month - span.from] ?? 0), 0);
          const planned = cells.reduce(
            (total, cell) => (cell.month === month ? total + cell.revenue : total),
            0,
          );
          assert.equal(sum, planned);
        }
      }),
    );
  });

  it('goes by the narrowest scope, and names what no account and what two accounts hold', () => {
    const [web] = COMBINATIONS.filter(({ members }) => members.includes(M.web));
    const [stores] = COMBINATIONS.filter(({ members }) => members.includes(M.stores));
    const cell = (combination: number, revenue: number) => ({
      ...{ combination, month: span.from, units: 1, revenue, cost: null },
    });
    const cells = [cell(web?.id ?? 0, 700), cell(stores?.id ?? 0, 300)];
    const accounts = (...list: [number[], string][]) =>
      budgetByAccount(
        ...([tree, membersOf, cells] as const),
        list.map(([scope, account]) => ({ scope, account })),
        span,
      );
    assert.deepEqual(
      accounts([[], '4000'], [[M.web], '4010']).accounts.map(({ account, months }) => [
        account,
        months[0],
      ]),
      [
        ['4000', 300],
        ['4010', 700],
      ],
    );
    assert.deepEqual(accounts([[M.web], '4010']).withoutLines, [stores?.id ?? 0]);
    const product = web?.members.find((id) => id !== M.web) ?? 0;
    const crossing = accounts([[M.web], '4010'], [[product], '4020']);
    assert.include(crossing.unclearLines, web?.id ?? 0);
  });

  it('is held against the books over the months that they have', () => {
    const found = reconcile(
      [
        { account: '4000', months: [100, 100, 100] },
        { account: '4010', months: [50, 50, 50] },
      ],
      [
        { account: '4000', months: [90, 120, 0] },
        { account: '4900', months: [5, 0, 0] },
      ],
      [true, true, false],
    );
    assert.deepEqual(
      found.map(({ account, difference, state, books }) => [account, difference, state, books]),
      [
        ['4000', 10, 'both', [90, 120, null]],
        ['4010', -100, 'budgetOnly', [0, 0, null]],
        ['4900', 5, 'booksOnly', [5, 0, null]],
      ],
    );
  });
});
