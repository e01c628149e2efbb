import { assert } from 'chai';
import { MemberTree } from '../dimensions/member-tree.ts';
import { assume, M, smallPlan } from '../testing/small-plan.ts';
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
  const only = (...codes: string[]) => new Set(codes);

  it('takes the scope and what is narrower along, and replaces what stands there', () => {
    const { put, drop } = copyScope(assumptions, tree, [M.web], [M.stores], only('discount'));
    assert.deepEqual(
      put.map(({ scope, from }) => [scope, from]),
      [
        [[M.stores], null],
        [[M.stores, M.carafe], '2026-03'],
      ],
    );
    assert.deepEqual(drop, [assumptions[2]?.id ?? 0], 'other months stay beside it');
  });

  it('copies every driver that is asked for, and nothing where nothing is set', () => {
    const both = only('discount', 'listPrice');
    assert.lengthOf(copyScope(assumptions, tree, [M.web], [M.stores], both).put, 3);
    assert.isEmpty(copyScope(assumptions, tree, [M.north], [M.coast], both).put);
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
      assert.throws(() => copyScope(assumptions, tree, from, into, only('discount')), RangeError);
    }
  });
});
