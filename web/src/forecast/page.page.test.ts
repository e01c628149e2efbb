import { expect } from 'chai';
import { computed } from 'vue';
import { assume, COMBINATIONS } from '../../../core/src/testing/small-plan.ts';
import { desk } from '../../testing/desk.ts';
import { settle } from '../../testing/mounting.ts';
import { useArrangement } from './use-arrangement.ts';
import { useForecastPage } from './use-page.ts';
import { useByHand, useFigures, useForecastLine } from './use-tables.ts';

const assumptions = [assume('grossUnits', [], 10), assume('listPrice', [], 20)];
/** In November and December of 2025 each combination sold a unit for ten. */
const sold = COMBINATIONS.flatMap(({ id }) =>
  ['2025-11', '2025-12'].map((month) => ({ combination: id, month })),
);
const actuals = {
  combination: sold.map(({ combination }) => combination),
  month: sold.map(({ month }) => month),
  units: sold.map(() => 1),
  revenue: sold.map(() => 1000),
  cost: sold.map(() => null),
};
const page = () => {
  const arrangement = useArrangement();
  const line = useForecastLine();
  const figures = useFigures(() => line.value, arrangement);
  return {
    ...{ arrangement, figures, byHand: useByHand(figures.data) },
    ...useForecastPage(arrangement),
    rows: computed(() => figures.data.value?.table.rows.map(({ label }) => label)),
  };
};
const opened = (at: string) => desk(page, { at, assumptions, plan: { actuals } as never });

describe('the page of the forecast', () => {
  it('says what is forecast of what, in which months and unit, and what is closed of it', async () => {
    const { used, end } = await opened('from=2025-11&to=2026-02&unit=1');
    await settle();
    // Two closed months of eight combinations at ten, two open ones at two hundred.
    expect(used.data.value?.table.total.total.value).to.equal(2 * 80 + 2 * 1600);
    expect(used.headline.value).to.equal('Small is heading for 3.4 thousand');
    expect(used.state.value).to.equal(
      'Revenue, €, November 2025 to February 2026, two months closed; base scenario',
    );
    expect(used.chart.value).to.deep.include({ closed: 2, line: [80, 80, 1600, 1600] });
    expect(used.rows.value?.length).to.be.above(2);
    end();
  });

  it('has last year and growth below, each explained by the two years', async () => {
    const { used, end } = await opened('from=2026-11&to=2026-12&unit=1');
    await settle();
    const below = used.below.value.map(({ key, cells }) => [key, cells.at(0)?.text]);
    expect(below).to.deep.equal([
      ['last-year', '160'],
      ['growth', '1,900.0%'],
    ]);
    const span = { from: 2026 * 12 + 10, to: 2026 * 12 + 10 };
    const asked = used.askBelow('last-year', 1, span);
    expect(asked).to.deep.nested.include({
      'question.span': { from: 2025 * 12 + 10, to: 2025 * 12 + 10 },
    });
    expect(used.askBelow('growth', 1, span)?.kind).to.equal('node');
    expect(used.askBelow('kept', 1, span)).to.have.nested.property('question.source.kept', true);
    end();
  });

  it('is laid out by the address: measures, order, pins, levels, chart and panel', async () => {
    const { used, query, end } = await opened(
      'measures=units,revenue,nonsense&levels=1&pin=1,2&chart=odd&panel=methods',
    );
    const { arrangement } = used;
    expect(arrangement.measures.value).to.deep.equal(['units', 'revenue']);
    expect([
      arrangement.depth.value,
      arrangement.chart.value,
      arrangement.panel.value,
    ]).to.deep.equal([0, 'total', 'methods']);
    expect(used.below.value, 'of which measure would they be?').to.deep.equal([]);
    arrangement.togglePin('1');
    await settle();
    expect(query()['pin']).to.equal('2');
    await arrangement.turnPanel('methods');
    expect(query()['panel']).to.equal(undefined);
    arrangement.setMeasures(['margin']);
    await settle();
    expect([query()['measures'], query()['measure']]).to.deep.equal([undefined, 'margin']);
    arrangement.setMeasures([]);
    await settle();
    expect(query()['measure'], 'there is always one').to.equal('margin');
    await arrangement.setDepth(2);
    await arrangement.setChart('share');
    await arrangement.setBy('region');
    expect([query()['levels'], query()['chart'], query()['by']]).to.deep.equal([
      ...[undefined, 'share', 'region'],
    ]);
    end();
  });
});
