import { assert } from 'chai';
import { ref } from 'vue';
import { useFolding } from './use-folding.ts';

const rows = ref([
  { key: 'a', level: 0, parent: true },
  { key: 'a/1', level: 1, parent: true },
  { key: 'a/1/x', level: 2, parent: false },
  { key: 'b', level: 0, parent: true },
  { key: 'b/1', level: 1, parent: false },
]);
const keys = (folding: { visible: { value: readonly { key: string }[] } }): string =>
  folding.visible.value.map(({ key }) => key).join(' ');

describe('folding', () => {
  it('shows rows to a depth, and opens and folds one at a time', () => {
    const folding = useFolding(rows, 1);
    assert.equal(keys(folding), 'a a/1 b b/1');
    folding.toggle('a/1');
    assert.equal(keys(folding), 'a a/1 a/1/x b b/1');
    folding.toggle('a');
    assert.equal(keys(folding), 'a b b/1');
    folding.toggle('a');
    assert.equal(keys(folding), 'a a/1 a/1/x b b/1', 'what was open below stays open');
  });

  it('brings a row into sight by opening what lies above it, and nothing else', () => {
    const folding = useFolding(rows, 0);
    assert.equal(keys(folding), 'a b');
    folding.unfold('a/1/x');
    assert.equal(keys(folding), 'a a/1 a/1/x b');
    folding.unfold('a/1/x');
    assert.equal(keys(folding), 'a a/1 a/1/x b');
  });

  it('goes to another depth as a whole', () => {
    const folding = useFolding(rows, 0);
    folding.toggle('a');
    folding.showDepth(2);
    assert.equal(keys(folding), 'a a/1 a/1/x b b/1');
    folding.showDepth(0);
    assert.equal(keys(folding), 'a b');
  });
});
