<script setup lang="ts">
import { mdiClose } from '@mdi/js';
import { useId } from 'vue';

/** What lies beside every room: the trace, the history. */
defineProps<{ heading: string }>();
const emit = defineEmits<{ close: [] }>();
const id = useId();
</script>

<template>
  <aside class="drawer no-print" :aria-labelledby="id" @keydown.esc="emit('close')">
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
