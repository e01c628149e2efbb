import { amongSiblings, byValue, type RowOrder } from '@dravex/core';
import { computed } from 'vue';
import { useRoute } from 'vue-router';
import { useFrame } from '../shell/use-frame.ts';

const ARROWS = { true: '↓', false: '↑' } as const;
/** The arrow of a column, where rows are in order by it. */
export function arrowIn(order: RowOrder | undefined, column: string): { ordered?: string } {
  return order?.column === column ? { ordered: ARROWS[`${order.descending}`] } : {};
}

/** What a press on a column's arrow turns to: the largest first, the smallest first, no order. */
export function turned(now: RowOrder | undefined, column: string): RowOrder | undefined {
  if (now?.column !== column) return { column, descending: true };
  return now.descending ? { column, descending: false } : undefined;
}

/** By which column a table's rows are in order: it stands in the address. */
export function useRowOrder() {
  const route = useRoute();
  const { set } = useFrame();
  const order = computed<RowOrder | undefined>(() => {
    const text = route.query['order'];
    const [column = '', way] = typeof text === 'string' ? text.split('|') : [];
    return column === '' ? undefined : { column, descending: way !== 'up' };
  });
  const setOrder = (wanted: RowOrder | undefined): Promise<unknown> =>
    set({ order: wanted && `${wanted.column}|${wanted.descending ? 'down' : 'up'}` });
  return {
    order,
    setOrder,
    turnOrder: (column: string) => void setOrder(turned(order.value, column)),
    arrowOf: (column: string) => arrowIn(order.value, column),
  };
}

/**
 * Rows in the order of a column, each among those of the same row; as they come where no column is
 * chosen.
 * @param valueOf a row's number in a column; null where it has none, which stands last
 */
export function inOrder<Row extends { readonly level: number }>(
  rows: readonly Row[],
  order: RowOrder | undefined,
  valueOf: (row: Row, column: string) => number | null,
): readonly Row[] {
  if (!order) return rows;
  return amongSiblings(
    rows,
    byValue((row) => valueOf(row, order.column), order.descending),
  );
}
