import { assert } from 'chai';
import fc from 'fast-check';
import { allocate, divide, DivisionError, spreadAsTheyStand } from './divide.ts';

const total = fc.integer({ min: -9_000_000_000_000, max: 9_000_000_000_000 });
const weight = fc.oneof(
  fc.integer({ min: 0, max: 1000 }),
  fc.integer({ min: 0, max: 100_000 }).map((n) => n / 100),
);
const weights = fc.array(weight, { minLength: 1, maxLength: 40 });
const some = weights.filter((list) => list.some((w) => w > 0));
const sum = (values: readonly number[]): number => values.reduce((a, b) => a + b, 0);

describe('divide', () => {
  it('always adds up to the total', () => {
    fc.assert(fc.property(total, some, (t, w) => sum(divide(t, w)) === t));
  });

  it('gives each child its exact share, less than one cent off', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 1_000_000 }), some, (t, w) => {
        const all = sum(w);
        divide(t, w).forEach((share, i) => {
          assert.isBelow(Math.abs(share - (t * (w[i] ?? 0)) / all), 1 + 1e-6);
        });
      }),
    );
  });

  it('gives zero weights nothing', () => {
    fc.assert(
      fc.property(total, some, (t, w) =>
        divide(t, w).every((share, i) => w[i] !== 0 || share === 0),
      ),
    );
  });

  it('divides a negative total as its absolute value', () => {
    fc.assert(
      fc.property(total, some, (t, w) => {
        assert.deepEqual(
          divide(-t, w).map((share) => share + 0),
          divide(t, w).map((share) => 0 - share),
        );
      }),
    );
  });

  it('gives ties to the earlier child', () => {
    assert.deepEqual(divide(100, [1, 1, 1]), [34, 33, 33]);
    assert.deepEqual(divide(2, [1, 1, 1]), [1, 1, 0]);
  });

  it('takes a decimal weight as the decimal that was typed', () => {
    // 0.1 + 0.2 is not 0.3 in doubles; as decimals the remainders tie exactly.
    assert.deepEqual(
      divide(
        1,
        [0.1, 0.2, 0.3].map((w) => w * 1),
      ),
      [0, 0, 1],
    );
    assert.deepEqual(divide(3, [0.3, 0.3, 0.3, 0.3]), [1, 1, 1, 0]);
  });

  it('refuses what cannot be divided', () => {
    assert.throws(() => divide(1, [0, 0]), DivisionError, 'zero');
    assert.deepEqual(divide(0, [0, 0]), [0, 0]);
    assert.throws(() => divide(10, [1, -1]), DivisionError, 'negative');
    assert.throws(() => divide(0.5, [1]), DivisionError, 'whole');
    assert.throws(() => divide(1, [Number.NaN]), RangeError);
  });
});

describe('allocate', () => {
  it('keeps what is locked and adds up with what nobody got', () => {
    const child = fc.record({
      weight: fc.integer({ min: 1, max: 50 }),
      locked: fc.option(fc.integer({ min: 0, max: 1000 }), { nil: undefined }),
    });
    fc.assert(
      fc.property(
        fc.integer({ min: 40_000, max: 1e9 }),
        fc.array(child, { minLength: 1, maxLength: 30 }),
        (t, children) => {
          const { amounts, unassigned } = allocate(t, children);
          assert.equal(sum(amounts) + unassigned, t);
          children.forEach(({ locked }, i) => {
            if (locked !== undefined) assert.equal(amounts[i], locked);
          });
        },
      ),
    );
  });

  it('leaves the rest unassigned when all are locked', () => {
    assert.deepEqual(allocate(100, [{ weight: 1, locked: 60 }]), { amounts: [60], unassigned: 40 });
    const locked = (amount: number) => [{ weight: 1, locked: amount }, { weight: 1 }];
    for (const [total, lock, excess] of [
      [5, 100, 95],
      [0, 100, 100],
      [-50, 100, 150],
      [-50, -80, 30],
    ] as const) {
      let refused: unknown;
      try {
        allocate(total, locked(lock));
      } catch (error) {
        refused = error;
      }
      assert.instanceOf(refused, DivisionError);
      assert.deepInclude(refused, { code: 'over-committed', excess });
    }
    assert.deepEqual(allocate(-50, locked(-20)).amounts, [-20, -30]);
    assert.deepEqual(allocate(50, locked(-20)).amounts, [-20, 70]);
    assert.deepEqual(allocate(-50, locked(0)).amounts, [0, -50]);
  });
});

describe('spreadAsTheyStand', () => {
  it('adds up to the new total', () => {
    const cells = fc.array(fc.integer({ min: -1e9, max: 1e9 }), { minLength: 1, maxLength: 60 });
    fc.assert(fc.property(total, cells, (t, c) => sum(spreadAsTheyStand(t, c)) === t));
  });

  it('spreads equally over cells that are all zero', () => {
    assert.deepEqual(spreadAsTheyStand(10, [0, 0, 0]), [4, 3, 3]);
  });

  it('changes nothing when the total is what it was', () => {
    assert.deepEqual(spreadAsTheyStand(6, [1, 2, 3]), [1, 2, 3]);
  });
});
