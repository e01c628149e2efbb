<script setup lang="ts">
import {
  inBoth,
  type Comparable,
  type Comparison,
  type ComparisonQuery,
  type ComparisonRow,
  type Materiality,
  type Table,
} from '@dravex/core';
import { computed } from 'vue';
import { spanInWords } from '../format/periods.ts';
import { WORDS } from '../format/words.ts';
import {
  cellsOnDemand,
  type GridCell,
  type GridColumn,
  type GridPlace,
  type GridRow,
} from '../grid/plan-grid.ts';
import PlanGrid from '../grid/PlanGrid.vue';
import { measureInWords } from '../grid/table-rows.ts';
import { useFolding } from '../grid/use-folding.ts';
import { inOrder, useRowOrder } from '../grid/use-order.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import type { Asked } from '../trace/use-trace.ts';
import type { RowAction } from '../grid/GridMenu.vue';
import { numberKey, type CommentsOn, type NumberPlace } from '../threads/use-threads.ts';
import { askSide, sideCell, type SidePart } from './held.ts';
import { TEXTS } from './texts.ts';
import type { Side } from './use-sides.ts';

/** Actual sales beside what was planned, row by row: the difference in amount, percent and picture. */
const props = defineProps<{
  /** What the table is called, and where its folding is kept. */
  label: string;
  place: string;
  about: string;
  comparison: Comparison;
  query: ComparisonQuery;
  actual: Comparable;
  /** What the first column is called. */
  actualName?: string;
  /** What sales are held against, and its name. */
  against: Comparable;
  againstName: string;
  /** What else it is held against: sources, or a target by its tree. */
  beside?: readonly (Pick<Side, 'name' | 'value'> & { readonly is: Comparable })[];
  /** The heading of the picture, planned first: `Budget | actual`. */
  picture: string;
  /** From which size on a difference matters; any where nothing is said. */
  least?: Materiality;
  /** Where differences are commented on. */
  comments?: CommentsOn | undefined;
  /** Which numbers were entered by hand only. */
  byHand?: Table | undefined;
  /** What stands on the rows, where that is no dimension: of people nothing is explained. */
  byPeople?: string | undefined;
}>();
const plan = usePlan();
const { rowHeading, books, unit, formats } = useFrame();

/** Columns by key, with what of both sides each of them shows. */
const COLUMNS = {
  actual: 'actual',
  plan: 'plan',
  variance: 'variance',
  percent: 'percent',
  mark: 'variance',
} as const satisfies Record<string, SidePart>;
type ColumnKey = keyof typeof COLUMNS;
const OWN_COLUMNS = Object.keys(COLUMNS).length;
/** Those with a number; the last one is a picture. */
const OWN_PARTS = ['actual', 'plan', 'variance', 'percent'] as const;
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
    head('actual', props.actualName ?? WORDS.actual, {
      closed: 'kind' in props.actual && props.actual.kind === 'actual',
    }),
    head('plan', props.againstName),
    head('variance', TEXTS.variance),
    head('percent', 'in %', { size: 72 }),
    head('mark', props.picture, { size: 104, align: 'center' }),
    ...besideColumns.value.map(({ key, side, part }) => {
      if (part === 'percent') return head(key, 'in %', { size: 72 });
      return head(key, part === 'plan' ? side.name : TEXTS.variance);
    }),
  ];
});
/** The rows whose actual sales were entered by hand only. */
const handRows = computed(
  () =>
    new Set(props.byHand?.rows.flatMap(({ key, total }) => ((total.value ?? 0) > 0 ? [key] : []))),
);
function toRow(row: ComparisonRow & { folded?: boolean }, strong: boolean): GridRow {
  const scale = widest.value;
  const byHand = handRows.value;
  const written = {
    measure: props.query.measure,
    unit: unit.value,
    formats: formats.value,
    least: props.least,
  };
  const sides = { actual: props.actual, plan: props.against };
  const place = numberOf(row.key);
  const isCommented = place !== undefined && (props.comments?.open.has(numberKey(place)) ?? false);
  return {
    key: row.key,
    label: row.label,
    level: row.level,
    parent: row.parent,
    folded: row.folded ?? false,
    strong,
    cells: cellsOnDemand(columns.value.length, (index): GridCell => {
      const part = OWN_PARTS[index];
      if (part) {
        const cell = sideCell(row, part, sides, written);
        if (part === 'variance') return { ...cell, commented: isCommented };
        return part === 'actual' && byHand.has(row.key) ? { ...cell, dress: 'typed' } : cell;
      }
      const beside = besideColumns.value[index - OWN_COLUMNS];
      const held = beside && row.beside[beside.place];
      if (held) {
        const both = { ...held, actual: row.actual };
        return sideCell(both, beside.part, { ...sides, plan: beside.side.is }, written);
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
  if (!span || !row || props.byPeople) return undefined;
  return { measure: query.measure, scope: inBoth(plan.tree, row.scope, query.scope), span };
}
function cellActions({ row }: GridPlace): RowAction[] {
  const { comments } = props;
  const found = comments && numberOf(row);
  return found ? [{ name: WORDS.comment, act: () => comments.look(found) }] : [];
}
/** What the trace is asked for a number. */
function ask({ row: key, column }: GridPlace): Asked | undefined {
  const { comparison, query, against, againstName } = props;
  const { span, total } = comparison;
  const row = total?.key === key ? total : all.value.find((one) => one.key === key);
  if (!span || !row || props.byPeople) return undefined;
  const beside = besideOf(column);
  const held = beside ? row.beside[beside.place] : row;
  if (!held) return undefined;
  const sides = {
    actual: { name: props.actualName ?? WORDS.actual, is: props.actual },
    plan: beside
      ? { name: beside.side.name, is: beside.side.is }
      : { name: againstName, is: against },
  };
  const both = { ...held, actual: row.actual, actualOf: row.actualOf };
  return askSide(both, beside?.part ?? COLUMNS[column as ColumnKey], sides, {
    measure: query.measure,
    scope: inBoth(plan.tree, row.scope, query.scope),
    span,
    books: books.value,
    about: `${measureInWords(query.measure, 1, formats.value)}, ${spanInWords(span)}`,
  });
}
</script>

<template>
  <PlanGrid
    :label="label"
    :about="about"
    :heading="byPeople ?? rowHeading"
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
