<script setup lang="ts">
import { factOperations } from '@dravex/contract';
import { monthText, type Nature } from '@dravex/core';
import { computed, ref } from 'vue';
import ActualsPage from '../actuals/ActualsPage.vue';
import { spanInWords } from '../format/periods.ts';
import PlanGrid from '../grid/PlanGrid.vue';
import { useFolding } from '../grid/use-folding.ts';
import { inOrder, useRowOrder } from '../grid/use-order.ts';
import DialogSheet from '../kit/DialogSheet.vue';
import EmptyState from '../kit/EmptyState.vue';
import SheetTable from '../kit/SheetTable.vue';
import { usePlanner } from '../people/use-planner.ts';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { useWriting } from '../writing/use-writing.ts';
import { factColumns, factRows, NATURES, valueIn } from './fact-rows.ts';

/** What was measured besides sales, by month. */
const planner = usePlanner();
const plan = usePlan();
const { span, formats } = useFrame();
const { order, turnOrder, arrowOf } = useRowOrder();
const months = computed(() => ({ from: monthText(span.value.from), to: monthText(span.value.to) }));
const { data: facts, failure } = useAnswer([months, () => plan.tick, () => plan.savedAt], () =>
  plan.ask(factOperations.readFacts, months.value),
);
const columns = computed(() =>
  facts.value
    ? factColumns(facts.value).map((column) => ({ ...column, ...arrowOf(column.key) }))
    : [],
);
const all = computed(() => {
  const rows = facts.value ? factRows(facts.value, plan.tree, formats.value) : [];
  return inOrder(rows, order.value, (row, column) => valueIn(row, columns.value, column));
});
const { visible, toggle, unfold } = useFolding(all, 1, 'facts');

const headline = computed(() => {
  const count = facts.value?.rows.length ?? 0;
  const measures = new Set(facts.value?.rows.map(({ measure }) => measure)).size;
  return count === 0
    ? 'No measures besides sales in this period'
    : `${measures} ${measures === 1 ? 'measure' : 'measures'} besides sales, in ${count} ${count === 1 ? 'row' : 'rows'}`;
});
const state = computed(() => spanInWords(span.value));

const choosing = ref(false);
const { failure: refusal, write } = useWriting();
const change = (measure: string, nature: Nature) =>
  write(() => plan.ask(factOperations.changeMeasure, { measure }, { nature }));
const actions = computed(() =>
  planner.value ? [{ name: 'How measures add up', act: () => (choosing.value = true) }] : [],
);
</script>

<template>
  <ActualsPage :heading="headline" :state="state" :failure="failure" :shows="[]">
    <template #menu>
      <v-list-item
        v-if="planner && all.length > 0"
        role="menuitem"
        title="How measures add up"
        @click="choosing = true"
      />
    </template>
    <div v-if="all.length > 0" class="grid-place" data-grid="facts">
      <PlanGrid
        label="Measured facts"
        heading="Measure"
        :about="state"
        :columns="columns"
        :rows="visible"
        :findable="all"
        :row-actions="() => actions"
        sortable
        untraced
        saves
        @toggle="toggle"
        @unfold="unfold"
        @order="turnOrder"
      />
    </div>
    <EmptyState v-else-if="facts" heading="Nothing was measured in this period">
      <p>
        Import a file and choose this kind of data: market size, visits, quiz counts, scores, each
        by month.
      </p>
    </EmptyState>
    <DialogSheet v-model="choosing" title="How measures add up" :width="560">
      <p class="quiet">What several months of a measure come to.</p>
      <SheetTable about="Measures">
        <tbody>
          <tr v-for="measure in facts?.measures" :key="measure.code">
            <th scope="row" class="words">{{ measure.name }}</th>
            <td>
              <v-select
                :model-value="measure.nature"
                :items="NATURES"
                width="230"
                :aria-label="`How ${measure.name} adds up`"
                @update:model-value="change(measure.code, $event)"
              />
            </td>
          </tr>
        </tbody>
      </SheetTable>
      <p v-if="refusal" class="failure" role="alert">{{ refusal }}</p>
      <template #actions>
        <v-btn color="primary" @click="choosing = false">Close</v-btn>
      </template>
    </DialogSheet>
  </ActualsPage>
</template>

<style scoped>
.grid-place {
  flex: 1;
  min-width: 0;
  min-height: 0;
}
</style>
