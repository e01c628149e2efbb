<script setup lang="ts">
import {
  inBoth,
  isMaterial,
  questionOf,
  shownDifference,
  type Comparison,
  type ComparisonQuery,
  type ComparisonRow,
  type Materiality,
  type Source,
  type Table,
} from '@dravex/core';
import { computed } from 'vue';
import { DASH, shownStep } from '../format/numbers.ts';
import { spanInWords } from '../format/periods.ts';
import {
  cellsOnDemand,
  type Dress,
  type GridCell,
  type GridColumn,
  type GridPlace,
  type GridRow,
} from '../grid/plan-grid.ts';
import PlanGrid from '../grid/PlanGrid.vue';
import { displayOf, measureInWords, typedCell } from '../grid/table-rows.ts';
import { useFolding } from '../grid/use-folding.ts';
import { inOrder, useRowOrder } from '../grid/use-order.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { growthOf } from '../trace/nodes.ts';
import { questioned, type Asked } from '../trace/use-trace.ts';

/** Actual sales beside what was planned, row by row: the difference in amount, percent and picture. */
const props = defineProps<{
  /** What the table is called, and where its folding is kept. */
  label: string;
  place: string;
  about: string;
  comparison: Comparison;
  query: ComparisonQuery;
  actual: Source;
  /** What the first column is called. */
  actualName?: string;
  /** What sales are held against, and its name. */
  against: Source;
  againstName: string;
  /** The heading of the picture, planned first: `Budget | actual`. */
  picture: string;
  /** From which size on a difference matters; any where nothing is said. */
  least?: Materiality;
  /** Which numbers were entered by hand only. */
  byHand?: Table | undefined;
}>();
const plan = usePlan();
const { rowHeading, books, unit, formats } = useFrame();

const ANY: Materiality = { amount: 0, share: 0 };
/** Columns by key, with what the trace is asked for their numbers. */
const COLUMNS = {
  actual: 'actual',
  plan: 'plan',
  variance: 'variance',
  percent: 'variance',
  mark: 'variance',
} as const;
type ColumnKey = keyof typeof COLUMNS;
const all = computed(() => props.comparison.rows);
const { order, turnOrder, arrowOf } = useRowOrder();
const rows = computed(() =>
  inOrder(all.value, order.value, (row, column) => sizeOf(row, column as ColumnKey)),
);
const { visible, toggle, unfold } = useFolding(rows, 1, props.place);
const display = computed(() => displayOf(props.query.measure));
const widest = computed(() =>
  Math.max(0, ...visible.value.map(({ variance }) => Math.abs(variance?.amount ?? 0))),
);

function sizeOf(
  { actual, plan: planned, variance }: ComparisonRow,
  column: ColumnKey,
): number | null {
  switch (column) {
    case 'actual':
      return actual.value;
    case 'plan':
      return planned.value;
    case 'percent':
      return variance?.percent ?? null;
    default:
      return variance?.amount ?? null;
  }
}
const columns = computed<GridColumn[]>(() => {
  const head = (key: ColumnKey, heading: string, part: Partial<GridColumn> = {}): GridColumn => ({
    key,
    heading,
    size: 92,
    ...arrowOf(key),
    ...part,
  });
  return [
    head('actual', props.actualName ?? 'Actual', { closed: props.actual.kind === 'actual' }),
    head('plan', props.againstName),
    head('variance', 'Variance'),
    head('percent', 'in %', { size: 72 }),
    head('mark', props.picture, { size: 104, align: 'center' }),
  ];
});
/** How the numbers of a source are dressed. */
const DRESSES: Readonly<Record<Source['kind'], Dress>> = {
  actual: 'books',
  forecast: 'plain',
  version: 'kept',
  target: 'kept',
  yearBefore: 'books',
};
/** What is shown as a difference is that of the shown numbers. */
function differenceIn({ actual, plan: planned }: ComparisonRow): number | undefined {
  const rounded = display.value === 'money' || display.value === 'units';
  if (!rounded || actual.value === null || planned.value === null) return undefined;
  return shownDifference(actual.value, planned.value, shownStep(display.value, unit.value));
}
/** The rows whose actual sales were entered by hand only. */
const handRows = computed(
  () =>
    new Set(props.byHand?.rows.flatMap(({ key, total }) => ((total.value ?? 0) > 0 ? [key] : []))),
);
function toRow(row: ComparisonRow & { folded?: boolean }, strong: boolean): GridRow {
  const now = formats.value;
  const [shown, size] = [display.value, unit.value];
  const scale = widest.value;
  const byHand = handRows.value;
  const { variance } = row;
  const number = (value: number | null, dress: Dress): GridCell => ({
    text: now.show(value, shown, size),
    ...typedCell(value, shown, size, now),
    dress,
    title: now.full(value, shown),
  });
  return {
    key: row.key,
    label: row.label,
    level: row.level,
    parent: row.parent,
    folded: row.folded ?? false,
    strong,
    cells: cellsOnDemand(5, (index): GridCell => {
      const matters = variance && isMaterial(variance, shown, props.least ?? ANY);
      const judgement = matters ? variance.judgement : 'slight';
      const judged = variance ? ({ judgement } as const) : {};
      switch (index) {
        case 0:
          return number(
            row.actual.value,
            byHand.has(row.key) ? 'typed' : DRESSES[props.actual.kind],
          );
        case 1:
          return number(row.plan.value, DRESSES[props.against.kind]);
        case 2: {
          const cell = number(variance?.amount ?? null, 'plain');
          return {
            ...cell,
            ...judged,
            text: variance ? now.signed(differenceIn(row) ?? variance.amount, shown, size) : DASH,
          };
        }
        case 3: {
          const percent = variance?.percent ?? null;
          const text = variance ? now.signed(percent, 'percent') : DASH;
          return { ...typedCell(percent, 'percent', 1, now), ...judged, text, dress: 'plain' };
        }
        default: {
          const mark = variance && {
            kind: 'difference' as const,
            should: row.plan.value ?? 0,
            is: row.actual.value ?? 0,
            widest: scale,
          };
          return { text: '', typed: '', dress: 'plain', ...(mark ? { mark } : {}) };
        }
      }
    }),
  };
}
const gridRows = computed(() => visible.value.map((row) => toRow(row, row.level === 0)));
const totals = computed(() => {
  const { total } = props.comparison;
  return total ? [toRow({ ...total, parent: false }, true)] : [];
});
/** What the trace is asked for a number. */
function ask({ row: key, column }: GridPlace): Asked | undefined {
  const { comparison, query, against, againstName } = props;
  const { span, total } = comparison;
  const row = total?.key === key ? total : all.value.find((one) => one.key === key);
  if (!span || !row) return undefined;
  const side = COLUMNS[column as ColumnKey];
  const scope = inBoth(plan.tree, row.scope, query.scope);
  const asked = { measure: query.measure, scope, span };
  const actual = questionOf({ source: props.actual, ...asked });
  const planned = questionOf({ source: against, ...asked });
  if (column === 'percent') {
    const node = growthOf(
      `Difference from ${againstName}`,
      { label: props.actualName ?? 'Actual', value: row.actual.value, question: actual },
      { label: againstName, value: row.plan.value, question: planned },
      display.value,
    );
    const what = measureInWords(query.measure, 1, formats.value);
    return { kind: 'node', node, about: `${what}, ${spanInWords(span)}` };
  }
  const part = books.value ? { books: true as const } : {};
  if (side === 'variance') {
    return questioned({ kind: 'variance', of: props.actual, against, ...part, ...asked });
  }
  return questioned(side === 'actual' ? actual : planned);
}
</script>

<template>
  <PlanGrid
    :label="label"
    :about="about"
    :heading="rowHeading"
    :columns="columns"
    :rows="gridRows"
    :totals="totals"
    sortable
    :ask="ask"
    :findable="rows"
    @toggle="toggle"
    @unfold="unfold"
    @order="turnOrder"
  />
</template>
