import {
  monthText,
  natureOf,
  valueOrNull,
  type Driver,
  type DriverRow,
  type Nature,
  type Span,
} from '@dravex/core';
import { computed, type Ref } from 'vue';
import { shortMonth, spanInWords } from '../format/periods.ts';
import { WORDS } from '../format/words.ts';
import {
  cellsOnDemand,
  type Dress,
  type GridCell,
  type GridColumn,
  type GridRow,
} from '../grid/plan-grid.ts';
import { TOTAL, withTotal } from '../grid/table-rows.ts';
import { useFolding } from '../grid/use-folding.ts';
import { inOrder, useRowOrder } from '../grid/use-order.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { showValue, unitOf } from './driver-format.ts';
import { TEXTS } from './texts.ts';

/** What all months of the period together are called, by how the driver rolls up. */
const TOTALS: Readonly<Record<Nature, string>> = {
  flow: WORDS.total,
  stock: WORDS.lastMonth,
  ratio: TEXTS.average,
  level: '',
};

/** What a driver's grid is made of. */
export interface DriverGrid {
  readonly driver: Ref<Driver | undefined>;
  readonly rows: Ref<readonly DriverRow[]>;
  /** The open months in sight. */
  readonly open: Ref<Span>;
  readonly weightedBy: Ref<string | null>;
  /** Whether there is room for a total beside the months. */
  readonly roomy: Ref<boolean>;
}

/** The columns and rows of a driver's grid: months, what they come to, and whose each number is. */
export function useDriverGrid({ driver, rows, open, weightedBy, roomy }: DriverGrid) {
  const plan = usePlan();
  const { formats } = useFrame();
  const { order, turnOrder, arrowOf } = useRowOrder();
  const nature = computed<Nature>(() => (driver.value ? natureOf(driver.value) : 'level'));

  const columns = computed<GridColumn[]>(() => {
    const list: GridColumn[] = [];
    const { from, to } = open.value;
    const many = to - from >= 12 || Math.floor(from / 12) !== Math.floor(to / 12);
    for (let month = from; month <= to; month += 1) {
      const key = monthText(month);
      list.push({ key, heading: shortMonth(month, many), size: 70, ...arrowOf(key) });
    }
    const heading = TOTALS[nature.value];
    return heading && list.length > 1 && roomy.value
      ? withTotal(heading, list, {
          ...arrowOf(TOTAL),
          fixed: TEXTS.isCalculatedFromMonthsEnter(heading),
        })
      : list;
  });
  /** Which month a column is of, counted from the first open one; −1 for all of them together. */
  const monthAt = (place: number): number => (columns.value[0]?.key === TOTAL ? place - 1 : place);
  function numberAt(row: DriverRow, place: number): number | null {
    const month = monthAt(place);
    return valueOrNull(month < 0 ? row.total : row.values[month]);
  }

  const ordered = computed(() => {
    const place = columns.value.findIndex(({ key }) => key === order.value?.column);
    return inOrder(rows.value, order.value, (row) => (place < 0 ? null : numberAt(row, place)));
  });
  const folding = useFolding(ordered, 2, 'drivers');

  const display = (value: number | null): string =>
    driver.value ? showValue(driver.value, value, formats.value) : '';
  /** A number as it is typed and added up, with its unit. */
  function typedCell(value: number | null): Pick<GridCell, 'typed' | 'value' | 'unit'> {
    const percent = driver.value?.kind === 'percent';
    return {
      typed: formats.value.typed(value, percent),
      value: value !== null && percent ? value * 100 : value,
      unit: driver.value ? unitOf(driver.value, formats.value.currency) : '',
    };
  }
  function titleOf(row: DriverRow, month: number): string {
    const holder = plan.assumptions.get(row.holders[month] ?? 0);
    if (holder) {
      return TEXTS.from(holder.scope.length > 0 ? plan.tree.label(holder.scope) : '');
    }
    const by = weightedBy.value;
    const mixed = row.mixed[month] === 1;
    return mixed ? TEXTS.differentValuesBelow(by) : '';
  }
  function cellOf(row: DriverRow, place: number): GridCell {
    const value = numberAt(row, place);
    const month = monthAt(place);
    // All months together follow from them.
    if (month < 0) {
      return {
        text: display(value),
        ...typedCell(value),
        dress: 'plain',
        title: `${TOTALS[nature.value]}, ${spanInWords(open.value)}`,
      };
    }
    let dress: Dress = 'plain';
    if (value === null) dress = 'missing';
    else if (row.own[month] === 1) dress = 'typed';
    else if (row.mixed[month] === 1) dress = 'mixed';
    return {
      text: value === null ? 'missing' : display(value),
      ...typedCell(value),
      dress,
      title: value === null ? 'missing' : titleOf(row, month),
    };
  }
  const gridRows = computed<GridRow[]>(() =>
    folding.visible.value.map((row) => ({
      key: row.key,
      label: row.label,
      level: row.level,
      parent: row.parent,
      folded: row.folded,
      strong: row.level < 2,
      cells: cellsOnDemand(columns.value.length, (place) => cellOf(row, place)),
    })),
  );
  return { columns, gridRows, ordered, turnOrder, ...folding };
}
