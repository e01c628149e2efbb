<script setup lang="ts">
import { computed } from 'vue';
import type { GridEdit } from '../grid/plan-grid.ts';
import { TEXTS } from './texts.ts';
import type { Doubt } from './use-typed.ts';

/** Asks which value was meant, beside the grid: whoever goes on typing is not disturbed. */
const props = defineProps<{ doubts: readonly Doubt<GridEdit>[] }>();
const emit = defineEmits<{ settle: [as: 'typed' | 'meant' | 'nothing'] }>();

const only = computed(() => (props.doubts.length === 1 ? props.doubts[0] : undefined));
const words = computed(() => {
  const one = only.value;
  return one
    ? TEXTS.youTypedInPlaceOf(one.typed, one.stands)
    : TEXTS.valuesAreBelowZeroOr(props.doubts.length);
});
</script>

<template>
  <div v-if="doubts.length > 0" class="typed-question no-print" role="alert">
    <span>{{ words }}</span>
    <v-btn @click="emit('settle', 'typed')">
      {{ only ? only.typed : TEXTS.asTyped }}
    </v-btn>
    <v-btn @click="emit('settle', 'meant')">
      {{ only ? only.meant : TEXTS.aboveZeroInOtherUnit }}
    </v-btn>
    <v-btn variant="text" @click="emit('settle', 'nothing')">{{ TEXTS.keepOldValue }}</v-btn>
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
