import { assert } from 'chai';
import fc from 'fast-check';
import { monthFrom } from '../calendar/month.ts';
import { compile, evaluate } from '../forecast/run.ts';
import { assume, M, smallPlan } from '../testing/small-plan.ts';
import { shareOut } from './share-out.ts';
import { YearStandings } from './standing.ts';

const percent = (p: number) => ({ kind: 'percent', percent: p }) as const;
const amount = (a: number) => ({ kind: 'amount', amount: a }) as const;

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
    { seller: 'S1', combination: 100, month: monthFrom('2025-09'), revenue: 20_000 },
  ];
  const standings = new YearStandings(evaluate(compile(plan)), salesOfSeller, 2026);

  it('takes a scope with its actuals and its forecast', () => {
    const web = standings.of({ scope: [M.web], seller: null });
    assert.deepInclude(web, { lastYear: 400, actual: 0, outlook: 4 * 12 * 5 });
  });

  it('gives a seller the share of the forecast that the last twelve closed months say', () => {
    const seller = standings.of({ scope: [M.web], seller: 'S1' });
    assert.equal(seller.lastYear, 200);
    assert.closeTo(seller.outlook, 240 * (200 / 400), 1e-9);
    assert.equal(standings.of({ scope: [M.stores], seller: 'S1' }).lastYear, 0);
  });

  it('knows how much of a year its closed months have by the season before', () => {
    assert.equal(standings.due(), 0);
    assert.isNull(new YearStandings(evaluate(compile(plan)), [], 2025).due());
  });
});
