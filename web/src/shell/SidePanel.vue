<script setup lang="ts">
/** A panel beside a room's table: a heading, a way to close it, and what it holds. */
defineProps<{
  /** What it is, for those who cannot see the place. */
  about: string;
  heading: string;
  /** What the button that closes it says. */
  closing: string;
  width?: number;
}>();
const emit = defineEmits<{ close: [] }>();
</script>

<template>
  <aside class="side-panel no-print" :aria-label="about" :style="{ width: `${width ?? 330}px` }">
    <header>
      <h2>{{ heading }}</h2>
      <button type="button" class="bare" :aria-label="closing" @click="emit('close')">×</button>
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
header {
  display: flex;
  justify-content: space-between;
}
.side-panel :slotted(ul) {
  margin: 0;
  padding: 0;
  list-style: none;
}
</style>
