<script setup lang="ts">
import { computed } from 'vue';
import { TEXTS } from './texts.ts';
import { useArrangement } from './use-arrangement.ts';

/** How many levels of rows are open. */
const props = defineProps<{ levels: number }>();
const { depth, setDepth } = useArrangement();
const choices = computed(() => Array.from({ length: props.levels }, (_, place) => place + 1));
</script>

<template>
  <span v-if="levels > 1" class="levels" role="group" :aria-label="TEXTS.levelsOfRows">
    <span class="quiet" aria-hidden="true">{{ TEXTS.levels }}</span>
    <v-btn
      v-for="level in choices"
      :key="level"
      :aria-pressed="level === Math.min(depth + 1, levels)"
      :aria-label="TEXTS.levelsOfRowsOf(level)"
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
