<script setup lang="ts">
import { WORDS } from '../format/words.ts';
/** The sheet before the workspace: signing in, and choosing a password. */

defineProps<{ about: string }>();
const emit = defineEmits<{ submit: [] }>();
</script>

<template>
  <main class="entry">
    <form class="sheet" novalidate @submit.prevent="emit('submit')">
      <div class="name">
        <svg viewBox="0 0 64 24" aria-hidden="true">
          <path d="M0 14h38" class="bar" />
          <path d="M48 2v20" class="tick" />
        </svg>
        <h1>{{ WORDS.dravex }}</h1>
      </div>
      <p class="quiet">{{ about }}</p>
      <slot />
    </form>
  </main>
</template>

<style scoped>
.entry {
  min-height: 100vh;
  display: grid;
  place-items: center;
  background: var(--paper);
}
.sheet {
  width: 340px;
  display: grid;
  gap: 10px;
  padding: 32px 32px 36px;
  background: var(--surface);
  border-top: 2px solid var(--ink);
}
.name {
  display: flex;
  align-items: center;
  gap: 12px;
}
h1 {
  font-size: 26px;
}
svg {
  width: 48px;
}
.bar {
  stroke: var(--harbour);
  stroke-width: 9;
}
.tick {
  stroke: var(--ember);
  stroke-width: 4;
}
.sheet :slotted(.v-btn) {
  justify-self: start;
  margin-top: 6px;
}
</style>
