<script setup lang="ts">
import { computed, ref } from 'vue';
import { WORDS } from '../format/words.ts';
import DialogSheet from '../kit/DialogSheet.vue';
import { usePlanner } from '../people/use-planner.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { useWriting } from '../writing/use-writing.ts';
import { TEXTS } from './texts.ts';
import type { Check } from './use-warnings.ts';
import { WARNING_NAMES, warningInWords } from './warning-words.ts';

/** What deserves a second look in a version: each leads to its line, and is dismissed with a reason. */
const shown = defineModel<boolean>({ required: true });
const props = defineProps<{
  checks: readonly Check[];
  /** How many lines repeat last year, where most of them do. */
  repeats?: { readonly same: number; readonly lines: number } | undefined;
  dismiss: (check: Check, why: string) => Promise<void>;
}>();
const plan = usePlan();
const planner = usePlanner();
const { formats, setScope } = useFrame();
const ordered = computed(() =>
  props.checks.toSorted((a, b) => Number(Boolean(a.dismissed)) - Number(Boolean(b.dismissed))),
);
const idOf = ({ kind, key }: Check): string => `${kind} ${key}`;
/** The one that is being dismissed, and why. */
const dismissing = ref('');
const why = ref('');
const { failure, busy, write } = useWriting();
const dismiss = (check: Check) =>
  write(
    () => props.dismiss(check, why.value),
    () => {
      dismissing.value = '';
      why.value = '';
      plan.said = { text: TEXTS.dismissedWithItsReason, undo: 'budget' };
    },
  );
function show(check: Check): void {
  shown.value = false;
  void setScope(check.within);
}
</script>

<template>
  <DialogSheet v-model="shown" :title="TEXTS.whatToCheck" :width="680">
    <p v-if="checks.length === 0" class="quiet">
      {{ TEXTS.noLineRepeatsLastYear }}
    </p>
    <p v-if="repeats">{{ TEXTS.ofLinesRepeatLastYear(repeats.same, repeats.lines) }}</p>
    <ul class="checks">
      <li v-for="check in ordered" :key="idOf(check)" :class="{ quiet: check.dismissed }">
        <v-btn variant="plain" @click="show(check)">{{ plan.tree.label(check.within) }}</v-btn>
        <b>{{ WARNING_NAMES[check.kind] }}</b>
        <p>{{ warningInWords(check, formats) }}.</p>
        <p v-if="check.dismissed">
          {{ TEXTS.dismissedBy(check.dismissed.by, check.dismissed.why) }}
        </p>
        <form
          v-else-if="planner && dismissing === idOf(check)"
          class="why"
          @submit.prevent="why.trim() && dismiss(check)"
        >
          <v-text-field v-model="why" autofocus :label="WORDS.reason" :maxlength="500" />
          <v-btn type="submit" color="primary" :disabled="why.trim() === ''" :loading="busy">
            {{ TEXTS.dismiss }}
          </v-btn>
        </form>
        <v-btn v-else-if="planner" variant="plain" @click="dismissing = idOf(check)">
          {{ TEXTS.dismissWithReason }}
        </v-btn>
      </li>
    </ul>
    <p v-if="failure" class="failure" role="alert">{{ failure }}</p>
    <template #actions>
      <v-btn color="primary" @click="shown = false">{{ WORDS.close }}</v-btn>
    </template>
  </DialogSheet>
</template>

<style scoped>
.checks {
  list-style: none;
  margin: 0;
  padding: 0;
  max-height: 60vh;
  overflow: auto;
}
.checks li {
  padding: 6px 0;
  border-top: 1px solid var(--line);
}
.checks p {
  margin: 0;
  overflow-wrap: anywhere;
}
.checks b {
  margin-left: 8px;
}
.why :deep(.v-text-field) {
  flex: 1;
}
.why {
  display: flex;
  align-items: end;
  gap: 8px;
  max-width: 520px;
}
</style>
