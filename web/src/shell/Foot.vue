<script setup lang="ts">
import {
  actualsOperations,
  closingOperations,
  targetOperations,
  type Closing,
} from '@dravex/contract';
import { fiscalYearOf, monthFrom } from '@dravex/core';
import { computed, watch } from 'vue';
import { useRoute } from 'vue-router';
import { dayInWords, longMonth } from '../format/periods.ts';
import { useAnswer } from '../plan/use-answer.ts';
import WorkShare from '../kit/WorkShare.vue';
import { useRights } from '../people/use-planner.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useWork } from '../writing/use-work.ts';
import { TEXTS } from './texts.ts';
import { useFrame } from './use-frame.ts';

const emit = defineEmits<{ palette: []; help: [] }>();
const plan = usePlan();
const work = useWork();
const route = useRoute();
const { readsAll } = useRights();
const { minor, calendar, formats } = useFrame();

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
/** The next close and its day, where it has one or can be done by now. */
function closesInWords({ month, due, over }: Closing): string {
  if (month === null) return '';
  const name = longMonth(monthFrom(month));
  if (due !== null) return TEXTS.closesOn(name, dayInWords(due));
  return over ? TEXTS.canBeClosed(name) : '';
}
/** What waits is asked for when nothing more is being changed. */
const CALM_MS = 800;
const attention = useAnswer(
  [() => plan.savedAt, () => plan.tick, () => route.name],
  async () => {
    if (!readsAll.value) return { waiting: 0, unassigned: 0, over: 0, closes: '' };
    const [batches, targets, closing] = await Promise.all([
      plan.ask(actualsOperations.listImports, {}),
      plan.ask(targetOperations.readTargets, { fiscalYear: thisYear.value }),
      plan.ask(closingOperations.readClosing, {}),
    ]);
    // Other measures than revenue are followed in Targets.
    const nodes = targets.objective?.measure === 'revenue' ? targets.nodes : [];
    const unassigned = nodes.reduce((sum, node) => sum + (node.unassigned ?? 0), 0);
    const over = nodes.reduce((sum, node) => sum + (node.overAssigned ?? 0), 0);
    return {
      waiting: batches.filter(({ state }) => state === 'previewed').length,
      unassigned,
      over,
      closes: closesInWords(closing),
    };
  },
  CALM_MS,
);

const saved = computed(() => {
  if (plan.unreachable) {
    const changes = TEXTS.changes(plan.pending);
    return TEXTS.notSavedServerCannotBe(changes);
  }
  if (plan.pending > 0 || plan.saving === 'saving') return TEXTS.saving;
  if (plan.saving === 'failed') return TEXTS.lastChangeWasNotSaved;
  const at = plan.savedAt;
  return at ? TEXTS.saved(at.toTimeString().slice(0, 5)) : TEXTS.allSaved;
});
const base = computed(() => `/w/${plan.workspaceId}`);
/** What the selected cells come to. */
const selected = computed(() => {
  const numbers = plan.selection.flatMap(({ value }) => value ?? []);
  if (plan.selection.length < 2 || numbers.length === 0) return '';
  const cells = plan.selection.filter(({ value }) => value !== null);
  // Amounts and percents have no sum.
  if (new Set(cells.map(({ unit }) => unit)).size > 1) return TEXTS.cells(numbers.length);
  const sum = numbers.reduce((all, value) => all + value, 0);
  const show = (value: number): string => formats.value.full(value, 'units');
  return TEXTS.sumCellsAverage(show(sum), numbers.length, show(sum / numbers.length));
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
      <v-btn v-if="plan.said.undo" variant="plain" @click="plan.undo(plan.said.undo)">{{
        TEXTS.undo
      }}</v-btn>
    </span>
    <span v-for="one in work.list" :key="one.name" class="work" role="status">
      {{ one.name
      }}<template v-if="one.arrived !== undefined">{{
        TEXTS.kb(Math.round(one.arrived / 1000))
      }}</template>
      <WorkShare v-if="one.share !== undefined" :name="one.name" :share="one.share" />
      <v-btn v-if="one.stop" variant="plain" @click="one.stop">{{ TEXTS.stop }}</v-btn>
    </span>
    <RouterLink v-if="attention.data.value?.waiting" :to="`${base}/actuals`">
      <b class="waits">{{ attention.data.value.waiting }}</b>
      {{ TEXTS.filesToImport(attention.data.value.waiting) }}
    </RouterLink>
    <RouterLink v-if="plan.missing.length > 0" :to="`${base}/drivers`">
      <b class="waits">{{ plan.missing.length }}</b> {{ TEXTS.inputsMissing }}
    </RouterLink>
    <RouterLink v-if="attention.data.value?.unassigned" :to="`${base}/targets`">
      <b class="waits">{{ formats.inWords(attention.data.value.unassigned / minor) }}</b>
      {{ TEXTS.ofTargetUnassigned }}
    </RouterLink>
    <RouterLink v-if="attention.data.value?.over" :to="`${base}/targets`">
      <b class="waits">{{ formats.inWords(attention.data.value.over / minor) }}</b>
      {{ TEXTS.overAssigned }}
    </RouterLink>
    <RouterLink v-if="attention.data.value?.closes" :to="`${base}/closing`">
      {{ attention.data.value.closes }}
    </RouterLink>
    <span class="last quiet">
      {{ TEXTS.closedThroughAsOf(longMonth(plan.closedThrough), dayInWords(calendar.asOf)) }}
    </span>
    <span class="quiet keys">
      <v-btn variant="text" @click="emit('help')">{{ TEXTS.helpF1 }}</v-btn>
      <v-btn variant="text" @click="emit('palette')">{{ TEXTS.goToCtrlK }}</v-btn>
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
@media (max-width: 900px) {
  .foot {
    flex-wrap: wrap;
    gap: 4px 18px;
  }
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
.work {
  display: flex;
  gap: 8px;
  align-items: center;
}
.keys {
  display: flex;
  gap: 8px;
}
</style>
