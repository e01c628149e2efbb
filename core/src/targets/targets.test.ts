import { assert } from 'chai';
import fc from 'fast-check';
import { monthFrom } from '../calendar/month.ts';
import { compile, evaluate } from '../forecast/run.ts';
import { assume, M, smallPlan } from '../testing/small-plan.ts';
import { targetSource } from '../sources/source.ts';
import { Sources } from '../sources/sources.ts';
import { forecastFigures } from '../tables/figures.ts';
import { evaluateTrace } from '../trace/trace.ts';
import { explainRest, explainShare } from './explain-target.ts';
import { shareOut } from './share-out.ts';
import { YearStandings } from './standing.ts';
import { EVERYTHING } from './target-tree.ts';
import { targetFigures } from './target-figures.ts';

const percent = (p: number) => ({ kind: 'percent', percent: p }) as const;
const amount = (a: number) => ({ kind: 'amount', amount: a }) as const;

describe('explanations of targets', () => {
  it('work out again to the share and to what is left, with who typed it', () => {
    const typed = { by: 'Mara Ellingsen', at: '2026-10-12T08:00:00.000Z' };
    const top = { name: 'All', part: amount(100_001), amount: 100_001, above: undefined, typed };
    const part = (name: string, share: number, out: number) => ({
      name,
      part: percent(share),
      amount: out,
      above: top,
      typed,
    });
    for (const amounts of [
      [33_300, 33_300],
      [90_000, 20_000],
    ]) {
      const parts = amounts.map((out, place) => part(`P${place}`, 33.3, out));
      const rest = explainRest(top, parts, 100);
      const left = 100_001 - amounts.reduce((sum, one) => sum + one, 0);
      assert.closeTo(rest.value ?? 0, Math.abs(left) / 100, 1e-9);
      assert.closeTo(evaluateTrace(rest) ?? 0, rest.value ?? 1, 1e-9);
      assert.match(rest.label, left < 0 ? /More than All/ : /Unassigned of All/);
    }
    const share = explainShare(part('P', 33.3, 33_300), 100);
    assert.closeTo(evaluateTrace(share) ?? 0, 33_300 / 100_001, 1e-12);
    assert.deepEqual(share.parts[1]?.source, { kind: 'typed', ...typed });
    assert.isNull(explainShare(top, 100).value);
  });
});

describe('shareOut', () => {
  it('adds up to the target with what is left or too much, to the cent', () => {
    const part = fc.oneof(
      fc.integer({ min: 0, max: 60_000 }).map((p) => percent(p / 1000)),
      fc.integer({ min: 0, max: 1_000_000 }).map(amount),
    );
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 1e11 }),
        fc.array(part, { maxLength: 20 }),
        (target, parts) => {
          const { amounts, unassigned, overAssigned } = shareOut(target, parts);
          const sum = amounts.reduce((a, b) => a + b, 0);
          assert.equal(sum + unassigned - overAssigned, target);
          assert.isTrue(unassigned === 0 || overAssigned === 0);
        },
      ),
    );
  });

  it('divides a full hundred without a cent left', () => {
    const { amounts, unassigned } = shareOut(100, [percent(33.3), percent(33.3), percent(33.4)]);
    assert.deepEqual(amounts, [33, 33, 34]);
    assert.equal(unassigned, 0);
  });

  it('says that percents add up to 101', () => {
    const { percents, overAssigned } = shareOut(1000, [percent(50), percent(51)]);
    assert.equal(percents, 101);
    assert.equal(overAssigned, 10);
  });

  it('leaves what no part takes unassigned', () => {
    assert.deepEqual(shareOut(1000, [percent(25), amount(100)]), {
      amounts: [250, 100],
      unassigned: 650,
      overAssigned: 0,
      percents: 25,
    });
    assert.equal(shareOut(500, []).unassigned, 500);
  });
});

const summed = (values: readonly number[]): number => values.reduce((all, value) => all + value, 0);

describe('YearStandings', () => {
  const month = (text: string, revenue: number, combination = 100) => ({
    text,
    revenue,
    combination,
  });
  const sales = [month('2025-03', 10_000), month('2025-09', 30_000), month('2025-09', 50_000, 104)];
  const plan = smallPlan([assume('grossUnits', [], 1), assume('listPrice', [], 5)], {
    actuals: {
      combination: sales.map(({ combination }) => combination),
      month: sales.map(({ text }) => text),
      units: sales.map(() => 1),
      revenue: sales.map(({ revenue }) => revenue),
      cost: sales.map(() => 0),
    },
  });
  const salesOfSeller = [
    {
      ...{ seller: 'S1', account: '', combination: 100, month: monthFrom('2025-09') },
      ...{ revenue: 20_000, units: 1, cost: 0 },
    },
  ];
  const standings = new YearStandings(evaluate(compile(plan)), salesOfSeller, 2026);

  it('takes a scope with its actuals and its forecast', () => {
    const web = standings.of({ ...EVERYTHING, scope: [M.web] });
    assert.deepInclude(web, { actual: [], ahead: Array.from({ length: 12 }, () => 20) });
    assert.deepEqual([web.before[2], web.before[8], summed(web.before)], [100, 300, 400]);
  });

  it('gives a seller the share of the forecast that the last twelve closed months say', () => {
    const seller = standings.of({ ...EVERYTHING, scope: [M.web], seller: 'S1' });
    assert.equal(summed(seller.before), 200);
    assert.equal(seller.aheadShare, 200 / 400);
    assert.equal(
      summed(standings.of({ ...EVERYTHING, scope: [M.stores], seller: 'S1' }).before),
      0,
    );
    const leaves = { ...EVERYTHING, scope: [M.web], seller: 'S1', until: monthFrom('2026-02') };
    assert.deepEqual(standings.of(leaves).ahead.slice(0, 4), [20, 20, 0, 0]);
  });

  it('lays an objective out by what was sold the year before, cell by cell', () => {
    const model = evaluate(compile(plan));
    const sources = new Sources(model, () => assert.fail('no version'));
    const figures = sources.figures(targetSource({ fiscalYear: 2026, objective: 1_800 }));
    const of = (combination: number, text: string): number =>
      figures.measures.revenue[
        figures.combinations.findIndex(({ id }) => id === combination) * figures.count +
          (monthFrom(text) - figures.first)
      ] ?? Number.NaN;
    assert.equal(of(100, '2026-03'), 200);
    assert.equal(of(100, '2026-09'), 600);
    assert.equal(of(104, '2026-09'), 1_000);
    assert.equal(of(104, '2026-03'), 0);
    assert.equal(of(104, '2025-09'), 0, 'outside its year');
    assert.isNaN(figures.measures.units[12] ?? 0, 'a target has no units');
    const none = sources.figures(targetSource({ fiscalYear: 2025, objective: 5 }));
    assert.isNaN(none.measures.revenue[0] ?? 0, 'nothing was sold the year before');
  });

  it('adds an objective up to the whole, whatever was sold', () => {
    const sold = fc.array(fc.integer({ min: 0, max: 90_000 }), { minLength: 3, maxLength: 3 });
    const objectives = fc.integer({ min: 0, max: 1e9 });
    fc.assert(
      fc.property(sold, objectives, (amounts, objective) => {
        const actuals = {
          combination: [100, 103, 104],
          month: ['2025-01', '2025-08', '2025-12'],
          units: [1, 1, 1],
          revenue: amounts,
          cost: [0, 0, 0],
        };
        const model = evaluate(compile({ ...plan, actuals }));
        const figures = targetFigures(model.plan, forecastFigures(model), {
          fiscalYear: 2026,
          objective,
        });
        const sum = figures.measures.revenue.reduce((all, value) => all + value, 0);
        if (amounts.every((amount) => amount === 0)) assert.isNaN(sum);
        else assert.closeTo(sum, objective, 1e-9 * Math.max(1, objective));
      }),
    );
  });
});
