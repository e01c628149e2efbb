<script setup lang="ts">
import { factOperations } from '@dravex/contract';
import { monthText, type Nature } from '@dravex/core';
import { computed } from 'vue';
import { spanInWords } from '../format/periods.ts';
import { WORDS } from '../format/words.ts';
import { useFolding } from '../grid/use-folding.ts';
import { inOrder, useRowOrder } from '../grid/use-order.ts';
import EmptyState from '../kit/EmptyState.vue';
import SheetTable from '../kit/SheetTable.vue';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { useWriting } from '../writing/use-writing.ts';
import { factColumns, factRows, NATURES, valueIn } from './fact-rows.ts';
import FactTable from './FactTable.vue';
import { TEXTS } from './texts.ts';

/** What was measured besides sales, by month. */
const plan = usePlan();
const { span, formats } = useFrame();
const { order, turnOrder, arrowOf } = useRowOrder();
const months = computed(() => ({ from: monthText(span.value.from), to: monthText(span.value.to) }));
const { data: facts, failure } = useAnswer([months, () => plan.tick, () => plan.savedAt], () =>
  plan.ask(factOperations.readFacts, months.value),
);
const columns = computed(() => (facts.value ? factColumns(facts.value, arrowOf) : []));
const all = computed(() => {
  const rows = facts.value ? factRows(facts.value, plan.tree, formats.value) : [];
  return inOrder(rows, order.value, (row, column) => valueIn(row, columns.value, column));
});
const { visible, toggle, unfold } = useFolding(all, 1, 'facts');

const headline = computed(() => {
  const count = facts.value?.rows.length ?? 0;
  const measures = new Set(facts.value?.rows.map(({ measure }) => measure)).size;
  return count === 0
    ? TEXTS.noMeasuresBesidesSalesIn
    : TEXTS.measuresBesidesSalesInRows(measures, count);
});
const { failure: refusal, write } = useWriting();
const change = (measure: string, nature: Nature) =>
  write(() => plan.ask(factOperations.changeMeasure, { measure }, { nature }));
</script>

<template>
  <FactTable
    :heading="headline"
    :state="spanInWords(span)"
    :failure="failure"
    :shows="[]"
    :label="TEXTS.measuredFacts"
    :rows-are="WORDS.measure"
    :columns="columns"
    :rows="visible"
    :findable="all"
    :meaning="TEXTS.howMeasuresAddUp"
    :refusal="refusal"
    :width="560"
    @toggle="toggle"
    @unfold="unfold"
    @order="turnOrder"
  >
    <template #empty>
      <EmptyState v-if="facts" :heading="TEXTS.nothingWasMeasuredInThis">
        <p>
          {{ TEXTS.importFileAndChooseThis }}
        </p>
      </EmptyState>
    </template>
    <p class="quiet">{{ TEXTS.whatSeveralMonthsOfMeasure }}</p>
    <SheetTable :about="WORDS.measures">
      <tbody>
        <tr v-for="measure in facts?.measures" :key="measure.code">
          <th scope="row" class="words">{{ measure.name }}</th>
          <td>
            <v-select
              :model-value="measure.nature"
              :items="NATURES"
              width="230"
              :aria-label="TEXTS.howAddsUp(measure.name)"
              @update:model-value="change(measure.code, $event)"
            />
          </td>
        </tr>
      </tbody>
    </SheetTable>
  </FactTable>
</template>
