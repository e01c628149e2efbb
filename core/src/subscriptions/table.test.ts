import { assert } from 'chai';
import { modelProblems } from '../checking/check-plan.ts';
import fc from 'fast-check';
import { monthFrom } from '../calendar/month.ts';
import type { Plan } from '../forecast/plan.ts';
import { compile, evaluate } from '../forecast/run.ts';
import { someInputs } from '../testing/subscriptions.ts';
import { assume, COMBINATIONS, smallPlan } from '../testing/small-plan.ts';
import { explainResult } from '../trace/explain-stream.ts';
import { plateauOf } from './survival.ts';
import { subscriptionTable, type SubscriptionLine, type SubscriptionLineCode } from './table.ts';

const span = { from: monthFrom('2026-01'), to: monthFrom('2026-12') };
const find = (lines: readonly SubscriptionLine[], code: SubscriptionLineCode): SubscriptionLine => {
  const line = lines.find((one) => one.code === code);
  if (!line) throw new Error(`There is no line ${code}`);
  return line;
};

describe('the subscriptions of a scope', () => {
  it('balance in every month, quarter and year, whatever their kinds, and agree with the results', () => {
    fc.assert(
      fc.property(someInputs, (plan) => {
        const model = evaluate(compile(plan));
        for (const grain of ['month', 'quarter', 'year'] as const) {
          const { lines, periods, cohorts } = subscriptionTable(model, [], span, grain);
          const value = (code: SubscriptionLineCode, place: number): number =>
            find(lines, code).values[place] ?? Number.NaN;
          periods.forEach((period, at) => {
            const near = (one: number, other: number, what: string): void =>
              assert.isAtMost(Math.abs(one - other), 1e-6 * Math.max(1, Math.abs(one)), what);
            const net = (code: SubscriptionLineCode): number =>
              lines.find((line) => line.code === code)?.values[at] ?? 0;
            const active = value('opening', at) + value('starters', at) - value('lost', at);
            near(
              active + net('changedIn') - net('changedOut'),
              value('active', at),
              `subscribers, ${period.key}`,
            );
            const moved =
              value('revenueOpening', at) +
              value('new', at) +
              value('priceChange', at) +
              value('expansion', at) -
              value('contraction', at) -
              value('revenueLost', at);
            near(
              moved + net('revenueChangedIn') - net('revenueChangedOut'),
              value('revenueClosing', at),
              `revenue, ${period.key}`,
            );
            const t = period.to - model.first;
            // Terms that are billed are counted in their month, subscribers at its end.
            const terms = plan.streams.some(({ settings }) => settings?.subscription?.counts);
            const units = model.results.units.reduce((sum, of) => sum + (of[t] ?? NaN), 0);
            if (!terms) near(units, value('active', at), `units, ${period.key}`);
            const months = period.to - span.from;
            const left = cohorts.reduce((sum, one) => sum + (one.active[months] ?? 0), 0);
            // Customers who leave whole have no cohorts.
            const whole = (result: 'units' | 'revenue'): number =>
              plan.streams.reduce(
                (sum, { settings }, place) =>
                  settings?.subscription?.churn === 'whole'
                    ? sum + (model.results[result][place]?.[t] ?? NaN)
                    : sum,
                0,
              );
            near(left + whole('units'), value('active', at), `cohorts, ${period.key}`);
            const paid = cohorts.reduce((sum, one) => sum + (one.revenue[months] ?? 0), 0);
            near(
              paid + whole('revenue'),
              value('revenueClosing', at),
              `revenue of cohorts, ${period.key}`,
            );
            const before = at === 0 ? undefined : value('active', at - 1);
            if (before !== undefined) near(before, value('opening', at), `opens, ${period.key}`);
          });
        }
      }),
      { numRuns: 40 },
    );
  });

  it('feed each other: who changes over at an age is lost to one and begins in the other', () => {
    const [a, b] = COMBINATIONS;
    const feeding = (change: Partial<Record<'a' | 'b', number>>) =>
      smallPlan(
        [
          assume('newSubscribers', a?.members ?? [], 50),
          assume('newSubscribers', b?.members ?? [], 20),
          assume('churnRate', [], 0.1),
          assume('listPrice', a?.members ?? [], 10),
          assume('listPrice', b?.members ?? [], 8),
        ],
        {
          streams: [a, b].map((one, place) => {
            const to = [b, a][place]?.id ?? 0;
            const share = place === 0 ? change.a : change.b;
            return {
              id: place + 1,
              combination: one?.id ?? 0,
              method: 'subscription' as const,
              settings: share ? { changesOver: { combination: to, age: 2, share } } : {},
            };
          }),
        },
      );
    for (const change of [{ a: 0.5 }, { a: 0.5, b: 0.25 }]) {
      const model = evaluate(compile(feeding(change)));
      // The same, month by month: how many there are of each age.
      const ages: number[][] = [[], []];
      const share = [change.a, 'b' in change ? change.b : 0];
      for (let t = 0; t < 12; t += 1) {
        const gone = ages.map((list, one) => (list[1] ?? 0) * 0.9 * (share[one] ?? 0));
        const next = ages.map((list, one) =>
          list.map((count, age) => count * 0.9 - (age === 1 ? (gone[one] ?? 0) : 0)),
        );
        ages[0] = [50 + (gone[1] ?? 0), ...(next[0] ?? [])];
        ages[1] = [20 + (gone[0] ?? 0), ...(next[1] ?? [])];
        for (const [one, list] of ages.entries()) {
          const there = list.reduce((sum, count) => sum + count, 0);
          assert.closeTo(model.results.units[one]?.[model.open + t] ?? NaN, there, 1e-9, `${t}`);
          const price = one === 0 ? 10 : 8;
          const revenue = model.results.revenue[one]?.[model.open + t] ?? NaN;
          assert.closeTo(revenue, there * price, 1e-9, `${t}`);
        }
      }
      const { lines, leadsTo } = subscriptionTable(model, [], span, 'year');
      const [into, out] = (['changedIn', 'changedOut'] as const).map((code) => find(lines, code));
      assert.closeTo(into?.total ?? NaN, out?.total ?? NaN, 1e-9, 'of both, nobody left');
      assert.isAbove(into?.total ?? NaN, 100);
      assert.equal(leadsTo?.gain, 70, 'who changes over is no gain of both');
    }
    const alone = subscriptionTable(
      evaluate(compile(feeding({ a: 0.5 }))),
      b?.members ?? [],
      span,
      'month',
    );
    // Of the second plan alone: 20, and half of the 50 who are left after two months.
    assert.closeTo(alone.leadsTo?.gain ?? NaN, 20 + 50 * 0.81 * 0.5, 1e-9);
    assert.closeTo(alone.leadsTo?.plateau ?? NaN, (20 + 50 * 0.81 * 0.5) / 0.1, 1e-9);
    const first = alone.lines.find(({ code }) => code === 'changedIn')?.values;
    assert.deepEqual(first?.slice(0, 2), [0, 0]);
    const nowhere = feeding({ a: 0.5 });
    const [one] = nowhere.streams;
    const problems = modelProblems(
      evaluate(compile({ ...nowhere, streams: one ? [one] : [] })),
    ).map(({ message }) => message);
    assert.match(problems.join(), /change over to is not there/);
  });

  it('lose whole customers in every n-th month, counted from a named one, and no cohorts', () => {
    const [a] = COMBINATIONS;
    const plan = smallPlan(
      [assume('newSubscribers', [], 0), assume('churnRate', [], 0.3), assume('listPrice', [], 10)],
      {
        streams: [
          {
            id: 1,
            combination: a?.id ?? 0,
            method: 'subscription',
            settings: {
              subscription: {
                ...{ churn: 'whole', term: 3, countedFrom: '2025-12', opening: [10] },
                ...{ pricePolicy: 'current', billing: 'monthly' },
              },
            },
          },
        ],
      },
    );
    const { lines, cohorts } = subscriptionTable(evaluate(compile(plan)), [], span, 'month');
    // December is the first month, February the third: floor(0.3 x 10), then floor(0.3 x 7).
    assert.deepEqual(find(lines, 'lost').values.slice(0, 6), [0, 3, 0, 0, 2, 0]);
    assert.deepEqual(find(lines, 'revenueClosing').values.slice(0, 3), [100, 70, 70]);
    assert.isEmpty(cohorts);
    const [stream] = plan.streams;
    const wrong = {
      ...stream,
      settings: {
        subscription: {
          ...({ churn: 'whole', pricePolicy: 'keptFromStart', billing: 'yearly' } as const),
        },
      },
    } as typeof stream;
    const told = modelProblems(evaluate(compile({ ...plan, streams: wrong ? [wrong] : [] })));
    assert.lengthOf(
      told.filter(({ message }) => message.includes('leave whole')),
      2,
    );
  });

  const [first] = COMBINATIONS;
  /** Sales of the year before the first open month: ten terms in January, twenty in each other month. */
  const billedBefore = (combination: number): Plan['actuals'] => {
    const months = Array.from({ length: 12 }, (_, at) => `2025-${String(at + 1).padStart(2, '0')}`);
    const units = months.map((_, at) => (at === 0 ? 10 : 20));
    return {
      combination: months.map(() => combination),
      month: months,
      units,
      revenue: units.map((count) => count * 100 * 100),
      cost: units.map(() => 0),
    };
  };
  /** A subscription that nobody has yet: visits that are paid for, and sellers. */
  const fed = (): Plan =>
    smallPlan(
      [
        assume('churnRate', [], 0.04),
        assume('listPrice', [], 9),
        assume('amount', [], 100),
        assume('unitCost', [], 0),
        assume('grossUnits', [], 3),
        assume('marketSize', [], 2),
        assume('attachRate', [], 0.5),
        assume('marketShare', [], 0.2),
        assume('newSubscribers', [], 3),
      ],
      {
        streams: [
          {
            id: 1,
            combination: first?.id ?? 0,
            method: 'subscription',
            settings: {
              subscription: { churn: 'constant', pricePolicy: 'current', billing: 'monthly' },
              funnel: {
                sources: [
                  {
                    ...{ name: 'Paid visits', kind: 'paid', enters: 0 },
                    drivers: ['amount', 'marketSize'],
                    steps: [
                      { name: 'Trial', rate: 'attachRate', lag: 1, opening: [20], cost: null },
                    ],
                  },
                  {
                    ...{ name: 'Sellers', kind: 'times', enters: 1 },
                    drivers: ['grossUnits', 'marketSize'],
                  },
                ],
                steps: [
                  {
                    ...{ name: 'Stays', rate: 'marketShare', lag: 0, opening: [] },
                    cost: 'newSubscribers',
                  },
                ],
              },
            },
          },
        ],
      },
    );
  const one = (more: object = {}) =>
    smallPlan(
      [assume('newSubscribers', [], 40), assume('churnRate', [], 0.04), assume('listPrice', [], 9)],
      {
        streams: [
          {
            id: 1,
            combination: first?.id ?? 0,
            method: 'subscription',
            settings: {
              subscription: {
                churn: 'constant',
                pricePolicy: 'current',
                billing: 'monthly',
                opening: [100],
                ...more,
              },
            },
          },
        ],
      },
    );

  it('say where new subscribers and churn lead', () => {
    const { leadsTo } = subscriptionTable(evaluate(compile(one())), [], span, 'month');
    assert.deepInclude(leadsTo, { gain: 40, churn: 0.04 });
    assert.closeTo(leadsTo?.plateau ?? NaN, 1000, 1e-9);
    // From nothing, the first month is the one that the formula says.
    const nothing = subscriptionTable(
      evaluate(compile(one({ opening: [0] }))),
      [],
      span,
      'month',
    ).leadsTo;
    const { monthsToFraction } = plateauOf(40, { kind: 'constant', rate: 0.04 });
    assert.equal(monthsToFraction, 57);
    assert.deepEqual(nothing?.near, { month: span.from + 57 - 1, from: 'below' });
    const near = (opening: number) =>
      subscriptionTable(evaluate(compile(one({ opening: [opening] }))), [], span, 'month').leadsTo
        ?.near;
    assert.deepEqual(near(950), { month: span.from, from: 'there' });
    // 5,000 come down to 1,100: 4,000 of them more than there will be, of whom 0.96 stay each month.
    const months = Math.ceil(Math.log(100 / 4000) / Math.log(0.96));
    assert.deepEqual(near(5000), { month: span.from + months - 1, from: 'above' });
  });

  it('explain subscribers by those before, the new and the lost', () => {
    const model = evaluate(compile(one()));
    const node = explainResult(model, 0, 'units', model.open);
    assert.deepEqual(
      node.parts.map(({ label, value }) => [label, value]),
      [
        ['Subscribers before', 100],
        ['New subscribers', 40],
        ['Less lost', -4],
      ],
    );
    assert.equal(model.results.revenue[0]?.[model.open], 136 * 9);
    // By age, those who leave are told cohort by cohort: how many were there, and which part goes.
    const aged = evaluate(
      compile(one({ churn: 'byAge', rates: [0.5, 0.1], opening: [20, 0, 10] })),
    );
    const [, , less] = explainResult(aged, 0, 'units', aged.open + 1).parts;
    const [lost] = less?.parts ?? [];
    assert.deepEqual(
      lost?.parts.map(({ label, value, parts }) => [
        label,
        value,
        ...parts.map((part) => part.value),
      ]),
      [
        ['Started in October 2025', 9 * 0.1, 9, 0.1],
        ['Started in December 2025', 1, 10, 0.1],
        ['Started in January 2026', 20, 40, 0.5],
      ],
    );
    assert.equal(lost?.parts[2]?.parts[1]?.label, 'Leave at age 1');
  });

  it('earn what was billed ahead in twelfths, those of before counted', () => {
    // The list price is that of a year: 9.
    const plan = one({ billing: 'yearly', churn: 'atRenewal', opening: [12, 0, 0, 0, 0, 0, 6] });
    const model = evaluate(compile(plan));
    const { lines } = subscriptionTable(model, [], span, 'month');
    const billed = find(lines, 'billed').values;
    assert.closeTo(billed[0] ?? NaN, 40 * 9, 1e-9);
    // Six began six months before the first month's end: they renew in the sixth.
    assert.closeTo(billed[5] ?? NaN, (40 + 6 * 0.96) * 9, 1e-9);
    assert.closeTo(find(lines, 'earned').values[0] ?? NaN, ((40 + 18) * 9) / 12, 1e-9);
  });

  it('count terms as sales lines have them, with renewals of what was billed a year before', () => {
    const plan = one({
      billing: 'yearly',
      churn: 'atRenewal',
      counts: 'billed',
      opening: undefined,
    });
    const sold = { ...plan, actuals: billedBefore(first?.id ?? 0) };
    const model = evaluate(compile(sold));
    const [units, revenue] = [model.results.units[0] ?? [], model.results.revenue[0] ?? []];
    // Ten terms began in January a year before, twenty in February: 96 % of them go on.
    assert.closeTo(units[model.open] ?? NaN, 40 + 10 * 0.96, 1e-9);
    assert.closeTo(units[model.open + 1] ?? NaN, 40 + 20 * 0.96, 1e-9);
    assert.closeTo(revenue[model.open] ?? NaN, (40 + 9.6) * 9, 1e-9);
    const { lines } = subscriptionTable(model, [], span, 'month');
    const [earned, deferred] = [find(lines, 'earned').values, find(lines, 'deferred').values];
    const billed = find(lines, 'billed').values;
    // Of the year before, January's is earned; a twelfth of each other month's, and of the new ones.
    const twelfth = (20 * 100) / 12;
    assert.closeTo(earned[0] ?? NaN, 11 * twelfth + ((40 + 9.6) * 9) / 12, 1e-9);
    // Still to be earned: eleven twelfths of December's, down to one of February's.
    const opening = 66 * twelfth;
    assert.closeTo(deferred[0] ?? NaN, opening + (billed[0] ?? NaN) - (earned[0] ?? NaN), 1e-9);
    const node = explainResult(model, 0, 'units', model.open);
    assert.deepEqual(
      node.parts.map(({ label }) => label),
      ['New subscribers', 'Renewals'],
    );
  });

  it('are won by sources side by side, each with its steps, its revenue and its cost', () => {
    const model = evaluate(compile(fed()));
    const { sources, lines, worth } = subscriptionTable(model, [], span, 'month');
    const of = (name: string) => sources.find((source) => source.name === name);
    // 100 for 2 each are 50 visits; 20 were under way, half of whom try; a fifth of those stay.
    assert.closeTo(of('Paid visits')?.starters.values[0] ?? NaN, 20 * 0.5 * 0.2, 1e-9);
    assert.closeTo(of('Paid visits')?.starters.values[1] ?? NaN, 50 * 0.5 * 0.2, 1e-9);
    assert.closeTo(of('Sellers')?.starters.values[0] ?? NaN, 3 * 2, 1e-9);
    // The spend, and three for each who passes the step that costs.
    assert.closeTo(of('Paid visits')?.cost.values[1] ?? NaN, 100 + 5 * 3, 1e-9);
    assert.closeTo(of('Paid visits')?.costOfOne.values[1] ?? NaN, 115 / 5, 1e-9);
    assert.isNull(of('Sellers')?.costOfOne.total);
    const all = (code: SubscriptionLineCode): number => find(lines, code).total ?? NaN;
    const won = sources.reduce((sum, { starters }) => sum + (starters.total ?? NaN), 0);
    assert.closeTo(won, all('starters'), 1e-9);
    // Nobody was there before: all revenue comes from a source.
    const last = sources.reduce((sum, { revenue }) => sum + (revenue.values.at(-1) ?? NaN), 0);
    assert.closeTo(last, find(lines, 'revenueClosing').total ?? NaN, 1e-6);
    assert.closeTo(worth?.lifetimeValue ?? NaN, 9 * 25, 1e-6);
    assert.closeTo(worth?.monthsToPayBack ?? NaN, (worth?.acquisitionCost ?? NaN) / 9, 1e-9);
    const node = explainResult(model, 0, 'units', model.open + 1);
    assert.include(JSON.stringify(node), 'Paid visits, Trial');
  });

  it('lose and keep parts of what was there at the start of a period', () => {
    const { rates } = subscriptionTable(evaluate(compile(one())), [], span, 'year');
    const rate = (code: string): number | null | undefined =>
      rates.find((one) => one.code === code)?.total;
    const { lines } = subscriptionTable(evaluate(compile(one())), [], span, 'year');
    assert.closeTo(rate('logoChurn') ?? NaN, (find(lines, 'lost').total ?? NaN) / 100, 1e-9);
    const [opening, lost] = [find(lines, 'revenueOpening').total, find(lines, 'revenueLost').total];
    assert.closeTo(rate('netRetention') ?? NaN, 1 - (lost ?? NaN) / (opening ?? NaN), 1e-9);
  });

  it('cannot be computed by a curve that is none, and say so', () => {
    const model = evaluate(compile(one({ churn: 'byAge', rates: [1.5] })));
    assert.isNaN(model.results.units[0]?.[model.open]);
    assert.include(model.streams[0]?.mistakes[0], 'outside 0 to 100 %');
  });
});
