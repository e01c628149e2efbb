<script setup lang="ts">
import { ref } from 'vue';
import ActualsPage from '../actuals/ActualsPage.vue';
import { WORDS } from '../format/words.ts';
import type { FindableRow } from '../grid/find-row.ts';
import type { GridColumn, GridRow } from '../grid/plan-grid.ts';
import PlanGrid from '../grid/PlanGrid.vue';
import DialogSheet from '../kit/DialogSheet.vue';
import { usePlanner } from '../people/use-planner.ts';
import type { Shown } from '../shell/use-frame.ts';

/** The page of what happened besides sales: its table, and a dialog in which planners say what it means. */
const props = defineProps<{
  heading: string;
  state: string;
  failure: string;
  shows: readonly Shown[];
  /** What the table is called, and what its rows are. */
  label: string;
  rowsAre: string;
  columns: readonly GridColumn[];
  rows: readonly GridRow[];
  /** All rows that can be found, those included that are folded away. */
  findable: readonly FindableRow[];
  /** What the dialog is called. */
  meaning: string;
  /** Why what was chosen in it was not taken. */
  refusal: string;
  width: number;
}>();
const emit = defineEmits<{
  toggle: [row: string];
  unfold: [row: string];
  order: [column: string];
}>();
const planner = usePlanner();
const choosing = ref(false);
const actions = () =>
  planner.value ? [{ name: props.meaning, act: () => (choosing.value = true) }] : [];
</script>

<template>
  <ActualsPage :heading="heading" :state="state" :failure="failure" :shows="shows">
    <template #menu>
      <v-list-item
        v-if="planner && rows.length > 0"
        role="menuitem"
        :title="meaning"
        @click="choosing = true"
      />
    </template>
    <div v-if="rows.length > 0" class="grid-place" data-grid="facts">
      <PlanGrid
        :label="label"
        :heading="rowsAre"
        :about="state"
        :columns="columns"
        :rows="rows"
        :findable="findable"
        :row-actions="actions"
        sortable
        untraced
        saves
        @toggle="emit('toggle', $event)"
        @unfold="emit('unfold', $event)"
        @order="emit('order', $event)"
      />
    </div>
    <slot v-else name="empty" />
    <DialogSheet v-model="choosing" :title="meaning" :width="width">
      <slot />
      <p v-if="refusal" class="failure" role="alert">{{ refusal }}</p>
      <template #actions>
        <v-btn color="primary" @click="choosing = false">{{ WORDS.close }}</v-btn>
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
