import { assert } from 'chai';
import { M, smallPlan } from '../testing/small-plan.ts';
import { MemberTree } from './member-tree.ts';
import { inBoth } from './scopes.ts';

describe('inBoth', () => {
  const tree = new MemberTree(smallPlan([]).dimensions);

  it('keeps what either names alone and the deeper of what both name', () => {
    assert.deepEqual(inBoth(tree, [M.web], [M.north]), [M.web, M.north]);
    assert.deepEqual(inBoth(tree, [M.hardware], [M.carafe]), [M.carafe]);
    assert.deepEqual(inBoth(tree, [M.carafe], [M.hardware, M.plans]), [M.carafe]);
    assert.deepEqual(inBoth(tree, [M.web], [M.web, M.stores]), [M.web]);
    assert.deepEqual(inBoth(tree, [], []), []);
  });
});
