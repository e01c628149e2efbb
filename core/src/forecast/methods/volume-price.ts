import {
  at,
  explainValued,
  PRICED,
  netUnitsOf,
  oneMinus,
  revenueOf,
  valueUnits,
  type Explaining,
  type Explanation,
  type Method,
  type Stretch,
} from './method.ts';

/** What another stream sold in the months before that count. */
function soldBefore({ stream, others }: Stretch, t: number): number {
  const { attached } = stream.settings ?? {};
  const units = others[0]?.units;
  if (!attached || !units) return Number.NaN;
  let sum = 0;
  for (let back = attached.from; back <= attached.to; back += 1) sum += at(units, t - back);
  return sum;
}

/** Attach rate x the other stream's net units of the months that count. */
function attachedUnits(stretch: Stretch): void {
  const { inputs, results, from, to } = stretch;
  for (let t = from; t < to; t += 1) {
    const gross = at(inputs[0], t) * soldBefore(stretch, t);
    results.units[t] = netUnitsOf(gross, at(inputs[3], t));
  }
}

function explainUnits({ stretch, t, driver, cell }: Explaining): Explanation {
  const { attached } = stretch.stream.settings ?? {};
  if (!attached) {
    return { shape: 'product', parts: [driver('grossUnits'), oneMinus(driver('returnRate'))] };
  }
  const months = Array.from({ length: attached.to - attached.from + 1 }, (_, i) =>
    cell('units', t - attached.from - i, 0),
  );
  const everyMonthKnown = months.every(({ value }) => value !== null);
  const sum = months.reduce((all, { value }) => all + (value ?? 0), 0);
  return {
    shape: 'product',
    parts: [
      driver('attachRate'),
      {
        label: 'Sold before',
        display: 'units',
        value: everyMonthKnown ? sum : null,
        incomplete: !everyMonthKnown,
        shape: 'plus',
        parts: months,
      },
      oneMinus(driver('returnRate')),
    ],
  };
}

/**
 * Volume x price: net units = gross units x (1 - return rate);
 * revenue = net units x list price x (1 - discount). Gross units are a driver, or what another
 * stream sold before times an attach rate.
 */
export const volumePrice: Method = {
  code: 'volumePrice',
  name: 'Volume x price',
  when: 'You can say how many will be sold and at what price, also as refills of what was sold before.',
  needs: 'Gross units (or an attach rate and another forecast line) and a list price.',
  inputs: ({ settings }) => [
    settings?.attached ? 'attachRate' : 'grossUnits',
    ...PRICED,
    'returnRate',
  ],
  writes: ['units', 'revenue'],
  reads: ({ settings }) =>
    settings?.attached
      ? [{ combination: settings.attached.combination, lag: settings.attached.from }]
      : [],
  problems({ stream, others, count }) {
    const { attached } = stream.settings ?? {};
    if (!attached) return [];
    const { from, to } = attached;
    const mistakes: string[] = [];
    if (!others[0]) mistakes.push('The forecast line that it follows is not there');
    if (from < 0 || to < from) mistakes.push(`Months ${from} to ${to} before are no stretch`);
    if (to >= count)
      mistakes.push(`It reads ${to} months back; the plan has ${count} months in all`);
    return mistakes;
  },
  compute(stretch) {
    const { stream, inputs, results, from, to } = stretch;
    if (stream.settings?.attached) {
      attachedUnits(stretch);
      valueUnits(stretch, 1);
      return;
    }
    // Written out: most streams of most plans are computed here.
    const [gross, price, discount, returns] = inputs;
    if (!gross || !price || !discount || !returns) return;
    const { units, revenue } = results;
    for (let t = from; t < to; t += 1) {
      const net = netUnitsOf(gross[t] ?? Number.NaN, returns[t] ?? Number.NaN);
      units[t] = net;
      revenue[t] = revenueOf(net, price[t] ?? Number.NaN, discount[t] ?? Number.NaN);
    }
  },
  actsOn: (code, stretch, t) => (code === 'attachRate' ? soldBefore(stretch, t) : undefined),
  explain: (result, explaining) =>
    result === 'units' ? explainUnits(explaining) : explainValued(explaining),
};
