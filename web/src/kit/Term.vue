<script setup lang="ts">
import { ref } from 'vue';
import { TERMS, type TermName } from './terms.ts';

/** A term with what it means, by pointing at it or coming to it. */
defineProps<{ of: TermName }>();
const shown = ref(false);
</script>

<template>
  <span
    class="term"
    tabindex="0"
    :aria-description="TERMS[of].says"
    @mouseenter="shown = true"
    @mouseleave="shown = false"
    @focus="shown = true"
    @blur="shown = false"
  >
    <slot>{{ TERMS[of].name }}</slot>
    <v-tooltip
      v-if="shown"
      activator="parent"
      :model-value="true"
      :open-on-hover="false"
      :text="TERMS[of].says"
    />
  </span>
</template>

<style scoped>
.term {
  text-decoration: underline dotted var(--thin);
  text-underline-offset: 3px;
  cursor: help;
}
</style>
