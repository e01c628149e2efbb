<script setup lang="ts">
import type { TargetGap, TargetNode } from '@dravex/contract';
import { ref, watch } from 'vue';
import { WORDS } from '../format/words.ts';
import { unitInWords } from '../grid/table-rows.ts';
import SheetTable from '../kit/SheetTable.vue';
import { inWords } from '../shell/api.ts';
import SidePanel from '../shell/SidePanel.vue';
import { useFrame } from '../shell/use-frame.ts';
import { GAP_WORDS } from './gap-words.ts';
import type { TargetSize } from './read-part.ts';
import { TEXTS } from './texts.ts';

/** Why a target is ahead or behind, as a ledger from the target to date to actual. */
const props = defineProps<{
  node: TargetNode;
  size: TargetSize;
  gap: (node: TargetNode) => Promise<{ gap: TargetGap | null }>;
}>();
const emit = defineEmits<{ close: [] }>();
const { formats } = useFrame();
const found = ref<TargetGap | null>();
const failure = ref('');
watch(
  () => [props.node.id, props.node.amount, props.node.actual],
  async () => {
    try {
      found.value = (await props.gap(props.node)).gap;
      failure.value = '';
    } catch (error) {
      failure.value = inWords(error);
    }
  },
  { immediate: true },
);
const shown = (value: number): string =>
  formats.value.show(value / props.size.wholes, props.size.display, props.size.unit);
const signed = (value: number): string =>
  formats.value.signed(value / props.size.wholes, props.size.display, props.size.unit);
</script>

<template>
  <SidePanel :heading="TEXTS.gapOf(node.name)" :width="350" @close="emit('close')">
    <p v-if="failure" class="failure" role="alert">{{ failure }}</p>
    <p v-else-if="found === null">{{ TEXTS.noTargetIsDueYet }}</p>
    <template v-else-if="found">
      <p>
        {{
          TEXTS.aheadOfTargetToDate(
            shown(Math.abs(found.actual - found.due)),
            unitInWords(size.display, size.unit, formats),
            found.actual < found.due,
          )
        }}
      </p>
      <SheetTable :about="TEXTS.fromTargetToDateTo">
        <tbody>
          <tr class="outer">
            <td>{{ TEXTS.targetToDate }}</td>
            <td>{{ shown(found.due) }}</td>
          </tr>
          <tr v-for="step in found.steps" :key="step.kind">
            <td :title="GAP_WORDS[step.kind].says">
              {{ GAP_WORDS[step.kind].name }}
              <span class="quiet">{{ GAP_WORDS[step.kind].says }}</span>
            </td>
            <td :class="step.value < 0 ? 'bad' : 'good'">{{ signed(step.value) }}</td>
          </tr>
          <tr class="total">
            <td>{{ WORDS.actual }}</td>
            <td>{{ shown(found.actual) }}</td>
          </tr>
        </tbody>
      </SheetTable>
    </template>
  </SidePanel>
</template>

<style scoped>
p {
  margin: 0;
}
td:first-child {
  white-space: normal;
  padding-block: 4px;
}
.quiet {
  display: block;
  font-size: 11px;
}
</style>
