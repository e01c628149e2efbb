<script setup lang="ts">
import { computed } from 'vue';
import type { GridEdit } from '../grid/plan-grid.ts';
import type { Doubt } from './use-typed.ts';

/** Asks which value was meant, beside the grid: whoever goes on typing is not disturbed. */
const props = defineProps<{ doubts: readonly Doubt<GridEdit>[] }>();
const emit = defineEmits<{ settle: [as: 'typed' | 'meant' | 'nothing'] }>();

const only = computed(() => (props.doubts.length === 1 ? props.doubts[0] : undefined));
const words = computed(() => {
  const one = only.value;
  return one
    ? `You typed ${one.typed} in place of ${one.stands}. Which did you mean?`
    : `${props.doubts.length} values are below zero, or a thousand times larger or smaller than before. Which did you mean?`;
});
</script>

<template>
  <div v-if="doubts.length > 0" class="typed-question no-print" role="alert">
    <span>{{ words }}</span>
    <v-btn @click="emit('settle', 'typed')">
      {{ only ? only.typed : 'As typed' }}
    </v-btn>
    <v-btn @click="emit('settle', 'meant')">
      {{ only ? only.meant : 'Above zero, in the other unit' }}
    </v-btn>
    <v-btn variant="text" @click="emit('settle', 'nothing')">Keep the old value</v-btn>
  </div>
</template>

<style scoped>
.typed-question {
  display: flex;
  align-items: center;
  gap: 10px;
  padding: 4px 8px;
  border-left: 3px solid var(--ember);
  background: var(--surface);
}
</style>
