<script setup lang="ts">
import { mdiClose } from '@mdi/js';
import { onBeforeUnmount, onMounted, ref, useId } from 'vue';

/** What lies beside every room: the trace, the history. */
const props = defineProps<{
  heading: string;
  /** Whether who opens it is in it, and back where they were once it is closed. */
  entered?: boolean;
}>();
const emit = defineEmits<{ close: [] }>();
const id = useId();
const drawer = ref<HTMLElement>();
let before: Element | null = null;
onMounted(() => {
  if (!props.entered) return;
  before = document.activeElement;
  drawer.value?.focus();
});
onBeforeUnmount(() => {
  const within = drawer.value?.contains(document.activeElement) ?? false;
  if (within && before instanceof HTMLElement) before.focus({ preventScroll: true });
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
        :aria-label="`Close: ${heading}`"
        @click="emit('close')"
      />
    </div>
    <slot />
  </aside>
</template>
