/**
 * What subscriptions take beside a bare triple loop over subscriptions, cohorts and months that
 * counts subscribers and recurring revenue only, in one run.
 */
import { runOf, type SubscriptionInput } from '@dravex/core';
import { median, report, say } from './report.ts';

const [STREAMS, MONTHS] = [200, 60];
const inputs: SubscriptionInput[] = Array.from({ length: STREAMS }, (_, stream) => ({
  opening: { byAge: [100 + stream], price: 9 },
  starters: Float64Array.from({ length: MONTHS }, (_, t) => 20 + ((stream * 7 + t * 3) % 40)),
  churn: { kind: 'byAge', rates: [0.1, 0.06, 0.03 + stream / 1e5] },
  price: Float64Array.from({ length: MONTHS }, (_, t) => 9 + Math.floor(t / 12)),
  pricePolicy: 'current',
}));

/** The same by hand: no movements, only who is there and what they pay. */
function bare(): { active: Float64Array; revenue: Float64Array } {
  const active = new Float64Array(STREAMS * MONTHS);
  const revenue = new Float64Array(STREAMS * MONTHS);
  for (let stream = 0; stream < STREAMS; stream += 1) {
    const rates = [0.1, 0.06, 0.03 + stream / 1e5];
    for (let start = -1; start < MONTHS; start += 1) {
      let left = start < 0 ? 100 + stream : 20 + ((stream * 7 + start * 3) % 40);
      for (let t = Math.max(0, start); t < MONTHS; t += 1) {
        const age = t - start;
        if (age > 0) left *= 1 - (rates[Math.min(age, 3) - 1] ?? 0);
        const at = stream * MONTHS + t;
        active[at] = (active[at] ?? 0) + left;
        revenue[at] = (revenue[at] ?? 0) + left * (9 + Math.floor(t / 12));
      }
    }
  }
  return { active, revenue };
}

const expected = bare();
inputs.forEach((input, stream) => {
  const { active, revenue } = runOf(input).movement;
  for (let t = 0; t < MONTHS; t += 1) {
    const off = Math.abs((active[t] ?? NaN) - (expected.active[stream * MONTHS + t] ?? NaN));
    const money = Math.abs(
      (revenue.closing[t] ?? NaN) - (expected.revenue[stream * MONTHS + t] ?? NaN),
    );
    if (!(off < 1e-6 && money < 1e-6)) throw new Error('The loop and the core do not agree');
  }
});
say(`Subscriptions, ${STREAMS} x ${MONTHS} cohorts x ${MONTHS} months`);
for (let warm = 0; warm < 5; warm += 1) inputs.forEach((input) => void runOf(input));
const loop = median(15, () => void bare());
report('bare triple loop', loop, loop, 'bare loop');
report(
  'all movements',
  median(15, () => inputs.forEach((input) => void runOf(input))),
  loop,
  'bare loop',
);

/** The same with the churn of one month typed over, late in the horizon. */
const LATE = 48;
const steady: SubscriptionInput[] = inputs.map((input) => ({
  ...input,
  churnFactor: new Float64Array(MONTHS).fill(1),
}));
const typed = steady.map((input) => ({
  ...input,
  churnFactor: Float64Array.from({ length: MONTHS }, (_, t) => (t === LATE ? 1.2 : 1)),
}));
const runs = steady.map((input) => runOf(input));
report(
  'all movements, churn by month',
  median(15, () => steady.forEach((input) => void runOf(input))),
  loop,
  'bare loop',
);
report(
  `churn of month ${LATE} typed over`,
  median(15, () => typed.forEach((input, stream) => void runOf(input, runs[stream]))),
  loop,
  'bare loop',
);
