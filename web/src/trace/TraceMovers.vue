<script setup lang="ts">
import type { Mover, TraceQuestion } from '@dravex/core';
import { ref, watch } from 'vue';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { TEXTS } from './texts.ts';

/** What would move a number of the forecast most: its drivers by the effect of one percent. */
const props = defineProps<{ question: Extract<TraceQuestion, { kind: 'table' }> }>();
const plan = usePlan();
const { formats, addressOf } = useFrame();

const found = ref<readonly Mover[]>();
const busy = ref(false);
watch(
  () => JSON.stringify(props.question),
  () => (found.value = undefined),
);
async function look(): Promise<void> {
  const { measure, scope, span } = props.question;
  if (measure !== 'units' && measure !== 'revenue') return;
  busy.value = true;
  const asked = JSON.stringify(props.question);
  const list = await plan.compute().movers({
    measure,
    scope: [...scope],
    span: { from: span.from, to: span.to },
  });
  busy.value = false;
  if (asked === JSON.stringify(props.question)) found.value = list;
}
const show = (effect: number): string =>
  formats.value.signed(effect, props.question.measure === 'units' ? 'units' : 'money');
function placeOf(driver: string): object {
  const query = { ...addressOf(props.question.scope), driver };
  return { path: `/w/${plan.workspaceId}/drivers`, query };
}
</script>

<template>
  <section :aria-label="TEXTS.mostSensitiveTo">
    <h3>{{ TEXTS.mostSensitiveTo }}</h3>
    <v-btn v-if="!found" variant="plain" :disabled="busy" @click="look">
      {{ TEXTS.calculateEffectOf1Percent }}
    </v-btn>
    <ol v-else-if="found.length > 0">
      <li v-for="mover in found" :key="mover.driver" class="line">
        <RouterLink :to="placeOf(mover.driver)">{{ mover.name }}</RouterLink>
        <b class="figures">{{ show(mover.effect) }}</b>
      </li>
    </ol>
    <p v-else class="quiet">{{ TEXTS.noDriverChangesItIt }}</p>
    <p v-if="found && found.length > 0" class="quiet">
      {{ TEXTS.effectOf1PercentMore }}
    </p>
  </section>
</template>
