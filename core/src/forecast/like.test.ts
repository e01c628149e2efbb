import { assert } from 'chai';
import fc from 'fast-check';
import { monthText } from '../calendar/month.ts';
import { checkPlan } from '../checking/check-plan.ts';
import { somePlan } from '../testing/rich-plan.ts';
import { assume, COMBINATIONS, M, smallPlan } from '../testing/small-plan.ts';
import { linesLike, type LikeAnother } from './like.ts';
import type { Plan } from './plan.ts';
import { compile, evaluate, type Model } from './run.ts';

const NEW = 999;

/** The plan with a new product below the other one's parent, forecast like it. */
function withNew(plan: Plan, how: Omit<LikeAnother, 'member'>): { plan: Plan; model: Model } {
  const lines = linesLike(evaluate(compile(plan)), { ...how, member: NEW });
  const dimensions = plan.dimensions.map((dimension) => {
    const other = dimension.members.find(({ id }) => id === how.like);
    if (!other) return dimension;
    const made = { ...other, id: NEW, code: 'new', name: 'New' };
    return { ...dimension, members: [...dimension.members, made] };
  });
  const combinations = lines.streams.map(({ members }, at) => ({ id: 5000 + at, members }));
  const streams = lines.streams.map(({ method }, at) => ({
    id: 5000 + at,
    combination: 5000 + at,
    method,
  }));
  const next: Plan = {
    ...plan,
    dimensions,
    combinations: [...plan.combinations, ...combinations],
    streams: [...plan.streams, ...streams],
    assumptions: [
      ...plan.assumptions,
      ...lines.assumptions.map((one, at) => ({ ...one, id: 5000 + at })),
    ],
    adjustments: [
      ...(plan.adjustments ?? []),
      ...lines.adjustments.map((one, at) => ({ ...one, id: 5000 + at })),
    ],
  };
  return { plan: next, model: evaluate(compile(next)) };
}

const sumOf = (model: Model, ids: (id: number) => boolean, t: number): number =>
  model.streams.reduce(
    (sum, { stream }, index) =>
      ids(stream.id) ? sum + (model.results.revenue[index]?.[t] ?? NaN) : sum,
    0,
  );

describe('a new product like another one', () => {
  const months = Object.fromEntries(
    Array.from({ length: 12 }, (_, at) => [
      `2026-${String(at + 1).padStart(2, '0')}`,
      100 * (at + 1),
    ]),
  );
  const plan = smallPlan([
    assume('grossUnits', [M.carafe], { kind: 'months', values: months }),
    assume('listPrice', [M.hardware], 30),
    assume('returnRate', [M.carafe, M.web], 0.5),
    assume('grossUnits', [M.tap], 1),
    assume('discount', [], 0.1),
  ]);
  const carafes = COMBINATIONS.filter(({ members }) => members.includes(M.carafe));

  it('has its season, rates and prices, and its volume times the scale', () => {
    const { model } = withNew(plan, { like: M.carafe, scale: 0.5, from: null, listPrice: null });
    assert.lengthOf(model.streams, COMBINATIONS.length + carafes.length);
    const like = new Set(carafes.map(({ id }) => id));
    for (let t = model.open; t < model.count; t += 1) {
      const other = model.streams.reduce(
        (sum, { combination }, index) =>
          like.has(combination.id) ? sum + (model.results.revenue[index]?.[t] ?? 0) : sum,
        0,
      );
      const made = sumOf(model, (id) => id >= 5000, t);
      assert.approximately(made, other / 2, other * 2e-3, monthText(model.first + t));
    }
  });

  it('begins when it is sold, at a price of its own, whatever is set for channels', () => {
    const priced = {
      ...plan,
      assumptions: [...plan.assumptions, { ...assume('listPrice', [M.web], 99), id: 77 }],
    };
    const how = { like: M.carafe, scale: 1, from: '2026-07', listPrice: 10 };
    const { model } = withNew(priced, how);
    const t = (month: number): number => model.open + month - 1;
    assert.equal(
      sumOf(model, (id) => id >= 5000, t(6)),
      0,
    );
    const place = model.streams.findIndex(({ stream }) => stream.id === 5000);
    const units = model.results.units[place]?.[t(8)] ?? NaN;
    assert.closeTo(model.results.revenue[place]?.[t(8)] ?? NaN, units * 10 * 0.9, 1e-9);
    assert.isAbove(units, 0);
  });

  it('leaves a sound plan whatever the other one is forecast by, and never a missing volume', () => {
    fc.assert(
      fc.property(somePlan, fc.constantFrom(M.carafe, M.tap), fc.boolean(), (some, like, late) => {
        const how = { like, scale: 0.3, from: late ? '2026-05' : null, listPrice: 12 };
        const before = new Set(checkPlan(some).map(({ message }) => message));
        const { plan: next } = withNew(some, how);
        const problems = checkPlan(next).filter(
          ({ message, where }) => !before.has(message) && Number(where['stream'] ?? 5000) >= 5000,
        );
        const ofVolume = problems.filter(({ where }) =>
          ['grossUnits', 'amount', 'listPrice'].includes(String(where['driver'])),
        );
        assert.deepEqual(
          ofVolume.filter(({ code }) => code === 'missing-input'),
          [],
        );
      }),
      { numRuns: 60 },
    );
  });
});
