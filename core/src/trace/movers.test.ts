import { assert } from 'chai';
import { monthFrom } from '../calendar/month.ts';
import { DRIVERS } from '../drivers/catalogue.ts';
import { compile, evaluate } from '../forecast/run.ts';
import { OWN_DRIVERS } from '../testing/rich-plan.ts';
import { assume, COMBINATIONS, M, smallPlan } from '../testing/small-plan.ts';
import { movers } from './movers.ts';

describe('movers', () => {
  const span = { from: monthFrom('2026-01'), to: monthFrom('2026-12') };

  it('rank drivers by what one percent of each does', () => {
    const model = evaluate(
      compile(
        smallPlan([
          assume('grossUnits', [], 100),
          assume('listPrice', [], 10),
          assume('discount', [], 0.2),
          assume('returnRate', [], 0.5),
        ]),
      ),
    );
    const byDriver = movers(model, { measure: 'revenue', scope: [M.web], span });
    const base = 4 * 12 * 100 * 0.5 * 10 * 0.8;
    const effects = new Map(byDriver.map(({ driver, effect }) => [driver, effect / base]));
    assert.closeTo(effects.get('grossUnits') ?? 0, 0.01, 1e-9);
    assert.closeTo(effects.get('listPrice') ?? 0, 0.01, 1e-9);
    assert.closeTo(effects.get('returnRate') ?? 0, -0.01, 1e-9);
    assert.closeTo(effects.get('discount') ?? 0, -0.0025, 1e-9);
    assert.equal(byDriver.at(-1)?.driver, 'discount');
    const units = movers(model, { measure: 'units', scope: [], span });
    assert.sameMembers(
      units.map(({ driver }) => driver),
      ['grossUnits', 'returnRate'],
    );
  });

  it('see through formulas and through the streams that are read', () => {
    const [first, second] = COMBINATIONS;
    const model = evaluate(
      compile(
        smallPlan([assume('listPrice', [], 1), assume('attachRate', [], 0.5)], {
          drivers: [...DRIVERS, ...OWN_DRIVERS],
          streams: [
            {
              id: 1,
              combination: first?.id ?? 0,
              method: 'formula',
              settings: { formula: { units: 'visits * conversion', revenue: null, names: [] } },
            },
            {
              id: 2,
              combination: second?.id ?? 0,
              method: 'volumePrice',
              settings: { attached: { combination: first?.id ?? 0, from: 0, to: 0 } },
            },
          ],
        }),
      ),
    );
    const scope = second?.members ?? [];
    const byDriver = movers(model, { measure: 'units', scope, span });
    assert.sameMembers(
      byDriver.map(({ driver }) => driver),
      ['attachRate', 'spend', 'visitCost', 'conversion'],
    );
    assert.isBelow(byDriver.find(({ driver }) => driver === 'visitCost')?.effect ?? 0, 0);
  });
});
