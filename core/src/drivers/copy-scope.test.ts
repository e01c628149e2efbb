import { assert } from 'chai';
import { MemberTree } from '../dimensions/member-tree.ts';
import { assume, M, smallPlan } from '../testing/small-plan.ts';
import type { Adjustment } from './adjustment.ts';
import { copyScope } from './copy-scope.ts';

describe('copying a scope’s assumptions', () => {
  const tree = new MemberTree(smallPlan([]).dimensions);
  const assumptions = [
    assume('discount', [M.web], 0.1),
    assume('discount', [M.web, M.carafe], 0.2, { from: '2026-03' }),
    assume('discount', [M.stores], 0.3),
    assume('discount', [M.stores, M.carafe], 0.4),
    assume('listPrice', [M.web], 10),
    assume('discount', [], 0.05),
  ];
  const adjust = (scope: Adjustment['scope'], value: number): Adjustment => ({
    id: 100 + value,
    driver: 'discount',
    scope,
    from: '2026-05',
    to: null,
    kind: 'plus',
    value,
    note: '',
  });
  const kept = { assumptions, adjustments: [adjust([M.web], 1), adjust([M.stores], 2)] };
  const only = (...codes: string[]) => new Set(codes);

  it('takes the scope and what is narrower along, and replaces what stands there', () => {
    const copies = copyScope(kept, tree, [M.web], [M.stores], only('discount'));
    const { put, drop } = copies.assumptions;
    assert.deepEqual(
      put.map(({ scope, from }) => [scope, from]),
      [
        [[M.stores], null],
        [[M.stores, M.carafe], '2026-03'],
      ],
    );
    assert.deepEqual(drop, [assumptions[2]?.id ?? 0], 'other months stay beside it');
    const changed = copies.adjustments;
    assert.deepEqual(
      changed.put.map(({ scope, kind, value }) => [scope, kind, value]),
      [[[M.stores], 'plus', 1]],
      'what is changed on top goes along',
    );
    assert.deepEqual(changed.drop, [102]);
  });

  it('copies every driver that is asked for, and nothing where nothing is set', () => {
    const both = only('discount', 'listPrice');
    assert.lengthOf(copyScope(kept, tree, [M.web], [M.stores], both).assumptions.put, 3);
    assert.isEmpty(copyScope(kept, tree, [M.north], [M.coast], both).assumptions.put);
  });

  it('refuses scopes of other dimensions', () => {
    const wrong: [number[], number[]][] = [
      [[], []],
      [[M.web], [M.carafe]],
      [[M.web], [M.stores, M.carafe]],
      [[M.web, M.carafe], [M.stores]],
      [[M.web, M.stores], [M.stores]],
    ];
    for (const [from, into] of wrong) {
      assert.throws(() => copyScope(kept, tree, from, into, only('discount')), RangeError);
    }
  });
});
