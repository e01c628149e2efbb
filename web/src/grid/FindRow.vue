<script setup lang="ts">
import { ref } from 'vue';
import { TEXTS } from './texts.ts';

/** The field in which a row is looked for by its name. */
defineProps<{
  /** Whether no row is called like what stands in it. */
  missed: boolean;
}>();
const emit = defineEmits<{
  /** A row with these words is looked for; the next one after where one is, by Enter. */
  seek: [words: string, next: boolean];
  /** Whoever looked has found. */
  done: [];
}>();

/** What is looked for; undefined while nobody looks for a row. */
const words = ref<string>();
const field = ref<{ focus(): void }>();

defineExpose({
  /** The field is there all the time, so that the next key is in it already. */
  open(): void {
    words.value = '';
    field.value?.focus();
  },
});
function onKeydown(event: KeyboardEvent): void {
  if (event.key !== 'Enter' && event.key !== 'Escape') return;
  event.preventDefault();
  if (event.key === 'Enter') {
    emit('seek', words.value ?? '', true);
    return;
  }
  event.stopPropagation();
  words.value = undefined;
  emit('done');
}
function onWords(typed: string): void {
  words.value = typed;
  emit('seek', typed, false);
}
</script>

<template>
  <div class="finding" :class="{ shut: words === undefined }" :aria-hidden="words === undefined">
    <v-text-field
      ref="field"
      :model-value="words ?? ''"
      :label="TEXTS.findARow"
      :tabindex="words === undefined ? -1 : 0"
      @update:model-value="onWords"
      @keydown="onKeydown"
    />
    <span v-if="missed" role="status" class="missed">{{ TEXTS.noRowIsCalled(words ?? '') }}</span>
  </div>
</template>

<style scoped>
.finding {
  position: absolute;
  z-index: 5;
  top: 32px;
  right: 12px;
  width: 220px;
  padding: 6px;
  background: var(--surface);
  border: 1px solid var(--line);
}
.shut {
  opacity: 0;
  pointer-events: none;
}
.missed {
  display: block;
  padding: 4px 2px 0;
  font-size: 12px;
  color: var(--bad);
}
</style>
