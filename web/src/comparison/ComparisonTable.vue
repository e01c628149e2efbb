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
  type TargetParts,
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
import { differenceOf, growthOf, sumOf, type KnownNumber } from '../trace/nodes.ts';
import { questioned, type Asked } from '../trace/use-trace.ts';
import type { RowAction } from '../grid/GridMenu.vue';
import { numberKey, type CommentsOn, type NumberPlace } from '../threads/use-threads.ts';
import type { Side } from './use-sides.ts';

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
  /** What else it is held against: sources, or a target by its tree. */
  beside?: readonly (Pick<Side, 'name' | 'value'> & { readonly is: Source | TargetParts })[];
  /** The heading of the picture, planned first: `Budget | actual`. */
  picture: string;
  /** From which size on a difference matters; any where nothing is said. */
  least?: Materiality;
  /** Where differences are commented on. */
  comments?: CommentsOn | undefined;
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
const OWN_COLUMNS = Object.keys(COLUMNS).length;
/** Columns of what stands beside, each by its place: the number, how far off it is, and in percent. */
const BESIDE = ['plan', 'variance', 'percent'] as const;
const besideColumns = computed(() =>
  (props.beside ?? []).flatMap((side, place) =>
    BESIDE.map((part) => ({ key: `${place}.${part}`, side, place, part })),
  ),
);
const besideOf = (key: string) => besideColumns.value.find((column) => column.key === key);
const all = computed(() => props.comparison.rows);
const { order, turnOrder, arrowOf } = useRowOrder();
const rows = computed(() =>
  inOrder(all.value, order.value, (row, column) => {
    const beside = besideOf(column);
    const held = beside && row.beside[beside.place];
    return held
      ? sizeOf({ ...held, actual: row.actual }, beside.part)
      : sizeOf(row, column as ColumnKey);
  }),
);
const { visible, toggle, unfold } = useFolding(rows, 1, props.place);
const display = computed(() => displayOf(props.query.measure));
const widest = computed(() =>
  Math.max(0, ...visible.value.map(({ variance }) => Math.abs(variance?.amount ?? 0))),
);

function sizeOf(
  { actual, plan: planned, variance }: Pick<ComparisonRow, 'actual' | 'plan' | 'variance'>,
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
  const head = (key: string, heading: string, part: Partial<GridColumn> = {}): GridColumn => ({
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
    ...besideColumns.value.map(({ key, side, part }) => {
      if (part === 'percent') return head(key, 'in %', { size: 72 });
      return head(key, part === 'plan' ? side.name : 'Variance');
    }),
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
function differenceIn({
  actual,
  plan: planned,
}: Pick<ComparisonRow, 'actual' | 'plan'>): number | undefined {
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
  const number = (value: number | null, dress: Dress): GridCell => ({
    text: now.show(value, shown, size),
    ...typedCell(value, shown, size, now),
    dress,
    title: now.full(value, shown),
  });
  const place = numberOf(row.key);
  const isCommented = place !== undefined && (props.comments?.open.has(numberKey(place)) ?? false);
  /** What is shown of one of the numbers that a row is held against. */
  const heldCell = (
    held: Pick<ComparisonRow, 'plan' | 'variance'>,
    part: (typeof BESIDE)[number],
    dress: Dress,
  ): GridCell => {
    const { variance } = held;
    if (part === 'plan') return number(held.plan.value, dress);
    const matters = variance && isMaterial(variance, shown, props.least ?? ANY);
    const judgement = matters ? variance.judgement : 'slight';
    const judged = variance ? ({ judgement } as const) : {};
    if (part === 'percent') {
      const percent = variance?.percent ?? null;
      const text = variance ? now.signed(percent, 'percent') : DASH;
      return { ...typedCell(percent, 'percent', 1, now), ...judged, text, dress: 'plain' };
    }
    const difference = variance && (differenceIn({ ...row, ...held }) ?? variance.amount);
    const text = variance ? now.signed(difference, shown, size) : DASH;
    return { ...number(variance?.amount ?? null, 'plain'), ...judged, text };
  };
  return {
    key: row.key,
    label: row.label,
    level: row.level,
    parent: row.parent,
    folded: row.folded ?? false,
    strong,
    cells: cellsOnDemand(columns.value.length, (index): GridCell => {
      const first = BESIDE[index - 1];
      if (index === 0) {
        return number(row.actual.value, byHand.has(row.key) ? 'typed' : DRESSES[props.actual.kind]);
      }
      if (first) {
        const commented = first === 'variance' && isCommented;
        return { ...heldCell(row, first, DRESSES[props.against.kind]), commented };
      }
      const beside = besideColumns.value[index - OWN_COLUMNS];
      const held = beside && row.beside[beside.place];
      if (held) {
        const { is } = beside.side;
        return heldCell(held, beside.part, 'kind' in is ? DRESSES[is.kind] : DRESSES.target);
      }
      const mark = row.variance && {
        kind: 'difference' as const,
        should: row.plan.value ?? 0,
        is: row.actual.value ?? 0,
        widest: scale,
      };
      return { text: '', typed: '', dress: 'plain', ...(mark ? { mark } : {}) };
    }),
  };
}
const gridRows = computed(() => visible.value.map((row) => toRow(row, row.level === 0)));
const totals = computed(() => {
  const { total } = props.comparison;
  return total ? [toRow({ ...total, parent: false }, true)] : [];
});
/** What a row's difference is of, as comments name it. */
function numberOf(key: string): NumberPlace | undefined {
  const { comparison, query } = props;
  const { span, total } = comparison;
  const row = total?.key === key ? total : all.value.find((one) => one.key === key);
  if (!span || !row) return undefined;
  return { measure: query.measure, scope: inBoth(plan.tree, row.scope, query.scope), span };
}
function cellActions({ row }: GridPlace): RowAction[] {
  const { comments } = props;
  const found = comments && numberOf(row);
  return found ? [{ name: 'Comment', act: () => comments.look(found) }] : [];
}
/** What the trace is asked for a number. */
function ask({ row: key, column }: GridPlace): Asked | undefined {
  const { comparison, query, against, againstName } = props;
  const { span, total } = comparison;
  const row = total?.key === key ? total : all.value.find((one) => one.key === key);
  if (!span || !row) return undefined;
  const beside = besideOf(column);
  const held = beside ? row.beside[beside.place] : row;
  const scope = inBoth(plan.tree, row.scope, query.scope);
  const asked = { measure: query.measure, scope, span };
  const about = `${measureInWords(query.measure, 1, formats.value)}, ${spanInWords(span)}`;
  const actual: KnownNumber = {
    label: props.actualName ?? 'Actual',
    value: row.actual.value,
    question: questionOf({ source: props.actual, ...asked }),
  };
  if (!held) return undefined;
  const side = beside?.part ?? COLUMNS[column as ColumnKey];
  if (side === 'actual') return questioned(questionOf({ source: props.actual, ...asked }));
  const name = beside?.side.name ?? againstName;
  const is = beside?.side.is ?? against;
  if ('nodes' in is) {
    // What a tree of targets gives to a scope is known here, and explained by its nodes.
    const target = sumOf(name, held.plan.value, row.beside[beside?.place ?? 0]?.of ?? [], {
      display: display.value,
      source: { kind: 'objective', fiscalYear: is.fiscalYear },
    });
    if (side === 'plan') return { kind: 'node', node: target, about };
    const known = { label: name, value: held.plan.value, node: target };
    const node =
      column.endsWith('percent') && held.variance
        ? growthOf(`Difference from ${name}`, actual, known, display.value)
        : differenceOf('Variance', actual, known, display.value);
    return { kind: 'node', node, about };
  }
  const planned = questionOf({ source: is, ...asked });
  if (column.endsWith('percent')) {
    const before = { label: name, value: held.plan.value, question: planned };
    const node = growthOf(`Difference from ${name}`, actual, before, display.value);
    return { kind: 'node', node, about };
  }
  if (side === 'plan') return questioned(planned);
  const part = books.value ? { books: true as const } : {};
  return questioned({ kind: 'variance', of: props.actual, against: is, ...part, ...asked });
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
    :cell-actions="cellActions"
    :findable="rows"
    @toggle="toggle"
    @unfold="unfold"
    @order="turnOrder"
  />
</template>
