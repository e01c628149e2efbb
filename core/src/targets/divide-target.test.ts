import { assert } from 'chai';
import fc from 'fast-check';
import { monthFrom } from '../calendar/month.ts';
import { DivisionError } from '../spread/divide.ts';
import { divideTarget, handOver, passDown, proposeParts, type Mix } from './divide-target.ts';
import type { TargetPart } from './share-out.ts';
import { shareOut } from './share-out.ts';
import { EVERYTHING, PLAIN_ENTRY, type TargetEntry, type TargetLine } from './target-tree.ts';

/** A line with nothing but what dividing looks at. */
function line(
  id: number,
  parent: number | null,
  amount: number,
  more: Omit<Partial<TargetLine>, 'entry'> & { entry?: Partial<TargetEntry> } = {},
): TargetLine {
  const { entry, ...rest } = more;
  return {
    entry: {
      ...PLAIN_ENTRY,
      ...{ id, parent, name: `N${id}`, kind: parent === null ? 'company' : 'person' },
      part: { kind: 'amount', amount },
      ...entry,
    },
    ...{ level: 0, holder: EVERYTHING, known: true, amount, share: null, assignable: amount },
    ...{ unassigned: null, overAssigned: null, cushionUsed: 0, percentsBelow: 0 },
    ...{ lastYear: 0, actual: 0, outlook: 0, others: null, ahead: 0, aheadShare: 1 },
    ...{ capacity: null, best: 0, months: null, due: null, attained: null, toDate: null },
    pace: null,
    ...rest,
  };
}
const sum = (values: Iterable<number>): number => [...values].reduce((all, one) => all + one, 0);

describe('dividing a target', () => {
  const parts = [
    line(2, 1, 10, { lastYear: 300, outlook: 100, capacity: 50 }),
    line(3, 1, 20, { lastYear: 100, outlook: 100, capacity: 150 }),
    line(4, 1, 40, { lastYear: 600, outlook: 800, capacity: 0, entry: { locked: true } }),
  ];

  it('goes by one basis or a mix of them, and keeps what is locked', () => {
    assert.deepEqual(proposeParts(100, parts, { equal: 1 }), [30, 30, 40]);
    assert.deepEqual(proposeParts(100, parts, { lastYear: 1 }), [45, 15, 40]);
    assert.deepEqual(proposeParts(100, parts, { capacity: 100 }), [15, 45, 40]);
    // Half by last year (3 : 1), half by capacity (1 : 3).
    assert.deepEqual(proposeParts(100, parts, { lastYear: 50, capacity: 50 }), [30, 30, 40]);
    // A fifth of it by last year: 0.2 x 3/4 + 0.8 x 1/4 of 60.
    assert.deepEqual(proposeParts(100, parts, { lastYear: 20, capacity: 80 }), [21, 39, 40]);
  });

  it('is refused where locks go beyond the total, and where no basis says anything', () => {
    assert.throws(() => proposeParts(39, parts, { equal: 1 }), DivisionError, /goes beyond/);
    const nobody = parts.map((part) => ({ ...part, lastYear: 0 }));
    assert.throws(() => proposeParts(100, nobody, { lastYear: 1 }), DivisionError, /nothing/);
  });

  it('adds up at every level of a whole tree, with a cushion where it is handed out', () => {
    const part = fc.record({
      lastYear: fc.integer({ min: -50, max: 1e6 }),
      capacity: fc.option(fc.integer({ min: 0, max: 1e6 })),
      outlook: fc.integer({ min: 0, max: 1e6 }),
    });
    const mix = fc.record({
      equal: fc.constant(1),
      lastYear: fc.integer({ min: 0, max: 100 }),
      forecast: fc.integer({ min: 0, max: 100 }),
      capacity: fc.integer({ min: 0, max: 100 }),
    });
    fc.assert(
      fc.property(
        fc.array(fc.tuple(part, fc.array(part, { maxLength: 4 })), { minLength: 1, maxLength: 5 }),
        mix,
        fc.integer({ min: 0, max: 1e9 }),
        fc.integer({ min: 0, max: 20 }),
        fc.boolean(),
        (areas, by, amount, cushion, withCushion) => {
          const lines = [
            line(1, null, amount, { entry: { cushion } }),
            ...areas.flatMap(([area, people], at) => [
              line(10 + at, 1, 0, area),
              ...people.map((person, place) => line(100 + at * 10 + place, 10 + at, 0, person)),
            ]),
          ];
          const made = divideTarget(lines, 1, { mix: by, withCushion, deep: true });
          for (const { entry } of lines) {
            const below = lines.filter((one) => one.entry.parent === entry.id);
            if (below.length === 0) continue;
            const own = entry.id === 1 ? amount : (made.get(entry.id) ?? Number.NaN);
            const out = entry.id === 1 && withCushion ? Math.round(own * (1 + cushion / 100)) : own;
            assert.equal(sum(below.map((one) => made.get(one.entry.id) ?? Number.NaN)), out);
          }
        },
      ),
    );
  });

  it('passes a change down in proportion: percents follow, locks stay, what is left grows too', () => {
    const tree = [
      line(1, null, 1000),
      line(2, 1, 500, { entry: { part: { kind: 'percent', percent: 50 } } }),
      line(3, 1, 200),
      line(4, 1, 100, { entry: { locked: true } }),
      line(5, 2, 300),
      line(6, 2, 100),
    ];
    const made = passDown(tree, 1, { was: 1000, becomes: 2000 });
    // Of 2,000 a fifth is still unassigned; half follows by itself and 100 stay.
    assert.deepEqual(
      [...made],
      [
        [5, 600],
        [6, 200],
        [3, 500],
      ],
    );
    assert.throws(
      () => passDown(tree, 1, { was: 1000, becomes: 100 }),
      DivisionError,
      /locked below N1/,
    );
    assert.isEmpty(passDown(tree, 1, { was: 1000, becomes: 1000 }), 'nothing changes');
  });

  it('passed down, a fully assigned target stays fully assigned', () => {
    const amounts = fc.array(fc.integer({ min: 0, max: 1e6 }), { minLength: 1, maxLength: 6 });
    fc.assert(
      fc.property(amounts, fc.integer({ min: 0, max: 1e9 }), (sizes, next) => {
        const before = sum(sizes);
        const tree = [line(1, null, before), ...sizes.map((size, at) => line(2 + at, 1, size))];
        const made = passDown(tree, 1, { was: before, becomes: next });
        const now = tree.slice(1).map((one) => made.get(one.entry.id) ?? one.amount);
        assert.equal(sum(now), next);
        // Up again it is the same number; what stood still stays.
        const parts: TargetPart[] = now.map((amount) => ({ kind: 'amount', amount }));
        assert.deepInclude(shareOut(next, parts), { unassigned: 0, overAssigned: 0 });
      }),
    );
  });

  it('hands over what is left of the year to those who stay', () => {
    const months = Array.from({ length: 12 }, (_, month) => (month < 6 ? 15 : 5));
    const start = monthFrom('2026-04');
    const people = [
      line(1, null, 500),
      line(2, 1, 120, { months }),
      line(3, 1, 200, { lastYear: 100 }),
      line(4, 1, 100, { lastYear: 300 }),
      line(5, 1, 80, { lastYear: 300, entry: { locked: true } }),
      line(6, 1, 0, { lastYear: 300, entry: { until: monthFrom('2026-05') } }),
    ];
    const by: Mix = { lastYear: 1 };
    const given = handOver(people, 2, { until: monthFrom('2026-10'), start, mix: by });
    assert.deepEqual([given.stays, given.rest], [95, 25]);
    assert.deepEqual(
      [...given.amounts],
      [
        [3, 206],
        [4, 119],
      ],
    );
    const alone = people.slice(0, 2);
    assert.throws(
      () => handOver(alone, 2, { until: monthFrom('2026-10'), start, mix: by }),
      DivisionError,
      /Nobody stays/,
    );
  });
});
