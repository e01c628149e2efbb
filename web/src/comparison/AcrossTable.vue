<script setup lang="ts">
import {
  inBoth,
  MEASURES,
  type AcrossColumn,
  type AcrossRow,
  type ComparedAcross,
  type Materiality,
  type Scope,
} from '@dravex/core';
import { computed } from 'vue';
import { columnHeading, spanInWords } from '../format/periods.ts';
import { DASH } from '../format/numbers.ts';
import { WORDS } from '../format/words.ts';
import { cellsOnDemand, type GridColumn, type GridPlace, type GridRow } from '../grid/plan-grid.ts';
import PlanGrid from '../grid/PlanGrid.vue';
import { measureInWords } from '../grid/table-rows.ts';
import { useFolding } from '../grid/use-folding.ts';
import { inOrder, useRowOrder } from '../grid/use-order.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import type { Asked } from '../trace/use-trace.ts';
import { askSide, sideCell, type BothSides, type NamedComparable, type SidePart } from './held.ts';
import { TEXTS } from './texts.ts';

/** Both sides of a comparison month by month, or measure by measure. */
const props = defineProps<{
  about: string;
  across: ComparedAcross;
  scope: Scope;
  actual: NamedComparable;
  planned: NamedComparable;
  /** What else the first side is held against. */
  beside: readonly NamedComparable[];
  least: Materiality;
  /** What stands on the rows, where that is no dimension: of people nothing is explained. */
  byPeople?: string | undefined;
}>();
const plan = usePlan();
const { rowHeading, books, unit, formats, calendar, span } = useFrame();

/** Of a period both sides and the difference, of everything also how large it is beside the plan. */
const OF_PERIOD = ['actual', 'plan', 'variance'] as const;
const OF_ALL = [...OF_PERIOD, 'percent'] as const;
const OF_OTHER = ['plan', 'variance'] as const;
interface Place {
  readonly key: string;
  readonly place: number;
  readonly column: AcrossColumn;
  readonly part: SidePart;
  /** Which of those beside, if it is of one. */
  readonly other: number | undefined;
}
const places = computed<Place[]>(() =>
  props.across.columns.flatMap((column, place) => [
    ...(column.period ? OF_PERIOD : OF_ALL).map((part) => ({
      ...{ key: `${column.key}.${part}`, place, column, part },
      other: undefined,
    })),
    ...props.beside.flatMap((_, other) =>
      OF_OTHER.map((part) => ({
        ...{ key: `${column.key}.${other}.${part}`, place, column, part, other },
      })),
    ),
  ]),
);
/** Both sides of a row in a column. */
function bothOf({ cells }: AcrossRow, { place, other }: Place): BothSides | undefined {
  const cell = cells[place];
  if (!cell || other === undefined) return cell ?? undefined;
  const held = cell.beside[other];
  return held && { ...held, actual: cell.actual, actualOf: cell.actualOf };
}
const sideOf = ({ other }: Place): NamedComparable =>
  (other === undefined ? undefined : props.beside[other]) ?? props.planned;
const { order, turnOrder, arrowOf } = useRowOrder();
function sizeOf(row: AcrossRow, key: string): number | null {
  const found = places.value.find((one) => one.key === key);
  const both = found && bothOf(row, found);
  if (!both) return null;
  if (found.part === 'actual' || found.part === 'plan') return both[found.part].value;
  return both.variance?.[found.part === 'percent' ? 'percent' : 'amount'] ?? null;
}
const all = computed(() => props.across.rows);
const rows = computed(() => inOrder(all.value, order.value, sizeOf));
const { visible, toggle, unfold } = useFolding(rows, 1, 'comparison');

const headOf = ({ period, measure, key }: AcrossColumn): string => {
  if (!period)
    return key === 'total' ? WORDS.total : measureInWords(measure, unit.value, formats.value);
  const heading = { key, label: key, period };
  return columnHeading(heading, span.value, calendar.value.fiscalStart);
};
const columns = computed<GridColumn[]>(() =>
  places.value.map((found) => {
    const { key, column, part, other } = found;
    const side = sideOf(found).name;
    const named = {
      ...{ actual: props.actual.name, plan: side, percent: TEXTS.varianceInPercent },
      variance: other === undefined ? 'variance' : TEXTS.varianceFrom(side),
    };
    return {
      key,
      heading: `${headOf(column)} ${named[part]}`,
      size: part === 'percent' ? 84 : 104,
      ...arrowOf(key),
    };
  }),
);
function toRow(row: AcrossRow & { folded?: boolean }, strong: boolean): GridRow {
  const how = { unit: unit.value, formats: formats.value, least: props.least };
  return {
    ...{ key: row.key, label: row.label, level: row.level, parent: row.parent },
    ...{ folded: row.folded ?? false, strong },
    cells: cellsOnDemand(places.value.length, (index) => {
      const found = places.value[index];
      const both = found && bothOf(row, found);
      // What one side does not cover is no number.
      if (!both) return { text: DASH, typed: '', dress: 'plain' };
      const sides = { actual: props.actual.is, plan: sideOf(found).is };
      return sideCell(both, found.part, sides, { measure: found.column.measure, ...how });
    }),
  };
}
const gridRows = computed(() => visible.value.map((row) => toRow(row, row.level === 0)));
const totals = computed(() => {
  const { total } = props.across;
  const ofMeasures = props.across.columns.every(({ period, key }) => !period && key !== 'total');
  const label = ofMeasures ? WORDS.total : total?.label;
  return total ? [toRow({ ...total, label: label ?? '', parent: false }, true)] : [];
});
function ask({ row: key, column }: GridPlace): Asked | undefined {
  if (props.byPeople) return undefined;
  const { total } = props.across;
  const row = total?.key === key ? total : all.value.find((one) => one.key === key);
  const found = places.value.find((one) => one.key === column);
  const both = found && row && bothOf(row, found);
  if (!both || !found.column.span) return undefined;
  const { measure, span: months } = found.column;
  return askSide(
    both,
    found.part,
    { actual: props.actual, plan: sideOf(found) },
    {
      ...{ measure, span: months, books: books.value },
      scope: inBoth(plan.tree, row.scope, props.scope),
      about: `${MEASURES[measure].name}, ${spanInWords(months)}`,
    },
  );
}
</script>

<template>
  <PlanGrid
    :label="WORDS.comparison"
    :about="about"
    :heading="byPeople ?? rowHeading"
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
