<script setup lang="ts">
import { computed } from 'vue';
import { useRoute } from 'vue-router';
import { GRID_KEYS } from '../grid/keys.ts';
import Drawer from '../kit/Drawer.vue';
import { TERMS } from '../kit/terms.ts';
import { useAnswer } from '../plan/use-answer.ts';
import { ROOMS, SETTINGS } from '../shell/rooms.ts';
import { helpPage } from './pages.ts';
import { TEXTS } from './texts.ts';

/** Help beside the room: what it is for, what to try, and its keys. */
const emit = defineEmits<{ close: []; tour: []; keys: [] }>();
const route = useRoute();
const page = computed(() => {
  const name = String(route.name);
  return SETTINGS.some((key) => key === name) ? 'settings' : name;
});
const numbered = computed(() => ROOMS.some(({ key }) => key === page.value));
const { data } = useAnswer([page], async () => helpPage(page.value));
/** The page begins with the name of its room; its headings are below those of the room itself. */
const title = computed(() => /<h1>(.*?)<\/h1>/.exec(data.value ?? '')?.[1] ?? '');
const body = computed(() =>
  (data.value ?? '').replace(/<h1>.*?<\/h1>/, '').replaceAll(/(<\/?h)2>/g, '$13>'),
);
</script>

<template>
  <Drawer entered :heading="TEXTS.help(title)" @close="emit('close')">
    <!-- eslint-disable-next-line vue/no-v-html -- our own pages, made HTML when the application is built -->
    <div class="page" v-html="body" />
    <template v-if="numbered">
      <h3>{{ TEXTS.keysInItsTable }}</h3>
      <dl>
        <template v-for="[keys, what] in GRID_KEYS" :key="keys">
          <dt>{{ keys }}</dt>
          <dd>{{ what }}</dd>
        </template>
      </dl>
    </template>
    <h3>{{ TEXTS.terms }}</h3>
    <dl class="terms">
      <template v-for="term in TERMS" :key="term.name">
        <dt>{{ term.name }}</dt>
        <dd>{{ term.says }}</dd>
      </template>
    </dl>
    <p class="controls">
      <v-btn @click="emit('keys')">{{ TEXTS.allKeysAndLegend }}</v-btn>
      <v-btn @click="emit('tour')">{{ TEXTS.takeTheTour }}</v-btn>
    </p>
  </Drawer>
</template>

<style scoped>
.page :deep(ul) {
  margin: 0;
  padding-left: 18px;
}
.page :deep(li) {
  border: 0;
  padding: 2px 0;
}
dl {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 3px 10px;
  margin: 4px 0 12px;
}
dl.terms {
  grid-template-columns: 1fr;
}
dt {
  font-weight: 600;
}
dd {
  margin: 0;
}
</style>
