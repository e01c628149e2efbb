import { assert } from 'chai';
import { checkPlan } from '../../checking/check-plan.ts';
import { DRIVERS } from '../../drivers/catalogue.ts';
import type { Driver } from '../../drivers/driver.ts';
import type { Plan, StreamFormula } from '../plan.ts';
import { compile, evaluate, type Model } from '../run.ts';
import { assume, smallPlan } from '../../testing/small-plan.ts';

const spend: Driver = {
  code: 'spend',
  name: 'Spend',
  kind: 'money',
  unit: 'a month',
  minimum: null,
  maximum: null,
  step: null,
  default: null,
  choices: [],
  formula: null,
};
/** A plan of one stream by a formula; a hundred units were sold in the last closed month. */
function planWith(formula: Partial<StreamFormula>, part: Partial<Plan> = {}): Plan {
  return smallPlan(
    [
      assume('grossUnits', [], 500),
      assume('listPrice', [], 1),
      assume('starters', [], 7, { from: '2026-01' }),
    ],
    {
      drivers: [
        ...DRIVERS,
        spend,
        { ...spend, code: 'starters', name: 'Starters', kind: 'count', unit: 'units' },
      ],
      streams: [
        {
          id: 1,
          combination: 100,
          method: 'formula',
          settings: { formula: { units: null, revenue: null, names: [], ...formula } },
        },
        { id: 2, combination: 101, method: 'volumePrice' },
      ],
      actuals: { combination: [100], month: ['2025-12'], units: [100], revenue: [0], cost: [0] },
      ...part,
    },
  );
}
const unitsAt = (model: Model, t: number): number | undefined =>
  model.results.units[0]?.[model.open + t];

describe('a stream by a formula', () => {
  it('reads in closed months what was observed, and not what was assumed', () => {
    const model = evaluate(compile(planWith({ units: 'lag(grossUnits, 1)' })));
    assert.equal(unitsAt(model, 0), 100);
    assert.equal(unitsAt(model, 1), 500);
  });

  it('is refused where money and counts are added, as a driver’s formula is', () => {
    const [refusal] = checkPlan(planWith({ units: 'units + spend' }));
    assert.match(refusal?.message ?? '', /unit and money cannot be added/);
    const money = checkPlan(planWith({ units: 'spend * 2' }));
    assert.match(money[0]?.message ?? '', /comes to money, units is unit/);
    const model = evaluate(compile(planWith({ units: 'units + spend' })));
    assert.isNaN(unitsAt(model, 0));
  });

  it('does not read a name that is listed and not used', () => {
    const names = [{ name: 'other', combination: 101, measure: 'units' as const }];
    const plan = planWith({ units: '5', names });
    // The other one reads this one: with a reading that nobody makes it would be a circle.
    const [first] = plan.streams;
    const attached = { combination: 100, from: 0, to: 0 };
    const second = {
      id: 2,
      combination: 101,
      method: 'volumePrice',
      settings: { attached },
    } as const;
    const both = { ...plan, streams: first ? [first, second] : [] };
    assert.equal(unitsAt(evaluate(compile(both)), 0), 5);
    assert.isFalse(checkPlan(both).some(({ code }) => code === 'circle'));
  });

  it('says of every month without a value which driver, stream and month it is', () => {
    const told = (units: string) =>
      checkPlan(planWith({ units })).filter(({ where }) => where['stream'] === 1);
    const [zero] = told('grossUnits / 0');
    assert.deepEqual(zero?.where, { stream: 1, month: '2026-01', driver: 'grossUnits' });
    assert.match(zero?.message ?? '', /divides by zero/);
    // Starters are typed for open months: the first one reads a closed month that nobody knows.
    const [early] = told('lag(starters, 1)');
    assert.equal(early?.where['driver'], 'starters');
    assert.equal(early?.where['month'], '2026-01');
    assert.equal(early?.where['stream'], 1);
  });

  it('computes windows in windows a month at a time', () => {
    const deep = `${'sum('.repeat(40)}grossUnits${', 12)'.repeat(40)}`;
    const started = process.hrtime.bigint();
    const model = evaluate(compile(planWith({ units: deep })));
    assert.lengthOf(model.streams, 2);
    assert.isBelow(Number(process.hrtime.bigint() - started) / 1e9, 20, 'it ends at all');
    const long = Array.from({ length: 40 }, () => 'sum(grossUnits, 240)').join(' + ');
    assert.match(checkPlan(planWith({ units: long }))[0]?.message ?? '', /takes \d+ steps a month/);
  });
});
