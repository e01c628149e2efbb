import { assert } from 'chai';
import { ref } from 'vue';
import { useOrder } from './use-order.ts';

describe('rows in the order of a column', () => {
  it('are the largest first, then the smallest, then as they came; no value stands last', () => {
    const values: Record<string, number | null> = { '1': 5, '1/2': 1, '1/3': 2, '4': 9, '5': null };
    const rows = ref(
      Object.keys({ '1': 0, '1/2': 0, '1/3': 0, '4': 0, '5': 0 })
        .sort()
        .map((key) => ({ key })),
    );
    const { ordered, turn, arrowOf } = useOrder(rows, ({ key }) => values[key] ?? null);
    const keys = (): string => ordered.value.map(({ key }) => key).join(' ');
    const before = keys();
    turn('a');
    assert.equal(keys(), '4 1 1/3 1/2 5');
    assert.deepEqual(arrowOf('a'), { ordered: '↓' });
    turn('a');
    assert.equal(keys(), '1 1/2 1/3 4 5');
    assert.deepEqual([arrowOf('a'), arrowOf('b')], [{ ordered: '↑' }, {}]);
    turn('a');
    assert.equal(keys(), before);
  });
});
