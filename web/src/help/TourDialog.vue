<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import DialogSheet from '../kit/DialogSheet.vue';
import { useSession } from '../people/use-session.ts';
import { useAnswer } from '../plan/use-answer.ts';
import { helpPage } from './pages.ts';
import { TEXTS } from './texts.ts';

/** A short tour of the first visit, from `docs/help/tour.md`; it can be skipped, and had again by help. */
const shown = defineModel<boolean>({ required: true });
const session = useSession();
const place = ref(0);
const { data } = useAnswer([shown], async () => (shown.value ? helpPage('tour') : undefined));
/** Its steps: a heading and what follows, divided by a line. */
const steps = computed(() =>
  (data.value ?? '').split(/<hr\s*\/?>/).map((step) => {
    const [, title = '', body = ''] = /<h1>(.*?)<\/h1>([\s\S]*)/.exec(step) ?? [];
    return { title, body };
  }),
);
const last = computed(() => place.value >= steps.value.length - 1);
watch(shown, (open) => {
  if (open) place.value = 0;
  else if (session.preferences.toured !== true) void session.prefer({ toured: true });
});
</script>

<template>
  <DialogSheet v-model="shown" :title="steps[place]?.title ?? ''" :width="460">
    <!-- eslint-disable-next-line vue/no-v-html -- our own page, made HTML when the application is built -->
    <div v-html="steps[place]?.body" />
    <p class="quiet">{{ TEXTS.of(place + 1, steps.length) }}</p>
    <template #actions>
      <v-btn
        color="primary"
        variant="flat"
        autofocus
        @click="last ? (shown = false) : (place += 1)"
      >
        {{ last ? TEXTS.start : TEXTS.next }}
      </v-btn>
      <v-btn v-if="place > 0" color="primary" @click="place -= 1">{{ TEXTS.back }}</v-btn>
      <v-btn v-if="!last" color="primary" @click="shown = false">{{ TEXTS.skipTheTour }}</v-btn>
    </template>
  </DialogSheet>
</template>
