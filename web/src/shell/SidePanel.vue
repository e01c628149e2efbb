<script setup lang="ts">
import { mdiClose } from '@mdi/js';
import { onBeforeUnmount, onMounted, ref, useId } from 'vue';
import { useHistory } from '../journal/use-history.ts';
import { rememberFocus } from '../kit/focus.ts';
import { useTrace } from '../trace/use-trace.ts';
import { TEXTS } from './texts.ts';

/**
 * A panel beside a room's table: a heading, a way to close it, and what it holds. It shares the side
 * with the trace and the history: while one of them is open it steps back, with all that was typed
 * into it.
 */
defineProps<{ heading: string; width?: number }>();
const emit = defineEmits<{ close: [] }>();
const id = useId();
const panel = ref<HTMLElement>();
const trace = useTrace();
const history = useHistory();
let goBack: (() => void) | undefined;
/** Who opens a panel is in it; who opens it by the way (an address) stays where they are. */
onMounted(() => {
  trace.close();
  history.close();
  if (document.activeElement === document.body) return;
  goBack = rememberFocus();
  panel.value?.focus();
});
onBeforeUnmount(() => {
  if (panel.value?.contains(document.activeElement)) goBack?.();
});
</script>

<template>
  <aside
    v-show="!trace.open && !history.open"
    ref="panel"
    class="side-panel no-print"
    tabindex="-1"
    :aria-labelledby="id"
    :style="{ width: `${width ?? 330}px` }"
    @keydown.esc="emit('close')"
  >
    <header>
      <h2 :id="id">{{ heading }}</h2>
      <v-btn
        variant="text"
        :icon="mdiClose"
        :aria-label="TEXTS.close(heading)"
        @click="emit('close')"
      />
    </header>
    <slot />
  </aside>
</template>

<style scoped>
.side-panel {
  flex: none;
  overflow: auto;
  border-left: 1px solid var(--line);
  /* The frame around what has the focus needs room on both sides. */
  padding: 0 3px 0 14px;
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  grid-auto-rows: max-content;
  gap: 8px;
  font-size: 12px;
}
.side-panel:focus {
  outline: none;
}
/* What the panel is, and the way out, stay in sight. */
header {
  position: sticky;
  top: 0;
  z-index: 1;
  background: var(--paper);
  display: flex;
  justify-content: space-between;
}
.side-panel :slotted(ul) {
  margin: 0;
  padding: 0;
  list-style: none;
}
</style>
