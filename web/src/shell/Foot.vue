<script setup lang="ts">
import type { ImportBatch, TargetTree } from '@dravex/contract';
import { fiscalYearOf } from '@dravex/core';
import { computed, watch } from 'vue';
import { useRoute } from 'vue-router';
import { dayInWords, longMonth } from '../format/periods.ts';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { request } from './api.ts';
import { useFrame } from './use-frame.ts';

const emit = defineEmits<{ palette: []; help: [] }>();
const plan = usePlan();
const route = useRoute();
const { calendar, formats } = useFrame();

const thisYear = computed(() => fiscalYearOf(plan.closedThrough, calendar.value.fiscalStart));
/** A note of what happened goes by itself. */
const NOTE_MS = 12_000;
watch(
  () => plan.said,
  (said) => {
    if (!said) return;
    setTimeout(() => {
      if (plan.said === said) plan.said = undefined;
    }, NOTE_MS);
  },
);
/** What waits is asked for when nothing more is being changed. */
const CALM_MS = 800;
const attention = useAnswer(
  [() => plan.savedAt, () => plan.tick, () => route.name],
  async () => {
    const [batches, targets] = await Promise.all([
      request<ImportBatch[]>('GET', plan.path('/imports')),
      request<TargetTree>('GET', plan.path(`/targets/${thisYear.value}`)),
    ]);
    const unassigned = targets.nodes.reduce((sum, node) => sum + (node.unassigned ?? 0), 0);
    const over = targets.nodes.reduce((sum, node) => sum + (node.overAssigned ?? 0), 0);
    return {
      waiting: batches.filter(({ state }) => state === 'previewed').length,
      unassigned,
      over,
    };
  },
  CALM_MS,
);

const minor = computed(() => 10 ** (plan.workspace?.plan.currency.minorDigits ?? 2));
const saved = computed(() => {
  if (plan.unreachable) {
    const changes = `${plan.pending} ${plan.pending === 1 ? 'change' : 'changes'}`;
    return `Not saved: the server cannot be reached; ${changes} will be sent again`;
  }
  if (plan.pending > 0 || plan.saving === 'saving') return 'Saving';
  if (plan.saving === 'failed') return 'The last change was not saved';
  const at = plan.savedAt;
  return at ? `Saved ${at.toTimeString().slice(0, 5)}` : 'All saved';
});
const base = computed(() => `/w/${plan.workspaceId}`);
/** What the selected cells come to. */
const selected = computed(() => {
  const numbers = plan.selection.filter((value) => value !== null);
  if (plan.selection.length < 2 || numbers.length === 0) return '';
  const sum = numbers.reduce((all, value) => all + value, 0);
  const show = (value: number): string => formats.value.full(value, 'units');
  return `Sum ${show(sum)} · ${numbers.length} cells · mean ${show(sum / numbers.length)}`;
});
</script>

<template>
  <footer class="foot no-print">
    <span
      :class="{ waits: plan.saving !== 'saved' || plan.pending > 0 }"
      role="status"
      data-saved
      >{{ saved }}</span
    >
    <span v-if="selected" data-selection>{{ selected }}</span>
    <span v-if="plan.said" class="said" role="status" data-said>
      {{ plan.said.text }}
    </span>
    <RouterLink v-if="attention.data.value?.waiting" :to="`${base}/actuals`">
      <b class="waits">{{ attention.data.value.waiting }}</b>
      {{ attention.data.value.waiting === 1 ? 'file waits' : 'files wait' }} to be applied
    </RouterLink>
    <RouterLink v-if="plan.missing.length > 0" :to="`${base}/drivers`">
      <b class="waits">{{ plan.missing.length }}</b> inputs are missing
    </RouterLink>
    <RouterLink v-if="attention.data.value?.unassigned" :to="`${base}/targets`">
      <b class="waits">{{ formats.inWords(attention.data.value.unassigned / minor) }}</b>
      of the target unassigned
    </RouterLink>
    <RouterLink v-if="attention.data.value?.over" :to="`${base}/targets`">
      <b class="waits">{{ formats.inWords(attention.data.value.over / minor) }}</b>
      over-assigned
    </RouterLink>
    <span class="last quiet">
      {{ longMonth(plan.closedThrough) }} is closed; read on {{ dayInWords(calendar.asOf) }}
    </span>
    <span class="quiet keys">
      <button type="button" class="bare" @click="emit('help')">? keys</button>
      <button type="button" class="bare" @click="emit('palette')">Ctrl+K go to</button>
    </span>
  </footer>
</template>

<style scoped>
.foot {
  display: flex;
  gap: 26px;
  align-items: center;
  padding: 0 18px;
  font-size: 12px;
  border-top: 1px solid var(--line);
  background: var(--paper);
  white-space: nowrap;
  overflow: hidden;
}
.foot a {
  color: inherit;
  text-decoration: none;
}
.foot a:hover {
  text-decoration: underline;
}
.last {
  margin-left: auto;
}
.said {
  max-width: 34vw;
  overflow: hidden;
  text-overflow: ellipsis;
  color: var(--harbour);
}
.keys {
  display: flex;
  gap: 14px;
}
</style>
