<script setup lang="ts">
import { computed } from 'vue';
import { useRoute } from 'vue-router';
import { useFrame } from '../shell/use-frame.ts';
import AccuracyView from './AccuracyView.vue';
import MonthView from './MonthView.vue';
import { TEXTS } from './texts.ts';

/** The end of a month: what it needs, its close, and how good forecasts were. */
const route = useRoute();
const { set } = useFrame();
const VIEWS = [
  { key: 'month', name: TEXTS.nextClose, page: MonthView },
  { key: 'accuracy', name: TEXTS.accuracy, page: AccuracyView },
] as const;
const view = computed(() => VIEWS.find(({ key }) => key === route.query['view']) ?? VIEWS[0]);
</script>

<template>
  <component :is="view.page">
    <v-tabs class="no-print" :model-value="view.key" :aria-label="TEXTS.viewsOfClosing">
      <v-tab
        v-for="one in VIEWS"
        :key="one.key"
        :value="one.key"
        @click="set({ view: one.key === 'month' ? undefined : one.key })"
      >
        {{ one.name }}
      </v-tab>
    </v-tabs>
  </component>
</template>
