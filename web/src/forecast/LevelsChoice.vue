<script setup lang="ts">
import { computed } from 'vue';
import { useArrangement } from './use-arrangement.ts';

/** How many levels of rows are open. */
const props = defineProps<{ levels: number }>();
const { depth, setDepth } = useArrangement();
const choices = computed(() => Array.from({ length: props.levels }, (_, place) => place + 1));
</script>

<template>
  <span v-if="levels > 1" class="levels" role="group" aria-label="Levels of rows">
    <span class="quiet" aria-hidden="true">Levels</span>
    <v-btn
      v-for="level in choices"
      :key="level"
      :aria-pressed="level === Math.min(depth + 1, levels)"
      :aria-label="`${level} ${level === 1 ? 'level' : 'levels'} of rows`"
      @click="setDepth(level)"
    >
      {{ level }}
    </v-btn>
  </span>
</template>

<style scoped>
.levels {
  display: inline-flex;
  align-items: center;
}
.levels .quiet {
  font-size: 12px;
  margin-right: 6px;
}
</style>
