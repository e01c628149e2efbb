<script setup lang="ts">
import { LONGEST_COMMENT, threadOperations, type Thread, type ThreadPlace } from '@dravex/contract';
import { MEASURES, monthFrom } from '@dravex/core';
import { computed, ref } from 'vue';
import { dayInWords } from '../format/moments.ts';
import { spanInWords } from '../format/periods.ts';
import { WORDS } from '../format/words.ts';
import FormDialog from '../kit/FormDialog.vue';
import { usePlanner } from '../people/use-planner.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useForm } from '../writing/use-form.ts';
import { useWriting } from '../writing/use-writing.ts';
import { TEXTS } from './texts.ts';

/** What was said of a number, one comment after another, and a place for the next one. */
const place = defineModel<ThreadPlace | undefined>({ required: true });
const props = defineProps<{
  thread: Thread | undefined;
  /** Whose number it is: `Budget FY 2027`. */
  whose: string;
}>();
const plan = usePlan();
const planner = usePlanner();
/** Whoever has said something may go on. */
const area = ref<{ focus(): void }>();
const shown = computed({
  get: () => place.value !== undefined,
  set: (open) => {
    if (!open) place.value = undefined;
  },
});
const about = computed(() => {
  if (!place.value) return '';
  const { measure, scope, from, to } = place.value;
  const where = scope.length > 0 ? plan.tree.label(scope) : 'everything';
  const months = spanInWords({ from: monthFrom(from), to: monthFrom(to) });
  return TEXTS.of(props.whose, MEASURES[measure].name.toLowerCase(), where, months);
});
const { form, field, submit, busy, failure } = useForm({
  fresh: () => ({ text: '' }),
  send: async ({ text }) => {
    if (place.value) await plan.ask(threadOperations.comment, {}, { ...place.value, text });
  },
  // What was typed on meanwhile is the beginning of the next one.
  done: ({ text: sent }) => {
    const { text } = form.value;
    if (text.startsWith(sent)) form.value.text = text.slice(sent.length);
    area.value?.focus();
    plan.said = { text: TEXTS.commentSaved, undo: 'budget' };
  },
});
const resolving = useWriting();
const resolve = ({ id, resolved }: Thread) =>
  resolving.write(
    () => plan.ask(threadOperations.resolveThread, { thread: id }, { resolved: !resolved }),
    () => {
      plan.said = { text: resolved ? TEXTS.openAgain : TEXTS.resolved, undo: 'budget' };
      if (!resolved) shown.value = false;
    },
  );
</script>

<template>
  <FormDialog
    v-model="shown"
    :title="TEXTS.comments"
    :action="WORDS.comment"
    :busy="busy"
    :failure="failure || resolving.failure.value"
    :disabled="!planner || form.text.trim() === ''"
    @submit="submit"
  >
    <p class="quiet">{{ about }}</p>
    <ol v-if="thread" class="said" :aria-label="TEXTS.whatWasSaid">
      <li v-for="({ by, at, text }, index) in thread.comments" :key="index">
        <b>{{ by }}</b> <span class="quiet">{{ dayInWords(at, plan.locale) }}</span>
        <p>{{ text }}</p>
      </li>
    </ol>
    <p v-if="thread?.resolved" class="quiet">{{ TEXTS.resolvedAnotherCommentOpensIt }}</p>
    <v-textarea
      v-if="planner"
      v-bind="field('text')"
      ref="area"
      autofocus
      :label="TEXTS.commentCtrlEnterSavesIt"
      rows="2"
      auto-grow
      :maxlength="LONGEST_COMMENT"
      @keydown.ctrl.enter="submit"
    />
    <template v-if="planner && thread" #more>
      <v-btn color="primary" @click="resolve(thread)">
        {{ thread.resolved ? TEXTS.openAgain : TEXTS.resolve }}
      </v-btn>
    </template>
  </FormDialog>
</template>

<style scoped>
.said {
  list-style: none;
  margin: 8px 0;
  padding: 0;
  max-height: 40vh;
  overflow: auto;
}
.said li {
  padding: 6px 0;
  border-top: 1px solid var(--line);
}
.said p {
  margin: 2px 0 0;
  white-space: pre-wrap;
  overflow-wrap: anywhere;
}
</style>
