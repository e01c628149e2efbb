import { at, explainValued, PRICED, valueUnits, type Method } from './method.ts';

/** Share of market: net units = market size x share; revenue by list price and discount. */
export const marketShare: Method = {
  code: 'marketShare',
  name: 'Share of a market',
  when: 'The market is measured, and the question is how much of it will be yours.',
  needs: 'A market size, a share and a list price.',
  inputs: () => ['marketSize', 'marketShare', ...PRICED],
  writes: ['units', 'revenue'],
  compute(stretch) {
    const { inputs, results, from, to } = stretch;
    for (let t = from; t < to; t += 1) {
      results.units[t] = at(inputs[0], t) * at(inputs[1], t);
    }
    valueUnits(stretch, 2);
  },
  actsOn: (code, { inputs }, t) => (code === 'marketShare' ? at(inputs[0], t) : undefined),
  explain: (result, explaining) =>
    result === 'revenue'
      ? explainValued(explaining)
      : {
          shape: 'product',
          parts: [explaining.driver('marketSize'), explaining.driver('marketShare')],
        },
};
