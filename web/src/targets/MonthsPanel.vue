<script setup lang="ts">
import type { TargetNode, TargetNodeChange } from '@dravex/contract';
import type { Month } from '@dravex/core';
import { computed, ref, watch } from 'vue';
import { shortMonth } from '../format/periods.ts';
import SheetTable from '../kit/SheetTable.vue';
import SidePanel from '../shell/SidePanel.vue';
import { useFrame } from '../shell/use-frame.ts';
import { unitOf } from '../format/numbers.ts';
import { unitInWords } from '../grid/table-rows.ts';
import type { TargetSize } from './read-part.ts';
import { TEXTS } from './texts.ts';

/** A target over the twelve months: by season, or as they are entered. */
const props = defineProps<{
  node: TargetNode;
  size: TargetSize;
  /** The fiscal year's first month, and how many are closed. */
  start: Month;
  editable: boolean;
  set: (node: TargetNode, change: TargetNodeChange) => Promise<unknown>;
}>();
const emit = defineEmits<{ close: [] }>();
const { formats } = useFrame();
const YEAR = 12;
/** In one of these the months are shown and entered. */
const scale = computed(() => props.size.wholes * unitOf(props.size.display, props.size.unit));
const typed = ref<string[]>([]);
function begin(): void {
  const months = props.node.months ?? Array.from({ length: YEAR }, () => 0);
  typed.value = months.map((value) => formats.value.typed(value / scale.value, false));
}
watch(() => [props.node.id, props.node.amount, props.node.months, scale.value], begin, {
  immediate: true,
});
const read = computed(() =>
  typed.value.map((text) => {
    const value = text.trim() === '' ? 0 : (formats.value.read(text, false) ?? Number.NaN);
    return Math.round(value * scale.value);
  }),
);
const wrong = computed(() => read.value.some((value) => !(value >= 0)));
const sum = computed(() => read.value.reduce((all, value) => all + value, 0));
const left = computed(() => props.node.amount - sum.value);
const same = computed(() => JSON.stringify(read.value) === JSON.stringify(props.node.months ?? []));
const shown = (value: number): string =>
  formats.value.show(value / props.size.wholes, props.size.display, props.size.unit);
const busy = ref(false);
async function save(months: number[] | null): Promise<void> {
  busy.value = true;
  try {
    await props.set(props.node, { months });
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <SidePanel :heading="TEXTS.monthsOf(node.name)" @close="emit('close')">
    <p class="quiet">
      {{
        TEXTS.bySeasonOfLastYear(node.monthsTyped, unitInWords(size.display, size.unit, formats))
      }}
    </p>
    <form novalidate @submit.prevent="save(read)">
      <SheetTable :about="TEXTS.monthsOfTarget">
        <tbody>
          <tr v-for="(_, place) in typed" :key="place">
            <td>{{ shortMonth(start + place, true) }}</td>
            <td class="entry">
              <v-text-field
                v-model="typed[place]"
                :aria-label="shortMonth(start + place, true)"
                :readonly="!editable"
                :error="!((read[place] ?? 0) >= 0)"
                density="compact"
                hide-details
                autocomplete="off"
              />
            </td>
          </tr>
        </tbody>
        <tfoot>
          <tr>
            <td>{{ TEXTS.together }}</td>
            <td>{{ shown(sum) }}</td>
          </tr>
          <tr v-if="left !== 0 && !wrong">
            <td>{{ left > 0 ? TEXTS.leftOfTarget : TEXTS.moreThanTarget }}</td>
            <td class="waits">{{ shown(Math.abs(left)) }}</td>
          </tr>
        </tfoot>
      </SheetTable>
      <p v-if="wrong" class="failure" role="alert">{{ TEXTS.enterAmountsOfZeroOr }}</p>
      <div v-if="editable" class="buttons">
        <v-btn
          type="submit"
          color="primary"
          variant="flat"
          :disabled="wrong || sum === 0 || same"
          :loading="busy"
        >
          {{ TEXTS.saveMonths }}
        </v-btn>
        <v-btn v-if="node.monthsTyped" color="primary" @click="save(null)">{{
          TEXTS.bySeason
        }}</v-btn>
      </div>
    </form>
  </SidePanel>
</template>

<style scoped>
.entry {
  width: 150px;
}
.entry :deep(input) {
  text-align: right;
}
.waits {
  color: var(--ember-ink);
}
tfoot td {
  font-weight: 650;
}
.buttons {
  display: flex;
  gap: 8px;
  margin-top: 10px;
}
</style>
