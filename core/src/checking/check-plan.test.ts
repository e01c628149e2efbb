import { assert } from 'chai';
import { assume, COMBINATIONS, M, smallPlan } from '../testing/small-plan.ts';
import { checkPlan } from './check-plan.ts';
import { proposeStreams } from '../forecast/propose.ts';

const good = [assume('grossUnits', [], 100), assume('listPrice', [], 10)];

describe('checkPlan', () => {
  it('finds nothing in a good plan', () => {
    assert.deepEqual(checkPlan(smallPlan(good)), []);
  });

  it('reports every mistake of a plan with its place', () => {
    const [first] = COMBINATIONS;
    const plan = smallPlan(
      [...good, assume('discount', [], 20), assume('discount', [999], 0.1), assume('luck', [], 1)],
      {
        combinations: [
          ...COMBINATIONS,
          { id: 300, members: [M.web, M.hardware, M.north] },
          { id: 301, members: [M.web] },
          { id: 302, members: first?.members ?? [] },
        ],
        streams: [
          { id: 1, combination: 100, method: 'volumePrice' },
          { id: 2, combination: 100, method: 'volumePrice' },
          { id: 3, combination: 4711, method: 'volumePrice' },
        ],
        actuals: { combination: [5], month: ['2025-01'], units: [1], revenue: [1], cost: [1] },
      },
    );
    const codes = checkPlan(plan).map(({ code }) => code);
    assert.sameMembers(codes, [
      'not-a-leaf',
      'wrong-members',
      'repeated-combination',
      'overlap',
      'unknown-combination',
      'unknown-combination',
      'value-refused',
      'unknown-member',
      'unknown-driver',
    ]);
  });

  it('names missing inputs, unreadable calendars and broken trees', () => {
    const [missing] = checkPlan(smallPlan([]));
    assert.equal(missing?.code, 'missing-input');
    const { calendar, dimensions } = smallPlan([]);
    assert.equal(
      checkPlan(smallPlan([], { calendar: { ...calendar, last: 'May' } }))[0]?.code,
      'not-a-month',
    );
    const [channel, ...rest] = dimensions;
    const circle = { id: 1, code: 'web', name: 'web', parent: 1 };
    const broken = { ...channel, code: 'channel', name: 'Channel', members: [circle] };
    assert.equal(
      checkPlan(smallPlan([], { dimensions: [broken, ...rest] }))[0]?.code,
      'broken-tree',
    );
  });
});

describe('proposeStreams', () => {
  it('starts from the same month a year before and the average price, for what was sold lately', () => {
    const plan = smallPlan([], {
      streams: [{ id: 1, combination: 107, method: 'volumePrice' }],
      actuals: {
        combination: [100, 100, 101, 107],
        month: ['2025-03', '2025-06', '2024-06', '2025-06'],
        units: [10, 30, 5, 5],
        revenue: [10_000, 20_000, 5000, 5000],
        cost: [0, 0, 0, 0],
      },
    });
    const proposed = proposeStreams(plan);
    assert.deepEqual(
      proposed.map(({ combination }) => combination),
      [100],
    );
    const [units, price] = proposed[0]?.assumptions ?? [];
    assert.deepInclude(units, { driver: 'grossUnits' });
    const values = units?.profile.kind === 'months' ? units.profile.values : {};
    assert.equal(Object.keys(values).length, 12);
    assert.equal(values['2026-03'], 10);
    assert.equal(values['2026-06'], 30);
    assert.equal(values['2026-07'], 0);
    assert.deepEqual(price?.profile, { kind: 'value', value: 7.5 });
    assert.deepEqual(checkPlan({ ...plan, streams: [], assumptions: [] }), []);
  });

  it('goes by amount where no units are known, and marks what seems to have ended', () => {
    // Closed through December 2025: 100 by amount, 101 ended in spring, 102 sells in summer only.
    const whole = smallPlan([], {
      streams: [],
      actuals: {
        combination: [100, 101, 101, 102, 102],
        month: ['2025-11', '2025-03', '2024-11', '2025-05', '2024-05'],
        units: [0, 10, 10, 10, 10],
        revenue: [900, 1000, 1000, 1000, 1000],
        cost: [0, 0, 0, 0, 0],
      },
    });
    const plan = { ...whole, calendar: { ...whole.calendar, first: '2024-01' } };
    const proposed = proposeStreams(plan);
    assert.deepEqual(
      proposed.map(({ combination, method, discontinued }) => [combination, method, discontinued]),
      [
        [100, 'amount', false],
        [101, 'volumePrice', true],
        [102, 'volumePrice', false],
      ],
    );
    assert.deepEqual(
      proposed[0]?.assumptions.map(({ driver }) => driver),
      ['amount'],
    );
  });

  it('takes up the inputs that a deleted line left', () => {
    const bare = smallPlan([], {
      streams: [],
      actuals: {
        combination: [100],
        month: ['2025-06'],
        units: [10],
        revenue: [1000],
        cost: [0],
      },
    });
    const [first] = proposeStreams(bare);
    const [units, price] = first?.assumptions ?? [];
    if (!units || !price) throw new Error('A start has units and a price');
    const left = { ...bare, assumptions: [{ ...units, id: 1 }] };
    assert.deepEqual(proposeStreams(left)[0]?.assumptions, [price]);
    const ends = { ...bare, assumptions: [{ ...units, id: 1, to: '2025-12' }] };
    assert.lengthOf(proposeStreams(ends)[0]?.assumptions ?? [], 2);
  });
});
