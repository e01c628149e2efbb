import { assert } from 'chai';
import fc from 'fast-check';
import { readSellers, sharedBetween } from './shared-sale.ts';

describe('a sale that two sellers share', () => {
  it('is read in several spellings and kept in one', () => {
    for (const text of ['S01 60 + S02 40', 'S01:60%+S02:40%', ' S01 60.0 % + S02 40,0 ']) {
      assert.deepEqual(readSellers(text), { kept: 'S01 60 + S02 40' }, text);
    }
    assert.deepEqual(readSellers('S01'), { kept: 'S01' });
  });

  it('is refused where shares do not add up, or one has them all', () => {
    const wrong = (text: string): string => {
      const read = readSellers(text);
      return 'wrong' in read ? read.wrong : '';
    };
    assert.match(wrong('S01 60 + S02 30'), /do not add up to 100/);
    assert.match(wrong('S01 100 + S02 0'), /do not add up/);
    assert.match(wrong('S01 60 + S01 40'), /nobody else/);
    assert.match(wrong('S01 + S02'), /two share a sale as/);
  });

  it('adds up to the cent', () => {
    const percents = fc.integer({ min: 1, max: 999 }).map((tenths) => tenths / 10);
    fc.assert(
      fc.property(fc.integer({ min: -1e9, max: 1e9 }), percents, (amount, percent) => {
        const [first, second] = sharedBetween(amount, percent);
        assert.equal(first + second, amount);
        assert.isAtMost(Math.abs(first - (amount * percent) / 100), 0.5 + 1e-6);
      }),
    );
  });
});
