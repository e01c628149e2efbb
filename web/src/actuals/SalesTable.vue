<script setup lang="ts">
import { ACTUAL, monthFrom, ratio } from '@dravex/core';
import { computed } from 'vue';
import { measureOf, useByHand, useFigures } from '../forecast/use-tables.ts';
import { grownInWords } from '../format/numbers.ts';
import { longMonth, shortMonth, spanInWords } from '../format/periods.ts';
import { WORDS } from '../format/words.ts';
import FiguresGrid from '../grid/FiguresGrid.vue';
import RowsChoice from '../grid/RowsChoice.vue';
import { measureInWords } from '../grid/table-rows.ts';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import EmptyFilter from '../shell/EmptyFilter.vue';
import { useFrame } from '../shell/use-frame.ts';
import ActualsPage from './ActualsPage.vue';
import { TEXTS } from './texts.ts';

/** Sales by month, as the books and hand entries have them. */
const plan = usePlan();
const { formats, unit, subject, calendar, span, scope, measure, books, counted } = useFrame();
/** The month of the as-of date: later ones have no sales lines yet. */
const openMonth = computed(() => monthFrom(calendar.value.asOf.slice(0, 7)));
const { data, failure } = useFigures(
  () => counted(ACTUAL),
  undefined,
  () => openMonth.value,
);

/** The closed part of the window against the same months a year before: both spans of one length. */
const before = useAnswer([span, scope, measure, books, () => plan.tick], async () => {
  const closed = { from: span.value.from, to: Math.min(span.value.to, plan.closedThrough) };
  const first = monthFrom(calendar.value.first);
  if (closed.to < closed.from) return null;
  const query = {
    measure: measure.value,
    columns: 'time',
    scope: scope.value,
    grain: 'year' as const,
  };
  const asked = { measure: measure.value, subject: subject.value };
  const rows = plan.workspace?.plan.dimensions.slice(0, 1).map(({ code }) => code) ?? [];
  const total = async (months: typeof closed): Promise<number | null> =>
    (await plan.compute().table(counted(ACTUAL), { ...query, rows, span: months })).total.total
      .value;
  const now = await total(closed);
  if (closed.from - 12 < first || now === null) return { ...asked, closed, now, growth: null };
  const then = await total({ from: closed.from - 12, to: closed.to - 12 });
  return {
    ...asked,
    closed,
    now,
    growth: then === null ? null : ratio(now - then, Math.abs(then)),
  };
});

const headline = computed(() => {
  const found = before.data.value;
  if (!found?.now) return TEXTS.noClosedMonthsInThis;
  const of = found.measure;
  const value =
    of === 'averagePrice'
      ? TEXTS.atAUnit(formats.value.currency, formats.value.show(found.now, 'price'))
      : `${formats.value.inWords(found.now)}${of === 'units' ? TEXTS.units : ''}`;
  const change = grownInWords(found.growth, formats.value);
  return TEXTS.soldFrom(found.subject, value, spanInWords(found.closed), change);
});
const state = computed(() => {
  const answer = data.value;
  if (!answer) return '';
  const toDate =
    span.value.to >= openMonth.value ? TEXTS.isOpenSalesToDate(longMonth(openMonth.value)) : '';
  return TEXTS.from(
    measureInWords(measureOf(answer.query), unit.value, formats.value),
    spanInWords(answer.query.span),
    books.value,
    toDate,
  );
});
/** Which numbers were entered by hand only: they bear a rule. */
const byHand = useByHand(data);
/** An open month holds what there is so far, and says so. */
function headingOf(key: string): string | undefined {
  const month = data.value?.table.columns.find((column) => column.key === key)?.period;
  if (!month || month.from !== openMonth.value || month.to !== openMonth.value) return undefined;
  return TEXTS.toDate(shortMonth(month.from));
}
</script>

<template>
  <ActualsPage
    :heading="headline"
    :state="state"
    :failure="failure"
    :shows="['books', 'measure', 'grain', 'unit']"
  >
    <template #shown><RowsChoice with-columns /></template>
    <EmptyFilter
      v-if="data && data.table.rows.length === 0"
      :heading="TEXTS.noSalesLinesMatch"
      instead="Last 12"
    />
    <div v-else-if="data" class="grid-place" data-grid="actuals">
      <FiguresGrid
        :label="WORDS.actuals"
        :about="state"
        saves
        :table="data.table"
        :query="data.query"
        :source="data.source"
        dress="books"
        :by-hand="byHand.data.value"
        :heading-of="headingOf"
      />
    </div>
  </ActualsPage>
</template>

<style scoped>
.grid-place {
  flex: 1;
  min-height: 0;
}
</style>
