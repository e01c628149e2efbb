import { assert } from 'chai';
import fc from 'fast-check';
import { applyArithmetic } from './arithmetic.ts';
import { scaleExactly } from './scale.ts';

const cells = fc.array(fc.integer({ min: -1e9, max: 1e9 }), { minLength: 1, maxLength: 40 });

describe('scaleExactly', () => {
  it('gives the largest remainders the rest, ties to the earlier cell', () => {
    assert.deepEqual(scaleExactly([1, 1, 1], 1.5), [2, 2, 1]);
    assert.deepEqual(scaleExactly([100, 200, 301], 1.08), [108, 216, 325]);
    assert.deepEqual(scaleExactly([-1, -1], 1.5), [-1, -2]);
  });

  it('adds up to the rounded total and leaves no cell more than one off, whatever the numbers', () => {
    fc.assert(
      fc.property(cells, fc.integer({ min: -300, max: 300 }), (values, percent) => {
        const factor = Number((1 + percent / 100).toPrecision(15));
        const scaled = scaleExactly(values, factor);
        const sum = (list: readonly number[]): number => list.reduce((a, b) => a + b, 0);
        // In hundredths the product is exact, so the expectation does not round on its own way.
        const exact = BigInt(sum(values)) * BigInt(Math.round(factor * 100));
        const size = exact < 0n ? -exact : exact;
        const rounded = Number((size * 2n + 100n) / 200n) * (exact < 0n ? -1 : 1);
        assert.equal(sum(scaled), rounded === 0 ? 0 : rounded);
        values.forEach((value, index) => {
          assert.isAtMost(Math.abs((scaled[index] ?? NaN) - value * factor), 1 + 1e-5);
        });
      }),
    );
  });
});

describe('applyArithmetic', () => {
  it('sets, adds and multiplies as a person would work it out', () => {
    assert.deepEqual(applyArithmetic({ kind: 'set', value: 5 }, [1, 2], true), [5, 5]);
    assert.deepEqual(applyArithmetic({ kind: 'add', value: 0.2 }, [0.1], false), [0.3]);
    assert.deepEqual(applyArithmetic({ kind: 'times', factor: 1.1 }, [0.3], false), [0.33]);
  });

  it('keeps whole counts whole and their multiplied total exact', () => {
    const typed = applyArithmetic({ kind: 'times', factor: 1.08 }, [7, 7, 7, 7], true);
    assert.isTrue(typed.every(Number.isInteger));
    assert.equal(
      typed.reduce((a, b) => a + b, 0),
      30,
    );
  });
});
