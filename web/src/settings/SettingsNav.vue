<script setup lang="ts">
import { useRoute } from 'vue-router';
import { WORDS } from '../format/words.ts';
import { useRights } from '../people/use-planner.ts';
import { TEXTS } from './texts.ts';

/** What can be set up, side by side. */
const route = useRoute();
const PAGES = [
  { key: 'settings', name: TEXTS.workspace },
  { key: 'dimensions', name: WORDS.dimensions },
  { key: 'connections', name: WORDS.connections },
  { key: 'access', name: TEXTS.reportingAccess },
  ...(useRights().owns.value ? [{ key: 'audit', name: WORDS.auditLog }] : []),
];
</script>

<template>
  <nav class="pages" :aria-label="TEXTS.settings">
    <RouterLink
      v-for="page in PAGES"
      :key="page.key"
      :to="`/w/${String(route.params['workspaceId'])}/${page.key}`"
      class="page"
      active-class="here"
    >
      {{ page.name }}
    </RouterLink>
  </nav>
</template>

<style scoped>
.pages {
  display: flex;
  gap: 18px;
  border-bottom: 1px solid var(--line);
}
.page {
  color: var(--ink-quiet);
  text-decoration: none;
  padding: 0 0 6px;
  font-size: 12.5px;
}
.page.here {
  color: var(--ink);
  font-weight: 600;
  border-bottom: 2px solid var(--ember);
}
</style>
