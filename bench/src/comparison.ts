/**
 * What comparing sources of 2,000 combinations over 60 months takes, beside a bare loop that adds the
 * same sources up by row and month, in one run.
 */
import {
  bridgeOf,
  compare,
  compareAcross,
  compile,
  evaluate,
  figuresFromRows,
  forecastFigures,
  keepForecast,
  type Figures,
} from '@dravex/core';
import { planOf } from './plan.ts';
import { median, report, say } from './report.ts';

const STREAMS = 2000;
const plan = planOf(STREAMS);
const model = evaluate(compile(plan));
const { tree } = model;
const forecast = forecastFigures(model);
const span = { from: model.first, to: model.first + model.count - 1 };
/** The forecast as it is kept, its revenue so many percent larger. */
const kept = (more: number): Figures =>
  figuresFromRows(
    plan,
    keepForecast(forecast, span, 2).rows.map((row) => ({
      ...row,
      revenue: Math.round(row.revenue * (1 + more + (row.combination % 7) / 100)),
    })),
  );
const [budget, before] = [kept(0.03), kept(-0.02)];
const rows = plan.dimensions.slice(0, 2).map(({ code }) => code);

/** Both dimensions by hand: revenue of each source by place, product and month. */
function bare(sources: readonly Figures[]): number {
  let sum = 0;
  for (const { combinations, measures, count } of sources) {
    const sums = new Map<string, Float64Array>();
    combinations.forEach(({ members }, index) => {
      for (const key of [`${members[0] ?? 0}`, members.slice(0, 2).join()]) {
        const row = sums.get(key) ?? new Float64Array(count);
        sums.set(key, row);
        for (let t = 0; t < count; t += 1) {
          row[t] = (row[t] ?? 0) + (measures.revenue[index * count + t] ?? 0);
        }
      }
    });
    sum += sums.size;
  }
  return sum;
}

const RUNS = 15;
const query = { measure: 'revenue', rows, scope: [], span } as const;
const year = { from: span.from, to: span.from + 11 };
const across = { rows, scope: [], span: year, measures: ['revenue'], grain: 'month' } as const;
const codes = plan.dimensions.map(({ code }) => code);
for (const work of [
  () => compare(forecast, budget, tree, query, span, [before]),
  () => compareAcross(forecast, budget, tree, across, year, 1),
  () => bridgeOf(forecast, budget, tree, { by: codes, scope: [], span: year }),
  () => bare([forecast, budget, before]),
]) {
  work();
}
const three = median(RUNS, () => bare([forecast, budget, before]));
const two = median(RUNS, () => bare([forecast, budget]));
say(`Comparison, ${STREAMS} combinations x ${model.count} months`);
report(
  'three sources, two dimensions',
  median(RUNS, () => compare(forecast, budget, tree, query, span, [before])),
  three,
  'a bare loop',
);
report(
  'month by month, two sources',
  median(RUNS, () => compareAcross(forecast, budget, tree, across, year, 1)),
  two,
  'a bare loop',
);
report(
  'bridge by all dimensions',
  median(RUNS, () => bridgeOf(forecast, budget, tree, { by: codes, scope: [], span: year })),
  two,
  'a bare loop',
);
