import { assert } from 'chai';
import { compile, evaluate, planOf, type Model } from '../forecast/run.ts';
import type { FactColumns, Plan } from '../forecast/plan.ts';
import { measuredTable } from '../tables/measured.ts';
import { forecastFigures } from '../tables/figures.ts';
import { marketOf } from '../tables/market.ts';
import { assume, COMBINATIONS, M, smallPlan } from '../testing/small-plan.ts';
import { DRIVERS } from '../drivers/catalogue.ts';
import type { Driver, DriverHistory } from '../drivers/driver.ts';
import { observedHistory, referenceOf } from './overview.ts';

const MONTHS = Array.from({ length: 12 }, (_, t) => `2025-${String(t + 1).padStart(2, '0')}`);
const fact = (
  measure: string,
  scope: number[],
  value: number,
  nature: FactColumns['nature'] = 'flow',
): FactColumns => ({ measure, nature, scope, months: MONTHS, values: MONTHS.map(() => value) });
const observedDriver = (code: string, history: DriverHistory): Driver => ({
  code,
  name: code,
  kind: 'percent',
  unit: '%',
  minimum: null,
  maximum: null,
  step: null,
  default: null,
  choices: [],
  formula: null,
  history,
});

/** One year closed: every combination sells 9 net of 10 gross at 8 a unit; the list says 10. */
function modelOf(part: Partial<Plan> = {}): Model {
  const rows = COMBINATIONS.flatMap(({ id }) => MONTHS.map((month) => ({ id, month })));
  const drivers = DRIVERS.map((driver) =>
    driver.code === 'marketSize'
      ? { ...driver, history: { measure: 'Market', per: null } }
      : driver,
  );
  return evaluate(
    compile(
      smallPlan([assume('listPrice', [], 10), assume('grossUnits', [], 10)], {
        drivers: [
          ...drivers,
          observedDriver('quizRate', { measure: 'Quizzes', per: 'Visits' }),
          observedDriver('score', { measure: 'Score', per: null }),
          observedDriver('perVisit', { measure: 'units', per: 'Visits' }),
        ],
        actuals: {
          combination: rows.map(({ id }) => id),
          month: rows.map(({ month }) => month),
          units: rows.map(() => 9),
          revenue: rows.map(() => 7200),
          cost: rows.map(() => 0),
          returned: rows.map(() => 1),
        },
        facts: [
          fact('Visits', [M.web], 400),
          fact('Visits', [M.web, M.north], 100),
          fact('Quizzes', [M.web], 40),
          fact('Quizzes', [M.web, M.north], 20),
          fact('Market', [M.carafe], 900),
          fact('Score', [M.north], 4, 'level'),
          fact('Score', [M.coast], 3, 'level'),
        ],
        ...part,
      }),
    ),
  );
}
const last = (model: Model, driver: string, scope: number[]): number | null | undefined =>
  observedHistory(model, driver, scope).at(-1);

describe('what was measured', () => {
  const model = modelOf();

  it('tells discounts by the list, and what came back by what was sold first', () => {
    assert.closeTo(last(model, 'discount', []) ?? 0, 0.2, 1e-12);
    assert.closeTo(last(model, 'returnRate', [M.web]) ?? 0, 0.1, 1e-12);
    assert.equal(last(model, 'grossUnits', [M.web, M.carafe, M.north]), 10);
    assert.closeTo(referenceOf(model, 'discount', [])?.lastThree ?? 0, 0.2, 1e-12);
    assert.isNull(referenceOf(model, 'discount', [])?.lastYear, 'one year has no year before');
    const { actuals } = smallPlan([]);
    const quiet = modelOf({ actuals: { ...actuals, returned: undefined } });
    assert.isEmpty(observedHistory(quiet, 'returnRate', []));
  });

  it('leaves revenue out of a discount where no list price is known', () => {
    const dear = [assume('listPrice', [M.web], 10), assume('grossUnits', [], 10)];
    const part = evaluate(compile({ ...planOf(modelOf()), assumptions: dear }));
    assert.closeTo(last(part, 'discount', []) ?? 0, 0.2, 1e-12);
    assert.isNull(last(part, 'discount', [M.stores]));
  });

  it('divides one fact by another; the narrower holds, and each counts once', () => {
    assert.equal(last(model, 'quizRate', [M.web, M.north]), 0.2);
    assert.equal(last(model, 'quizRate', [M.web, M.coast]), 0.1);
    assert.closeTo(last(model, 'quizRate', [M.web]) ?? 0, 0.1, 1e-12, 'north is part of web');
    assert.isNull(last(model, 'quizRate', [M.stores]), 'nothing was measured there');
    assert.closeTo(last(model, 'perVisit', [M.web, M.north]) ?? 0, 18 / 100, 1e-12);
    assert.closeTo(last(model, 'perVisit', []) ?? 0, 36 / 400, 1e-12, 'stores have no visits');
  });

  it('never adds up scores', () => {
    assert.equal(last(model, 'score', [M.north]), 4);
    assert.isNull(last(model, 'score', []));
  });

  it('tells the share of a market, the same in a table', () => {
    assert.closeTo(last(model, 'marketShare', []) ?? 0, 36 / 900, 1e-12);
    assert.isNull(last(model, 'marketShare', [M.tap]));
    const { totals } = measuredTable(
      forecastFigures(model),
      marketOf(model),
      model.tree,
      {
        measures: ['shareOfMarket'],
        rows: ['channel'],
        columns: 'time',
        scope: [],
        span: { from: model.first, to: model.first + 11 },
        grain: 'year',
      },
      1,
    );
    assert.closeTo(totals[0]?.total.value ?? 0, 36 / 900, 1e-12);
  });

  it('is what formulas read in closed months', () => {
    const lagged: Driver = {
      ...observedDriver('lagged', { measure: '', per: null }),
      history: null,
      formula: 'lag(quizRate, 1)',
    };
    const plan = planOf(modelOf());
    const read = evaluate(
      compile({
        ...plan,
        drivers: [...plan.drivers, lagged],
        assumptions: [...plan.assumptions, assume('quizRate', [], 0.5)],
      }),
    );
    const [first] = COMBINATIONS;
    const { values } = read.drivers.series('lagged', first?.members ?? [], 0);
    assert.equal(values[read.open], 0.2, 'December as it was measured');
    assert.equal(values[read.open + 1], 0.5, 'January as it is assumed');
  });
});
