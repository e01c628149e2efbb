/**
 * `npm run bench`: what the core takes beside a bare typed-array loop of the same model, in one
 * run. Ratios of medians; times are of this machine and for the reader only.
 */
import { change, compile, evaluate, planOf as planNow, typeValues } from '@dravex/core';
import { Bench } from 'tinybench';
import { planOf } from './plan.ts';

const STREAMS = 2000;

const model = evaluate(compile(planOf(STREAMS)));
const inputs = model.streams.map(({ inputs: held }) => held.map(({ values }) => values));
const units = new Float64Array(model.units.length);
const revenue = new Float64Array(model.revenue.length);

/** The same model by hand: no plan, no methods, only the arrays. */
function bareLoop(): void {
  for (let stream = 0; stream < inputs.length; stream += 1) {
    const [gross, price, discount, returns] = inputs[stream] ?? [];
    if (!gross || !price || !discount || !returns) continue;
    const offset = stream * model.count;
    for (let t = model.open; t < model.count; t += 1) {
      const net = (gross[t] ?? 0) * (1 - (returns[t] ?? 0));
      units[offset + t] = net;
      revenue[offset + t] = net * (price[t] ?? 0) * (1 - (discount[t] ?? 0));
    }
  }
}

/** One assumption of one stream in a model of `streams` streams. */
function oneEdit(streams: number): () => void {
  const edited = evaluate(compile(planOf(streams)));
  const scope = edited.streams[0]?.combination.members ?? [];
  let value = 0;
  return () => {
    value += 1;
    const typed = [{ scope, month: '2027-05', value }];
    change(edited, typeValues('grossUnits', edited.assumptions, typed));
  };
}

bareLoop();
const differs = revenue.some((value, at) => value !== model.revenue[at]);
if (differs) throw new Error('The bare loop and the core do not agree');

const bench = new Bench({ time: 1500 });
bench
  .add('bare loop', bareLoop)
  .add('evaluate', () => evaluate(model))
  .add('compile and evaluate', () => evaluate(compile(planNow(model))))
  .add('one edit, 2,000 streams', oneEdit(STREAMS))
  .add('one edit, 200 streams', oneEdit(200));
await bench.run();

const medians = new Map(
  bench.tasks.map(({ name, result }) => [name, 'latency' in result ? result.latency.p50 : NaN]),
);
const bare = medians.get('bare loop') ?? NaN;
for (const [name, median] of medians) {
  const ratio = (median / bare).toFixed(2);
  process.stdout.write(
    `${name.padEnd(28)} ${median.toFixed(3).padStart(9)} ms   ${ratio.padStart(9)} x bare loop\n`,
  );
}
