/** What cannot be computed is named with its place, all at once; the rest computes. */
import { assert } from 'chai';
import type { Assumption } from '../drivers/assumption.ts';
import { DRIVERS } from '../drivers/catalogue.ts';
import type { Driver } from '../drivers/driver.ts';
import { own } from '../testing/own-driver.ts';
import { assume, COMBINATIONS, M, smallPlan } from '../testing/small-plan.ts';
import { checkPlan } from './check-plan.ts';
import { compile, evaluate } from '../forecast/run.ts';
import type { Plan, Stream } from '../forecast/plan.ts';

const ratioOf = (code: string, formula: string | null, part: Partial<Driver> = {}): Driver =>
  own({ code, kind: 'ratio', formula, ...part });
const good = [assume('grossUnits', [], 100), assume('listPrice', [], 10)];
/** The first stream by what is tried, the others by volume x price. */
const tried = (first: Pick<Stream, 'method' | 'settings'>): Stream[] =>
  COMBINATIONS.map(({ id }, index) => ({
    id: index + 1,
    combination: id,
    ...(index === 0 ? first : { method: 'volumePrice' as const }),
  }));
const byFormula = (revenue: string): Pick<Stream, 'method' | 'settings'> => ({
  method: 'formula',
  settings: { formula: { units: null, revenue, names: [] } },
});
/** Five closed months of one combination. */
const FIVE_MONTHS: Plan['actuals'] = {
  combination: [100, 100, 100, 100, 100],
  month: ['2025-08', '2025-09', '2025-10', '2025-11', '2025-12'],
  units: [1, 2, 3, 4, 5],
  revenue: [100, 200, 300, 400, 500],
  cost: [0, 0, 0, 0, 0],
};

interface Bad {
  readonly what: string;
  readonly plan: Partial<Plan>;
  readonly assumptions?: Assumption[];
  readonly says: RegExp;
}

const CASES: readonly Bad[] = [
  {
    what: 'more inputs of a driver at one scope than anybody looks at',
    plan: {},
    assumptions: [
      ...good,
      ...Array.from({ length: 51 }, (_, at) => ({ ...assume('discount', [], 0), id: 1000 + at })),
    ],
    says: /has 50 inputs of Discount already; change one of them/,
  },
  {
    what: 'a circle of formula drivers, in order',
    plan: {
      drivers: [...DRIVERS, ratioOf('a', 'b + 1'), ratioOf('b', 'c * 2'), ratioOf('c', 'a')],
      streams: tried(byFormula('a')),
    },
    says: /circle: a → b → c → a/,
  },
  {
    what: 'a division by zero in a formula, with where',
    plan: {
      drivers: [...DRIVERS, ratioOf('a', '1 / (2 - 2)')],
      streams: tried(byFormula('a')),
    },
    says: /a has no value for web · carafe · north in 2026-01: its formula divides by zero/,
  },
  {
    what: 'units that clash',
    plan: { drivers: [...DRIVERS, ratioOf('a', 'amount + grossUnits')] },
    says: /a: money and unit cannot be added/,
  },
  {
    what: 'a lag beyond the horizon',
    plan: { drivers: [...DRIVERS, ratioOf('a', 'lag(discount, 30)')] },
    says: /a: it reads 30 months back; the plan has 24 months/,
  },
  {
    what: 'a share above 100 % by a formula, where the driver forbids it',
    plan: {
      drivers: [...DRIVERS, ratioOf('a', '0.7 * 2', { kind: 'percent', maximum: 1 })],
      streams: tried(byFormula('amount * a')),
    },
    assumptions: [...good, assume('amount', [], 5)],
    says: /a: 140 % is above the maximum of 100 %, for web · carafe · north in 2026-01/,
  },
  {
    what: 'five months of history for a seasonal baseline',
    plan: {
      actuals: FIVE_MONTHS,
      streams: tried({
        method: 'baseline',
        settings: { baseline: { of: 'revenue', kind: 'smoothAdditive', settings: {} } },
      }),
    },
    says: /Exponential smoothing, additive season needs 24 months of history; there are 5 months/,
  },
  {
    what: 'a stream with no actuals and a baseline',
    plan: { streams: tried({ method: 'baseline' }) },
    says: /Nothing was sold yet/,
  },
  {
    what: 'twelve seasonal weights that are all zero',
    plan: {},
    assumptions: [
      ...good,
      assume('grossUnits', [M.web], {
        kind: 'annual',
        totals: { '2026-01': 1200 },
        weights: new Array<number>(12).fill(0),
      }),
    ],
    says: /Seasonal weights are all zero/,
  },
  {
    what: 'a formula of 100 kB',
    plan: { streams: tried(byFormula(`${'1 + '.repeat(25_000)}1`)) },
    says: /The formula has 100001 characters/,
  },
  {
    what: 'a formula nested 5,000 deep',
    plan: { streams: tried(byFormula(`${'('.repeat(5000)}1${')'.repeat(5000)}`)) },
    says: /nested more than 100 deep/,
  },
  {
    what: 'what was under way before a funnel’s step, where it is missing',
    plan: {
      streams: tried({
        method: 'funnel',
        settings: {
          funnel: {
            sources: [{ name: 'Visits', kind: 'typed', drivers: ['grossUnits'], enters: 0 }],
            steps: [{ name: 'Trial', rate: 'discount', lag: 2, opening: [4], cost: null }],
          },
        },
      }),
    },
    says: /under way before Trial is missing: 2 months, oldest first; there are 1/,
  },
];

describe('what is wrong with a plan', () => {
  for (const { what, plan, assumptions = good, says } of CASES) {
    it(`is named: ${what}; the rest computes`, () => {
      const bad = smallPlan(assumptions, plan);
      const messages = checkPlan(bad).map(({ message }) => message);
      assert.isTrue(
        messages.some((message) => says.test(message)),
        messages.join('\n'),
      );
      const model = evaluate(compile(bad));
      const last = COMBINATIONS.length - 1;
      assert.equal(model.results.revenue[last]?.[model.open], 1000, 'another stream');
    });
  }

  it('is named all at once', () => {
    const plan = smallPlan([assume('grossUnits', [], 100)], {
      drivers: [
        ...DRIVERS,
        ratioOf('a', 'a'),
        ratioOf('b', 'amount + grossUnits'),
        ratioOf('c', '1 +'),
      ],
      streams: tried({ method: 'baseline' }),
    });
    const codes = new Set(checkPlan(plan).map(({ code }) => code));
    assert.includeMembers(
      [...codes],
      ['circle', 'unit-clash', 'formula', 'no-history', 'missing-input'],
    );
  });
});
