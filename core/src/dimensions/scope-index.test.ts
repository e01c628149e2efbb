import { assert } from 'chai';
import fc from 'fast-check';
import { COMBINATIONS, M, smallPlan } from '../testing/small-plan.ts';
import { MemberTree } from './member-tree.ts';
import { inScope } from './row-tree.ts';
import { scopeIndex } from './scope-index.ts';

describe('scopeIndex', () => {
  it('finds what a scope holds, whatever members it names, asked once or again', () => {
    const tree = new MemberTree(smallPlan([]).dimensions);
    const index = scopeIndex(tree, COMBINATIONS);
    const scopes = fc.uniqueArray(fc.constantFrom(...Object.values(M)), { maxLength: 4 });
    fc.assert(
      fc.property(scopes, (scope) => {
        const held = [...inScope(tree, COMBINATIONS, scope)];
        assert.deepEqual(index.within(scope), held);
        assert.deepEqual(index.within(scope), held);
      }),
      { numRuns: 300 },
    );
  });
});
