<script setup lang="ts">
import type { Thread } from '@dravex/contract';
import { MEASURES, monthFrom } from '@dravex/core';
import { computed } from 'vue';
import { spanInWords } from '../format/periods.ts';
import { WORDS } from '../format/words.ts';
import DialogSheet from '../kit/DialogSheet.vue';
import { usePlan } from '../plan/use-plan.ts';
import { TEXTS } from './texts.ts';

/** All that was said of the numbers of a room: those that are open first, each leads to its thread. */
const shown = defineModel<boolean>({ required: true });
const props = defineProps<{ threads: readonly Thread[] }>();
const emit = defineEmits<{ look: [thread: Thread] }>();
const plan = usePlan();
const ordered = computed(() =>
  props.threads.toSorted((a, b) => Number(a.resolved) - Number(b.resolved)),
);
const whereOf = ({ measure, scope, from, to }: Thread): string => {
  const where = scope.length > 0 ? plan.tree.label(scope) : TEXTS.everything;
  const months = spanInWords({ from: monthFrom(from), to: monthFrom(to) });
  return `${where}, ${MEASURES[measure].name.toLowerCase()}, ${months}`;
};
const stateOf = ({ comments, resolved }: Thread): string =>
  [
    ...(comments.length > 1 ? [TEXTS.commentsOf(comments.length)] : []),
    ...(resolved ? ['resolved'] : []),
  ].join(', ');
function look(thread: Thread): void {
  shown.value = false;
  emit('look', thread);
}
</script>

<template>
  <DialogSheet v-model="shown" :title="TEXTS.allComments" :width="620">
    <p v-if="threads.length === 0" class="quiet">
      {{ TEXTS.nobodyHasCommentedHereRight }}
    </p>
    <ul v-else class="threads">
      <li v-for="thread in ordered" :key="thread.id" :class="{ quiet: thread.resolved }">
        <v-btn variant="plain" @click="look(thread)">{{ whereOf(thread) }}</v-btn>
        <p>
          {{ thread.comments.at(-1)?.by }}: {{ thread.comments.at(-1)?.text }}
          <span v-if="stateOf(thread)" class="quiet">({{ stateOf(thread) }})</span>
        </p>
      </li>
    </ul>
    <template #actions>
      <v-btn color="primary" @click="shown = false">{{ WORDS.close }}</v-btn>
    </template>
  </DialogSheet>
  <!-- On paper nobody can open them: they stand below the table. -->
  <section v-if="threads.length > 0" class="on-paper">
    <h2>{{ TEXTS.comments }}</h2>
    <p v-for="thread in ordered" :key="thread.id">
      <b>{{ whereOf(thread) }}</b>
      <template v-if="thread.resolved">{{ ` ${TEXTS.resolvedLower}` }}</template>:
      <template v-for="(said, place) in thread.comments" :key="place">
        {{ place > 0 ? '; ' : '' }}{{ said.by }}: {{ said.text }}
      </template>
    </p>
  </section>
</template>

<style scoped>
.on-paper {
  display: none;
}
@media print {
  .on-paper {
    display: block;
    font-size: 10px;
  }
}
.threads {
  list-style: none;
  margin: 0;
  padding: 0;
  max-height: 60vh;
  overflow: auto;
}
.threads li {
  padding: 6px 0;
  border-top: 1px solid var(--line);
}
.threads p {
  margin: 0;
  overflow-wrap: anywhere;
}
</style>
