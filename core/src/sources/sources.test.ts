import { assert } from 'chai';
import { change } from '../forecast/change.ts';
import { compile, evaluate } from '../forecast/run.ts';
import { typeValues } from '../drivers/typing.ts';
import { RESULTS } from '../measures/catalogue.ts';
import { assume, M, smallPlan } from '../testing/small-plan.ts';
import {
  ACTUAL,
  FORECAST,
  rootOf,
  sameSource,
  sourceKey,
  targetSource,
  versionIn,
  versionSource,
  yearBeforeSource,
} from './source.ts';
import type { KeptCells } from './kept-cells.ts';
import { Sources } from './sources.ts';

const cells = (units: number): KeptCells => ({
  combination: [100],
  month: ['2026-01'],
  units: [units],
  revenue: [units * 90],
  cost: [null],
});

describe('sources of numbers', () => {
  const modelOf = () =>
    evaluate(compile(smallPlan([assume('grossUnits', [], 10), assume('listPrice', [], 3)])));

  it('have the numbers of a year before in every month but the first twelve', () => {
    const sources = new Sources(modelOf(), () => cells(1));
    for (const of of [ACTUAL, FORECAST, versionSource(7)]) {
      const [now, before] = [sources.figures(of), sources.figures(yearBeforeSource(of))];
      assert.equal(before.count, now.count);
      for (const code of RESULTS) {
        now.measures[code].forEach((_, at) => {
          const t = at % now.count;
          const expected = t < 12 ? 0 : now.measures[code][at - 12];
          assert.isTrue(Object.is(before.measures[code][at], expected), `${code} ${at}`);
        });
      }
    }
  });

  it('are laid out once, and anew when what they are made of changes', () => {
    const model = modelOf();
    let kept = cells(1);
    const sources = new Sources(model, () => kept);
    const target = targetSource({ fiscalYear: 2026, objective: 5 });
    const phased = sources.figures(target);
    const before = [FORECAST, yearBeforeSource(FORECAST), versionSource(7), ACTUAL].map((source) =>
      sources.figures(source),
    );
    assert.equal(sources.figures(FORECAST), before[0], 'kept');
    const typed = [{ scope: [M.web], month: '2026-01', value: 5 }];
    change(model, typeValues('grossUnits', model.assumptions, typed));
    sources.forgetRun();
    assert.notDeepEqual(sources.figures(FORECAST), before[0]);
    assert.notEqual(sources.figures(yearBeforeSource(FORECAST)), before[1]);
    assert.notEqual(sources.figures(target), phased, 'its season may be of the run');
    assert.equal(sources.figures(versionSource(7)), before[2], 'not made of the run');
    assert.equal(sources.figures(ACTUAL), before[3]);
    kept = cells(2);
    sources.forgetVersion(7);
    assert.notDeepEqual(sources.figures(versionSource(7)), before[2]);
  });

  it('know what they rest on, and when they are the same', () => {
    const twice = yearBeforeSource(yearBeforeSource(versionSource(7)));
    assert.equal(versionIn(twice)?.id, 7);
    assert.isUndefined(versionIn(yearBeforeSource(FORECAST)));
    assert.deepEqual(rootOf(twice, { from: 30, to: 32 }), {
      source: versionSource(7),
      span: { from: 6, to: 8 },
    });
    assert.isTrue(sameSource(versionSource(7), { kind: 'version', id: 7 }));
    assert.isFalse(sameSource(versionSource(7), versionSource(8)));
    assert.isFalse(sameSource(versionSource(7), versionSource(7, '2026-11-20T10:00:00Z')));
    assert.isFalse(sameSource(FORECAST, undefined));
    const [one, two] = [1, 2].map((objective) => targetSource({ fiscalYear: 2026, objective }));
    assert.isFalse(sameSource(one, two));
    const all = [ACTUAL, FORECAST, versionSource(7), twice, yearBeforeSource(ACTUAL)];
    assert.lengthOf(new Set(all.map(sourceKey)), all.length);
  });
});
