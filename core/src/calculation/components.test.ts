import { assert } from 'chai';
import fc from 'fast-check';
import { componentsOf } from './components.ts';

describe('componentsOf', () => {
  it('puts everything after what it reads', () => {
    const reading = fc.record({ of: fc.nat(11), lag: fc.nat(2) });
    fc.assert(
      fc.property(
        fc.array(fc.array(reading, { maxLength: 3 }), { minLength: 12, maxLength: 12 }),
        (readings) => {
          const components = componentsOf(readings);
          const placeOf = new Map(
            components.flatMap(({ parts }, place) => parts.map((part) => [part, place])),
          );
          assert.equal(placeOf.size, readings.length);
          readings.forEach((list, at) => {
            for (const { of } of list) {
              assert.isAtMost(placeOf.get(of) ?? 0, placeOf.get(at) ?? 0);
            }
          });
          for (const { parts, circle } of components) {
            if (!circle) {
              parts.forEach((part, place) => {
                for (const { of, lag } of readings[part] ?? []) {
                  const other = parts.indexOf(of);
                  if (lag === 0 && other >= 0) assert.isBelow(other, place);
                }
              });
              continue;
            }
            assert.equal(circle[0], circle.at(-1));
            circle.slice(0, -1).forEach((part, place) => {
              const read = readings[part]?.some(
                ({ of, lag }) => lag === 0 && of === circle[place + 1],
              );
              assert.isTrue(read, 'each reads the next one in the same month');
            });
          }
        },
      ),
      { numRuns: 500 },
    );
  });

  it('names a circle in order, and lets one pass that goes through a lag', () => {
    const [circle] = componentsOf([[{ of: 1, lag: 0 }], [{ of: 2, lag: 0 }], [{ of: 0, lag: 0 }]]);
    assert.deepEqual(
      circle?.circle,
      [0, 1, 2, 0].map((part) => part),
    );
    const [lagged] = componentsOf([[{ of: 1, lag: 0 }], [{ of: 0, lag: 1 }]]);
    assert.isNull(lagged?.circle);
    assert.deepEqual(lagged?.parts, [1, 0]);
    assert.isTrue(lagged?.together);
  });

  it('takes a chain of ten thousand', () => {
    const chain = Array.from({ length: 10_000 }, (_, at) =>
      at === 0 ? [] : [{ of: at - 1, lag: 0 }],
    );
    assert.equal(componentsOf(chain).length, 10_000);
  });
});
