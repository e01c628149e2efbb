/**
 * What the core takes beside a bare typed-array loop of the same model, and beside a general
 * spreadsheet-formula library on the same formulas, in one run. Ratios of medians; times are of
 * this machine and for the reader only.
 */
import {
  change,
  compile,
  evaluate,
  planOf as planNow,
  runUnder,
  typeValues,
  type Model,
  type ResultCode,
} from '@dravex/core';
import { HyperFormula } from 'hyperformula';
import { Bench } from 'tinybench';
import { planOf } from './plan.ts';
import { median, report, say } from './report.ts';

const STREAMS = 2000;
/** The library is measured on fewer streams, and the core beside it on the same. */
const SHEET_STREAMS = 200;

const model = evaluate(compile(planOf(STREAMS)));

/** A result of all streams in one array, months innermost. */
function flat({ results, count }: Model, code: ResultCode): Float64Array {
  const all = new Float64Array(results[code].length * count);
  results[code].forEach((series, stream) => all.set(series, stream * count));
  return all;
}

/** The series that the method of each stream reads. */
const seriesOf = (of: Model): Float64Array[][] =>
  of.streams.map(({ needed }, stream) =>
    (of.inputs[stream] ?? []).slice(0, needed).map(({ values }) => values),
  );

/** The same model by hand: no plan, no methods, only the arrays. */
function bareLoopOf(of: Model): { run: () => void; revenue: Float64Array } {
  const inputs = seriesOf(of);
  const units = new Float64Array(of.streams.length * of.count);
  const revenue = new Float64Array(of.streams.length * of.count);
  const run = (): void => {
    for (let stream = 0; stream < inputs.length; stream += 1) {
      const [gross, price, discount, returns] = inputs[stream] ?? [];
      if (!gross || !price || !discount || !returns) continue;
      const offset = stream * of.count;
      for (let t = of.open; t < of.count; t += 1) {
        const net = (gross[t] ?? 0) * (1 - (returns[t] ?? 0));
        units[offset + t] = net;
        revenue[offset + t] = net * (price[t] ?? 0) * (1 - (discount[t] ?? 0));
      }
    }
  };
  return { run, revenue };
}

/** One assumption of one stream in a model of `streams` streams. */
function oneEdit(streams: number, several = false): () => void {
  const edited = evaluate(compile(planOf(streams, several)));
  const scope = edited.streams[0]?.combination.members ?? [];
  let value = 0;
  return () => {
    value += 1;
    const typed = [{ scope, month: '2027-05', value }];
    change(edited, typeValues('grossUnits', edited.assumptions, typed));
  };
}

const bare = bareLoopOf(model);
bare.run();
const computed = flat(model, 'revenue');
if (bare.revenue.some((value, at) => value !== computed[at])) {
  throw new Error('The bare loop and the core do not agree');
}

/** The mixed model by hand, a branch a stream. */
function bareMixed(of: Model): { run: () => void; revenue: Float64Array } {
  const own = seriesOf(of);
  const series = of.streams.map(({ stream }, place) => ({
    method: stream.method,
    inputs: own[place] ?? [],
  }));
  const units = flat(of, 'units');
  const revenue = flat(of, 'revenue');
  const run = (): void => {
    series.forEach(({ method, inputs: [a, b, c, d] }, stream) => {
      const offset = stream * of.count;
      for (let t = of.open; t < of.count; t += 1) {
        const at = offset + t;
        if (method === 'amount') {
          units[at] = 0;
          revenue[at] = a?.[t] ?? 0;
        } else if (method === 'growthLastYear') {
          const factor = 1 + (a?.[t] ?? 0);
          units[at] = (units[at - 12] ?? 0) * factor;
          revenue[at] = (revenue[at - 12] ?? 0) * factor;
        } else if (method === 'marketShare') {
          const net = (a?.[t] ?? 0) * (b?.[t] ?? 0);
          units[at] = net;
          revenue[at] = net * (c?.[t] ?? 0) * (1 - (d?.[t] ?? 0));
        } else {
          const net = (a?.[t] ?? 0) * (1 - (d?.[t] ?? 0));
          units[at] = net;
          revenue[at] = net * (b?.[t] ?? 0) * (1 - (c?.[t] ?? 0));
        }
      }
    });
  };
  return { run, revenue };
}
const mixed = evaluate(compile(planOf(STREAMS, true)));
const bareOfMixed = bareMixed(mixed);
bareOfMixed.run();
const ofMixed = flat(mixed, 'revenue');
if (bareOfMixed.revenue.some((value, at) => Math.abs(value - (ofMixed[at] ?? NaN)) > 1e-6)) {
  throw new Error('The bare loop and the core do not agree on mixed methods');
}

const bench = new Bench({ time: 1500 });
bench
  .add('bare loop', bare.run)
  .add('evaluate', () => evaluate(model))
  .add('compile and evaluate', () => evaluate(compile(planNow(model))))
  .add('one edit, 2,000 streams', oneEdit(STREAMS))
  .add('one edit, 200 streams', oneEdit(200))
  .add('one driver more over everything, a run beside', () =>
    runUnder(model, {
      adjustments: [
        {
          id: 0,
          driver: 'listPrice',
          scope: [],
          from: null,
          to: null,
          kind: 'times',
          value: 1.01,
          note: '',
          tried: true,
        },
      ],
    }),
  )
  .add('bare loop, methods mixed', bareOfMixed.run)
  .add('evaluate, methods mixed', () => evaluate(mixed))
  .add('one edit, methods mixed', oneEdit(STREAMS, true));
await bench.run();
const medians = new Map(
  bench.tasks.map(({ name, result }) => [name, 'latency' in result ? result.latency.p50 : NaN]),
);
say('2,000 streams x 60 months, volume x price, against a bare loop');
for (const [name, time] of medians) {
  const peer = name.endsWith('mixed') ? 'bare loop, methods mixed' : 'bare loop';
  report(name, time, medians.get(peer) ?? NaN, peer);
}

// --- memory ---------------------------------------------------------------------------------
/** What a model of a plan that is there already takes, in bytes. */
async function memoryOf(streams: number): Promise<{ model: number; results: number }> {
  const plan = planOf(streams);
  const collect = (globalThis as { gc?: () => void }).gc;
  if (!collect) throw new Error('Run it with --expose-gc');
  // Once, so that what is compiled and remembered for good does not count.
  evaluate(compile(plan));
  /** Buffers are given back a moment after what held them. */
  const settle = async (): Promise<void> => {
    for (let round = 0; round < 3; round += 1) {
      collect();
      await new Promise((resolve) => setTimeout(resolve, 50));
    }
  };
  await settle();
  const before = process.memoryUsage();
  const kept = evaluate(compile(plan));
  await settle();
  const after = process.memoryUsage();
  const used = after.heapUsed + after.arrayBuffers - before.heapUsed - before.arrayBuffers;
  const size = streams * kept.count * Float64Array.BYTES_PER_ELEMENT;
  return { model: used, results: size * Object.keys(kept.results).length };
}
const memory = await memoryOf(STREAMS);
say('memory of a model of 2,000 streams x 60 months, beside its result arrays');
say(
  `  ${(memory.model / 1e6).toFixed(1)} MB, ${(memory.model / memory.results).toFixed(2)} x ${(memory.results / 1e6).toFixed(1)} MB`,
);

// --- a spreadsheet-formula library ------------------------------------------------------------
/** The same formulas in a sheet: a row a stream and month with four inputs, net units and revenue. */
function sheetOf(of: Model): (number | string)[][] {
  const rows: (number | string)[][] = [];
  for (const inputs of seriesOf(of)) {
    for (let t = of.open; t < of.count; t += 1) {
      const row = rows.length + 1;
      rows.push([
        ...inputs.map((values) => values[t] ?? 0),
        `=A${row}*(1-D${row})`,
        `=E${row}*B${row}*(1-C${row})`,
      ]);
    }
  }
  return rows;
}
const small = evaluate(compile(planOf(SHEET_STREAMS)));
const sheet = HyperFormula.buildFromArray(sheetOf(small), { licenseKey: 'gpl-v3' });
const last = small.streams.length * (small.count - small.open) - 1;
const told = sheet.getCellValue({ sheet: 0, row: last, col: 5 });
if (Math.abs(Number(told) - (small.results.revenue.at(-1)?.at(-1) ?? NaN)) > 1e-6) {
  throw new Error('The sheet and the core do not agree');
}
const whole = median(5, () => sheet.rebuildAndRecalculate());
const core = median(200, () => evaluate(small));
say(`${SHEET_STREAMS} streams x 60 months, against the spreadsheet-formula library`);
say(
  `  all computed: the core is ${Math.round(whole / core)} x as fast (${whole.toFixed(1)} ms and ${core.toFixed(3)} ms)`,
);
let typed = 0;
const cell = median(200, () => {
  typed += 1;
  sheet.setCellContents({ sheet: 0, row: 5, col: 0 }, typed);
});
const edit = median(200, oneEdit(SHEET_STREAMS));
say(`  one cell typed: ${cell.toFixed(3)} ms and ${edit.toFixed(3)} ms`);
