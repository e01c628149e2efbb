import { assert } from 'chai';
import { factOverTime, ledgerShares, likelyNature } from './facts.ts';

describe('measured facts', () => {
  it('roll up over time by their nature', () => {
    assert.equal(factOverTime('flow', [1, null, 2]), 3);
    assert.equal(factOverTime('stock', [5, 7, null]), 7);
    assert.isNull(factOverTime('level', [4, 5]));
    assert.equal(factOverTime('level', [null, 5]), 5);
    assert.isNull(factOverTime('ratio', [0.1, 0.2]));
    assert.isNull(factOverTime('flow', [null, null]));
  });

  it('have a likely nature by their name', () => {
    assert.equal(likelyNature('Web visits'), 'flow');
    assert.equal(likelyNature('Satisfaction score'), 'level');
    assert.equal(likelyNature('Active plans'), 'stock');
    assert.equal(likelyNature('Open rate'), 'ratio');
  });
});

describe('ledgerShares', () => {
  it('shows revenue positive and every account as a share of it', () => {
    const shares = ledgerShares([
      { account: '4000', kind: 'revenue', amount: -80_000 },
      { account: '4010', kind: 'revenue', amount: -20_000 },
      { account: '5000', kind: 'expense', amount: 45_000 },
    ]);
    assert.deepEqual(
      shares.map(({ amount, share }) => [amount, share]),
      [
        [80_000, 0.8],
        [20_000, 0.2],
        [45_000, 0.45],
      ],
    );
    assert.isNull(ledgerShares([{ account: 'x', kind: 'expense', amount: 5 }])[0]?.share);
  });
});
