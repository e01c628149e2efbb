<script setup lang="ts">
import { mdiClose } from '@mdi/js';
import { onBeforeUnmount, onMounted, ref, useId } from 'vue';
import { rememberFocus } from './focus.ts';
import { TEXTS } from './texts.ts';

/** What lies beside every room: the trace, the history. */
const props = defineProps<{
  heading: string;
  /** Whether who opens it is in it, and back where they were once it is closed. */
  entered?: boolean;
}>();
const emit = defineEmits<{ close: [] }>();
const id = useId();
const drawer = ref<HTMLElement>();
let goBack: (() => void) | undefined;
onMounted(() => {
  if (!props.entered) return;
  goBack = rememberFocus();
  drawer.value?.focus();
});
onBeforeUnmount(() => {
  if (drawer.value?.contains(document.activeElement)) goBack?.();
});
</script>

<template>
  <aside
    ref="drawer"
    class="drawer no-print"
    tabindex="-1"
    :aria-labelledby="id"
    @keydown.esc="emit('close')"
  >
    <div class="bar">
      <slot name="before" />
      <h2 :id="id">{{ heading }}</h2>
      <v-btn
        class="close"
        variant="text"
        :icon="mdiClose"
        :aria-label="TEXTS.close(heading)"
        @click="emit('close')"
      />
    </div>
    <slot />
  </aside>
</template>
