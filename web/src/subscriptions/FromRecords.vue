<script setup lang="ts">
import { driversOperations, factOperations } from '@dravex/contract';
import { monthFrom, type Churn, type Scope } from '@dravex/core';
import { computed } from 'vue';
import { longMonth } from '../format/periods.ts';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { useWriting } from '../writing/use-writing.ts';
import { churnInWords } from './retention-words.ts';
import { TEXTS } from './texts.ts';

/** What subscriber records say of a forecast line: how long they stay, and who is there by age. */
const props = defineProps<{ scope: Scope }>();
const emit = defineEmits<{ churn: [curve: Churn]; opening: [byAge: readonly number[]] }>();
const plan = usePlan();
const { formats } = useFrame();
const inScope = computed(() => props.scope.join());
const { data } = useAnswer([inScope, () => plan.savedAt], () =>
  plan.ask(factOperations.readCohorts, { scope: inScope.value, without: '' }),
);
/** Those of cohorts that do worse than their elders are no measure of what comes. */
const fair = useAnswer([data], async () => {
  const bad = data.value?.cohorts.filter(({ worse }) => worse !== null).map(({ start }) => start);
  return bad && bad.length > 0
    ? plan.ask(factOperations.readCohorts, { scope: inScope.value, without: bad.join(',') })
    : undefined;
});
const curve = computed(() => fair.data.value ?? data.value);
const leftOut = computed(() =>
  (fair.data.value?.cohorts ?? [])
    .filter(({ without }) => without)
    .map(({ start }) => longMonth(monthFrom(start))),
);
const byAge = computed(() => {
  const cohorts = data.value?.cohorts ?? [];
  const ages: number[] = [];
  for (const { active } of cohorts) ages[active.length - 1] = active.at(-1) ?? 0;
  return Array.from(ages, (count) => count ?? 0);
});
const there = computed(() =>
  formats.value.show(
    byAge.value.reduce((sum, count) => sum + count, 0),
    'units',
    1,
  ),
);

const { busy, failure, write } = useWriting();
/** One rate is a driver, and is set there; rates by age stand in the form. */
async function useCurve(): Promise<void> {
  const churn = curve.value?.fitted?.churn;
  if (!churn) return;
  emit('churn', churn);
  if (churn.kind === 'byAge') return;
  await write(
    () =>
      plan.ask(
        driversOperations.setAssumption,
        { driver: 'churnRate' },
        {
          scope: [...props.scope],
          profile: { kind: 'value', value: churn.rate },
          note: TEXTS.subscriberRecordsThrough(longMonth(plan.closedThrough)),
        },
      ),
    () => (plan.said = { text: TEXTS.setChurnFromSubscriberRecords, undo: 'drivers' }),
  );
}
</script>

<template>
  <div v-if="data && curve && data.cohorts.length > 0" class="records">
    <p class="quiet">
      {{ TEXTS.subscriberRecords(churnInWords(curve, formats))
      }}<template v-if="leftOut.length > 0">{{ TEXTS.without(leftOut.join(', ')) }}</template
      >.
      <v-btn v-if="curve.fitted" variant="plain" :disabled="busy" @click="useCurve">
        {{ TEXTS.useThisChurn }}
      </v-btn>
    </p>
    <p class="quiet">
      {{ TEXTS.areThereAtEndOf(there, longMonth(plan.closedThrough)) }}
      <v-btn variant="plain" @click="emit('opening', byAge)">{{ TEXTS.useTheseByAge }}</v-btn>
    </p>
    <p v-if="failure" class="failure" role="alert">{{ failure }}</p>
  </div>
</template>

<style scoped>
.records p {
  margin: 4px 0 0;
}
</style>
