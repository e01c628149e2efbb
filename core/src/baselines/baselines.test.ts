import { assert } from 'chai';
import fc from 'fast-check';
import { crossover } from '../comparison/crossover.ts';
import { bestKind, intervals, league } from './backtest.ts';
import {
  baseline,
  BASELINE_KINDS,
  cannot,
  cannotChoose,
  historyOf,
  type BaselineKind,
} from './baseline.ts';
import { monthFrom } from '../calendar/month.ts';
import { seasonalIndex } from './season.ts';
import { fitRates, smooth } from './smoothing.ts';

/** Months of a level that grows, times a season. */
const seasonal = (months: number, growth = 1, swing = 0.3): number[] =>
  Array.from(
    { length: months },
    (_, t) => (100 + growth * t) * (1 + swing * Math.sin((t / 12) * 2 * Math.PI)),
  );

describe('baselines', () => {
  it('continue what they are made for exactly', () => {
    const close = (kind: BaselineKind, history: number[], next: number[]): void => {
      baseline(kind, history, next.length).forEach((value, lead) =>
        assert.closeTo(value, next[lead] ?? Number.NaN, 1e-6, `${kind} ${lead}`),
      );
    };
    close('lastMonth', [3, 7], [7, 7]);
    close('mean', [2, 4, 6], [4, 4]);
    assert.deepEqual(baseline('mean', [2, 4, 6], 1, { months: 2 }), [5]);
    const flat = seasonal(36, 0);
    close('sameMonth', flat.slice(0, 24), flat.slice(24));
    const doubled = [...flat.slice(0, 12), ...flat.slice(12, 24).map((value) => value * 2)];
    close(
      'sameMonthGrowth',
      doubled,
      flat.slice(0, 12).map((value) => value * 4),
    );
    assert.closeTo(
      baseline('sameMonthGrowth', flat, 1, { growth: 0.5 })[0] ?? 0,
      (flat[24] ?? 0) * 1.5,
      1e-9,
    );
    // A straight line without a season goes on straight.
    const line = Array.from({ length: 36 }, (_, t) => 10 + 2 * t);
    close('smoothAdditive', line, [82, 84, 86]);
  });

  it('take the months that are chosen, and leave others blank', () => {
    const last = monthFrom('2026-03');
    // April 2025 to March 2026.
    const history = Array.from({ length: 12 }, (_, t) => 10 + t);
    const mean = (settings: object): number[] => baseline('mean', history, 2, settings, last);
    assert.deepEqual(mean({ span: { from: '2025-04', to: '2025-06' } }), [11, 11]);
    assert.deepEqual(mean({ span: { from: '2025-04', to: '2025-06' }, blank: [4] }), [0, 11.5]);
    assert.deepEqual(baseline('lastMonth', history, 2, { month: '2025-05' }, last), [11, 11]);
    assert.deepEqual(baseline('sameMonth', history, 2, { blank: [5] }, last), [10, 0]);
    assert.include(
      cannotChoose('lastMonth', history, { month: '2024-05' }, last),
      '2024-05 is no closed month with history',
    );
    const none = { span: { from: '2020-01', to: '2020-03' } };
    assert.include(cannotChoose('mean', history, none, last), 'none of the chosen months');
    assert.isUndefined(cannotChoose('mean', history, {}, last));
  });

  it('grow on the same month of one year, by the months that were there twice', () => {
    const year = seasonal(12, 0);
    assert.deepEqual(baseline('sameMonthGrowth', year, 1, { growth: 0.1 }), [(year[0] ?? 0) * 1.1]);
    assert.deepEqual(baseline('sameMonthGrowth', year, 1), [year[0] ?? 0], 'nothing to grow on');
    const more = [...year, ...year.slice(0, 6).map((value) => value * 1.2)];
    assert.closeTo(baseline('sameMonthGrowth', more, 1)[0] ?? 0, (year[6] ?? 0) * 1.2, 1e-9);
  });

  it('say what they need, and give no numbers without it', () => {
    const short = seasonal(10);
    assert.include(cannot('lineSeason', short), 'needs 24 months of history; there are 10 months');
    assert.isTrue(baseline('lineSeason', short, 3).every(Number.isNaN));
    assert.include(cannot('mean', []), 'nothing was sold yet');
    assert.deepEqual(historyOf([0, 0, 3, 0, 4]), [3, 0, 4]);
    assert.deepEqual(historyOf([0, 0]), []);
  });

  it('have twelve seasonal indices with mean 1, whatever the history', () => {
    const month = fc.double({ min: 1, max: 1e6, noNaN: true });
    fc.assert(
      fc.property(fc.array(month, { minLength: 24, maxLength: 60 }), (history) => {
        const mean = seasonalIndex(history).reduce((sum, value) => sum + value, 0) / 12;
        assert.closeTo(mean, 1, 1e-9);
      }),
    );
  });

  it('fit their rates to no more error than any of a grid', () => {
    const history = seasonal(48, 2).map((value, t) => value + ((t * 37) % 11));
    for (const kind of ['additive', 'multiplicative'] as const) {
      const rates = fitRates(history, kind);
      assert.isNotNull(rates);
      if (!rates) continue;
      const error = (of: typeof rates): number =>
        smooth(history, kind, of, 0).fitted.reduce(
          (sum, value, t) => sum + ((history[t + 12] ?? 0) - value) ** 2,
          0,
        );
      for (const alpha of [0, 0.3, 0.7, 1]) {
        for (const gamma of [0, 0.5, 1]) {
          assert.isAtMost(error(rates), error({ alpha, beta: 0.1, gamma }) + 1e-9);
        }
      }
    }
    const near = fc.double({ min: 0, max: 1, noNaN: true });
    const scattered = fc.array(fc.integer({ min: 20, max: 400 }), { minLength: 36, maxLength: 60 });
    const anywhere = fc.array(fc.record({ alpha: near, beta: near, gamma: near }), {
      minLength: 200,
      maxLength: 200,
    });
    fc.assert(
      fc.property(scattered, anywhere, fc.boolean(), (months, tried, additive) => {
        const kind = additive ? 'additive' : 'multiplicative';
        const fitted = fitRates(months, kind);
        const error = (of: NonNullable<typeof fitted>): number =>
          smooth(months, kind, of, 0).fitted.reduce(
            (sum, value, t) => sum + ((months[t + 12] ?? 0) - value) ** 2,
            0,
          );
        if (!fitted) return;
        const least = error(fitted);
        for (const rates of tried) assert.isAtMost(least, error(rates) * 1.0001);
      }),
      { numRuns: 12 },
    );
    assert.isNull(
      fitRates(new Array<number>(36).fill(0), 'multiplicative'),
      'nothing to divide by',
    );
  });
});

describe('the league of baselines', () => {
  it('ranks them by their errors over the last year, and says who could not take part', () => {
    const growing = seasonal(60, 1.5);
    const { rows, best } = league(growing);
    assert.lengthOf(rows, BASELINE_KINDS.length);
    assert.include(['lineSeason', 'smoothMultiplicative', 'sameMonthGrowth'], best);
    const scores = rows.map(({ score }) => score ?? Number.POSITIVE_INFINITY);
    assert.deepEqual(
      scores,
      scores.toSorted((a, b) => a - b),
    );
    assert.deepEqual(
      rows[0]?.errors.map((errors) => errors.length),
      [12, 11, 10, 9, 8, 7, 6, 5, 4, 3, 2, 1],
    );
    const short = league(seasonal(30));
    const left = short.rows.filter(({ why }) => why !== '').map(({ kind }) => kind);
    assert.sameMembers(left, ['lineSeason', 'smoothAdditive', 'smoothMultiplicative']);
    assert.include(short.rows.at(-1)?.why, 'before the last twelve months');
    assert.isNull(league([1, 2, 3]).best);
    assert.equal(bestKind([1, 2, 3]), 'mean');
    assert.equal(bestKind(seasonal(14)), bestKind(seasonal(14)), 'always the same');
    assert.isNull(bestKind([]));
  });

  it('gives intervals that widen with the lead and hold most of what came', () => {
    const bands = intervals([10, 10, 10, 10], [[1, -1], [3, -3], [2]]);
    const widths = bands.map(({ low, high }) => high - low);
    assert.deepEqual(
      widths,
      widths.toSorted((a, b) => a - b),
    );
    assert.equal(widths[3], widths[2], 'beyond what was tried the widest stays');
    assert.closeTo(bands[0]?.high ?? 0, 10 + 1.2815515655446, 1e-9);
  });
});

describe('crossover', () => {
  it('is where a series gets above another one, and nowhere else', () => {
    assert.equal(crossover([1, 3], [2, 2]), 0.5);
    assert.isNull(crossover([3, 1], [2, 2]), 'it was above');
    assert.equal(
      crossover([2, 2, 3], [2, 2, 2]),
      1,
      'from the last month in which they were level',
    );
    assert.isNull(crossover([1, Number.NaN, 3], [2, 2, 2]));
    assert.isNull(crossover([], []));
  });
});
