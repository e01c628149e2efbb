import { computed, ref, type Ref } from 'vue';
import { amongSiblings } from './among-siblings.ts';

/**
 * Rows in the order of a column, each among those of the same row; as they come where no column is
 * chosen. Pressing a column's arrow turns from the largest first to the smallest first to none.
 * @param valueOf a row's number in a column; null where it has none, which stands last
 */
export function useOrder<Row extends { readonly key: string }>(
  rows: Ref<readonly Row[]>,
  valueOf: (row: Row, column: string) => number | null,
) {
  const order = ref<{ readonly column: string; readonly down: boolean }>();
  function turn(column: string): void {
    const now = order.value;
    if (now?.column !== column) order.value = { column, down: true };
    else order.value = now.down ? { column, down: false } : undefined;
  }
  const ordered = computed(() => {
    const by = order.value;
    if (!by) return rows.value;
    const sign = by.down ? -1 : 1;
    return amongSiblings(rows.value, (a, b) => {
      const [one, two] = [valueOf(a, by.column), valueOf(b, by.column)];
      if (one === null || two === null) return Number(one === null) - Number(two === null);
      return sign * (one - two);
    });
  });
  /** The arrow of a column, where rows are in order by it. */
  const arrowOf = (column: string): { ordered?: string } =>
    order.value?.column === column ? { ordered: order.value.down ? '↓' : '↑' } : {};
  return { ordered, turn, arrowOf };
}
