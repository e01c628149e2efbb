import {
  at,
  explainValued,
  PRICED,
  rest,
  valueUnits,
  type Explaining,
  type Explanation,
  type Method,
  type Stretch,
} from './method.ts';

/** Attach rate x the other stream's net units of the months that count. */
function attachedUnits({ stream, inputs, units, others, from, to, offset }: Stretch): void {
  const { attached } = stream.settings ?? {};
  const [other = -1] = others;
  if (!attached) return;
  const returns = inputs[3];
  for (let t = from; t < to; t += 1) {
    let base = other < 0 ? Number.NaN : 0;
    for (let back = attached.from; back <= attached.to; back += 1) {
      base += t - back < 0 ? Number.NaN : (units[other + t - back] ?? Number.NaN);
    }
    units[offset + t] = at(inputs[0], t) * base * (1 - at(returns, t));
  }
}

function explainUnits({ stretch, t, driver, cell }: Explaining): Explanation {
  const { attached } = stretch.stream.settings ?? {};
  if (!attached) {
    return { shape: 'product', parts: [driver('grossUnits'), rest(driver('returnRate'))] };
  }
  const months = Array.from({ length: attached.to - attached.from + 1 }, (_, i) =>
    cell('units', t - attached.from - i, 0),
  );
  const known = months.every(({ value }) => value !== null);
  const sum = months.reduce((all, { value }) => all + (value ?? 0), 0);
  return {
    shape: 'product',
    parts: [
      driver('attachRate'),
      {
        label: 'Sold before',
        display: 'units',
        value: known ? sum : null,
        incomplete: !known,
        shape: 'plus',
        parts: months,
      },
      rest(driver('returnRate')),
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
  needs: 'Gross units (or an attach rate and another stream) and a list price.',
  inputs: ({ settings }) => [
    settings?.attached ? 'attachRate' : 'grossUnits',
    ...PRICED,
    'returnRate',
  ],
  reads: ({ settings }) =>
    settings?.attached
      ? [{ combination: settings.attached.combination, lag: settings.attached.from }]
      : [],
  problems({ stream, others, count }) {
    const { attached } = stream.settings ?? {};
    if (!attached) return [];
    const { from, to } = attached;
    const found: string[] = [];
    if ((others[0] ?? -1) < 0) found.push('The stream that it follows is not there');
    if (from < 0 || to < from) found.push(`Months ${from} to ${to} before are no stretch`);
    if (to >= count) found.push(`It reads ${to} months back; the plan has ${count} months in all`);
    return found;
  },
  compute(stretch) {
    const { stream, inputs, units, revenue, offset, from, to } = stretch;
    if (stream.settings?.attached) {
      attachedUnits(stretch);
      valueUnits(stretch, 1);
      return;
    }
    // Written out: most streams of most plans are computed here.
    const [gross, price, discount, returns] = inputs;
    if (!gross || !price || !discount || !returns) return;
    for (let t = from; t < to; t += 1) {
      const net = (gross[t] ?? Number.NaN) * (1 - (returns[t] ?? Number.NaN));
      units[offset + t] = net;
      revenue[offset + t] = net * (price[t] ?? Number.NaN) * (1 - (discount[t] ?? Number.NaN));
    }
  },
  explain: (result, explaining) =>
    result === 'units' ? explainUnits(explaining) : explainValued(explaining),
};
