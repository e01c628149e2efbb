import { assert } from 'chai';
import fc from 'fast-check';
import type { BudgetCell } from '../budgets/cell.ts';
import { monthFrom } from '../calendar/month.ts';
import type { Plan, Subscription } from '../forecast/plan.ts';
import { compile, evaluate } from '../forecast/run.ts';
import { DivisionError } from '../spread/divide.ts';
import { forecastFigures } from '../tables/figures.ts';
import { assume, COMBINATIONS, smallPlan } from '../testing/small-plan.ts';
import { someInputs } from '../testing/subscriptions.ts';
import { keepSubscribers } from './kept.ts';
import {
  cellsFollowing,
  movementRows,
  rowsTyped,
  subscribersTotal,
  typeSubscribers,
  withEntries,
  type MovementRow,
  type TypedSubscribers,
} from './typed.ts';

const span = { from: monthFrom('2026-01'), to: monthFrom('2027-12') };
const MINOR = 100;
const COMBINATION = COMBINATIONS[0]?.id ?? 0;

function rowsOf(plan: Plan): MovementRow[] {
  return movementRows(keepSubscribers(evaluate(compile(plan)), span));
}

/** One subscription with a churn of 5 % and a price of 20, and so many new ones in its third month. */
function planOf(third: number, set: Partial<Subscription> = {}): Plan {
  const subscription = { churn: 'constant', pricePolicy: 'current', billing: 'monthly', ...set };
  return smallPlan(
    [
      assume('newSubscribers', [], 10),
      assume('newSubscribers', [], third, { from: '2026-03', to: '2026-03' }),
      assume('churnRate', [], 0.05),
      assume('listPrice', [], 20),
    ],
    {
      streams: [
        {
          id: 1,
          combination: COMBINATION,
          method: 'subscription',
          settings: { subscription: subscription as Subscription },
        },
      ],
    },
  );
}

/** What a plan sells, as cells. */
function cellsOf(plan: Plan): (combination: number, month: number) => BudgetCell {
  const { measures, combinations, first, count } = forecastFigures(evaluate(compile(plan)));
  const place = combinations.findIndex(({ id }) => id === COMBINATION);
  return (combination, month) => {
    const at = place * count + month - first;
    const [units = 0, revenue = 0] = [measures.units[at], measures.revenue[at]];
    return {
      ...{ combination, month, cost: null },
      units: Math.round(units * 1000) / 1000,
      revenue: Math.round(revenue * MINOR),
    };
  };
}

function typed(rows: readonly MovementRow[], over: Partial<TypedSubscribers>): MovementRow[] {
  const asked = { measure: 'newSubscribers', total: 0, basis: 'standing', ...over } as const;
  const under = rowsTyped(rows, asked.measure, { from: '2026-03', to: '2026-03' });
  return withEntries(rows, typeSubscribers(under, asked, MINOR));
}

describe('what is typed into the subscriptions of a version', () => {
  const close = (one: readonly MovementRow[], other: readonly MovementRow[]): void => {
    assert.equal(one.length, other.length);
    one.forEach((row, at) => {
      for (const [code, value] of Object.entries(row)) {
        const wanted = other[at]?.[code as keyof MovementRow];
        if (typeof value === 'string') assert.equal(value, wanted);
        else assert.closeTo(value, Number(wanted), 1e-9, `${code} of ${row.month}`);
      }
    });
  };

  it('moves on as the forecast would with so many new subscribers', () => {
    close(typed(rowsOf(planOf(10)), { total: 25 }), rowsOf(planOf(25)));
  });

  it('brings units and revenue along, of subscribers a month and of terms that are billed', () => {
    for (const set of [{}, { billing: 'yearly', counts: 'billed' } as const]) {
      const [before, wanted] = [cellsOf(planOf(10, set)), cellsOf(planOf(25, set))];
      const rows = rowsOf(planOf(10, set));
      const term = 'billing' in set ? 12 : 1;
      const followed = cellsFollowing(rows, typed(rows, { total: 25 }), before, () => term, MINOR);
      assert.isNotEmpty(followed);
      for (const cell of followed) {
        const { units, revenue } = wanted(cell.combination, cell.month);
        assert.closeTo(cell.units, units, 0.0021, `units of ${cell.month}`);
        assert.closeTo(cell.revenue, revenue, 60, `revenue of ${cell.month}`);
      }
    }
  });

  it('comes to what was typed, balances in every month, and is gone when it is taken back', () => {
    const amount = fc.integer({ min: 0, max: 10_000_000 });
    fc.assert(
      fc.property(
        someInputs,
        fc.constantFrom('newSubscribers', 'recurringRevenue'),
        amount,
        fc.constantFrom('standing', 'equal'),
        (plan, measure, total, basis) => {
          const rows = rowsOf(plan);
          const under = rowsTyped(rows, measure, { from: '2026-02', to: '2026-06' });
          fc.pre(under.length > 0);
          const entries = typeSubscribers(under, { measure, total, basis }, MINOR);
          const now = withEntries(rows, entries);
          const after = rowsTyped(now, measure, { from: '2026-02', to: '2026-06' });
          assert.equal(subscribersTotal(after, measure, MINOR), total);
          for (const row of now) {
            const there =
              row.opening + row.starters - row.lost + row.changedIn - row.changedOut - row.active;
            const paid =
              row.revenueOpening +
              row.entered +
              row.priceChange +
              row.expansion -
              row.contraction -
              row.revenueLost +
              row.revenueIn -
              row.revenueOut -
              row.recurring;
            assert.closeTo(there, 0, 1e-6 * Math.max(1, row.active), row.month);
            assert.closeTo(paid, 0, 1e-6 * Math.max(1, row.recurring), row.month);
          }
          const back = entries.map((one) => ({
            ...one,
            starters: -one.starters,
            price: -one.price,
          }));
          close(withEntries(rows, [...entries, ...back]), rows);
        },
      ),
      { numRuns: 60 },
    );
  });

  it('moves the price, or who is new, when recurring revenue is typed', () => {
    const rows = rowsOf(planOf(10));
    const third = rowsTyped(rows, 'recurringRevenue', { from: '2026-01', to: '2026-03' })[0];
    const total = Math.round((third?.recurring ?? 0) * MINOR) + 10_000;
    const asked = { measure: 'recurringRevenue', total } as const;
    const [dearer] = typed(rows, asked).filter(({ month }) => month === '2026-03');
    assert.closeTo(dearer?.priceChange ?? NaN, 100, 0.01);
    assert.equal(dearer?.starters, 10);
    const [more] = typed(rows, { ...asked, keeps: 'price' }).filter(
      ({ month }) => month === '2026-03',
    );
    assert.closeTo(more?.starters ?? NaN, 15, 0.001);
    assert.closeTo(more?.priceChange ?? NaN, 0, 1e-9);
  });

  it('refuses fewer than nobody', () => {
    const rows = rowsOf(planOf(10));
    assert.throws(() => typed(rows, { total: -1 }), DivisionError, /cannot be negative/);
    const little = { measure: 'recurringRevenue', total: 1, keeps: 'price' } as const;
    assert.throws(() => typed(rows, little), DivisionError, /would have to be negative/);
  });
});
