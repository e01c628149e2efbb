<script setup lang="ts">
import { monthText, type Scope, type Span } from '@dravex/core';
import { useRoute } from 'vue-router';
import type { MissingInput } from '../computation/forecast-answers.ts';
import { spanInWords } from '../format/periods.ts';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { TEXTS } from './texts.ts';

/** What is missing below a number: which inputs, of what, in which months, and where to set them. */
const props = defineProps<{ scope: Scope; span: Span }>();
const plan = usePlan();
const route = useRoute();
const { addressOf } = useFrame();

const SHOWN = 6;
const { data } = useAnswer([() => props.scope, () => props.span, () => plan.tick], () => {
  const { from, to } = props.span;
  return plan.compute().missingBelow([...props.scope], { from, to });
});
/** The room and the window in which an input is set. */
function placeOf({ driver, members, months }: MissingInput): object {
  const from = months[0]?.from ?? props.span.from;
  const window = { from: monthText(from), to: monthText(Math.max(props.span.to, from)) };
  return {
    path: `/w/${plan.workspaceId}/drivers`,
    query: { ...route.query, ...addressOf(members), ...window, driver },
  };
}
</script>

<template>
  <div v-if="data && data.length > 0" class="missing">
    <p class="waits">
      {{ TEXTS.incompleteInputsAreMissing(data.length) }}
    </p>
    <ul>
      <li v-for="one in data.slice(0, SHOWN)" :key="`${one.driver} ${one.label}`">
        <RouterLink :to="placeOf(one)">{{ one.name }}</RouterLink>
        {{ TEXTS.of(one.label, one.months.map(spanInWords).join(', ')) }}
      </li>
    </ul>
    <p v-if="data.length > SHOWN" class="quiet">{{ TEXTS.andMore(data.length - SHOWN) }}</p>
  </div>
  <p v-else class="waits">{{ TEXTS.incompleteSomethingBelowIsMissing }}</p>
</template>

<style scoped>
.missing ul {
  margin: 2px 0 6px;
  padding-left: 16px;
  font-size: 12px;
}
</style>
