<script setup lang="ts">
import { type Driver, type Month, type Scope } from '@dravex/core';
import { computed } from 'vue';
import { useRoute } from 'vue-router';
import { longMonth } from '../format/periods.ts';
import { WORDS } from '../format/words.ts';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import SidePanel from '../shell/SidePanel.vue';
import { useFrame } from '../shell/use-frame.ts';
import { TEXTS } from './texts.ts';

/** The funnels of the scope in a month, as chains; every driver leads to where it is typed. */
const props = defineProps<{ scope: Scope; from: Month; to: Month }>();
const emit = defineEmits<{ close: [] }>();
const plan = usePlan();
const route = useRoute();
const { formats, set } = useFrame();

const months = computed(() =>
  Array.from({ length: Math.max(0, props.to - props.from + 1) }, (_, at) => ({
    value: props.from + at,
    name: longMonth(props.from + at),
  })),
);
/** The month that is looked at stands in the address. */
const month = computed(() => {
  const said = Number(route.query['of']);
  return months.value.some(({ value }) => value === said) ? said : props.from;
});
const drivers = computed<ReadonlyMap<string, Driver>>(
  () => new Map((plan.workspace?.plan.drivers ?? []).map((driver) => [driver.code, driver])),
);
const { data: chain } = useAnswer([() => props.scope, month, () => plan.tick], () =>
  plan.compute().funnelChain([...props.scope], month.value),
);
/** What each rate was over the last twelve closed months, as it was measured. */
const { data: observed } = useAnswer([() => props.scope, chain], async () => {
  const steps = [
    ...(chain.value?.sources.flatMap((source) => source.steps) ?? []),
    ...(chain.value?.steps ?? []),
  ];
  const codes = [...new Set(steps.map(({ driver }) => driver))];
  const found = await Promise.all(
    codes.map(async (code) => {
      const { reference } = await plan.compute().said(code, [...props.scope]);
      return [code, reference?.lastYear ?? null] as const;
    }),
  );
  return new Map(found);
});
const count = (value: number | null): string => formats.value.show(value, 'units', 1);
const percent = (value: number | null): string => formats.value.show(value, 'percent');
const nameOf = (code: string): string => drivers.value.get(code)?.name ?? code;
const MADE = { typed: '', paid: ' / ', times: ' x ' } as const;
const entering = (stage: number) =>
  (chain.value?.sources ?? []).filter(({ enters }) => enters === stage);
const later = (lag: number): string => (lag === 0 ? '' : TEXTS.monthsLater(lag));
</script>

<template>
  <SidePanel :heading="TEXTS.funnel" @close="emit('close')">
    <v-select
      :label="WORDS.month"
      :model-value="month"
      :items="months"
      @update:model-value="(value: number) => set({ of: String(value) })"
    />
    <p v-if="chain && chain.streams === 0" class="quiet">
      {{ TEXTS.noForecastLineHereHas }}
    </p>
    <ol v-else-if="chain" class="chain" :aria-label="TEXTS.chain">
      <template v-for="stage in chain.steps.length + 1" :key="stage">
        <li
          v-for="source in entering(stage - 1)"
          :key="source.name"
          class="source"
          :aria-label="TEXTS.source(source.name)"
        >
          <b>{{ source.name }}</b>
          <span class="figure">{{ count(source.brings) }}</span>
          <span class="quiet">
            <template v-for="(code, place) in source.drivers" :key="code">
              {{ place > 0 ? MADE[source.kind] : '' }}
              <v-btn variant="plain" @click="set({ driver: code })">{{ nameOf(code) }}</v-btn>
            </template>
          </span>
          <ol v-if="source.steps.length > 0">
            <li v-for="step in source.steps" :key="step.name" :aria-label="TEXTS.step(step.name)">
              <span>{{ TEXTS.came(count(step.came), later(step.lag)) }}</span>
              {{ ' ' }}
              <v-btn variant="plain" @click="set({ driver: step.driver })">
                {{ percent(step.rate) }} {{ nameOf(step.driver).toLowerCase() }}
              </v-btn>
              {{ ' ' }}
              <span class="quiet">
                {{ TEXTS.measured(percent(observed?.get(step.driver) ?? null)) }}</span
              >
              <span class="figure">{{ count(step.passed) }} {{ step.name.toLowerCase() }}</span>
            </li>
          </ol>
        </li>
        <li
          v-for="step in chain.steps.slice(stage - 1, stage)"
          :key="step.name"
          class="step"
          :aria-label="TEXTS.step(step.name)"
        >
          <b>{{ step.name }}</b>
          <span class="figure">{{ count(step.passed) }}</span>
          <span>
            {{ TEXTS.came(count(step.came), later(step.lag)) }}
            <v-btn variant="plain" @click="set({ driver: step.driver })">
              {{ percent(step.rate) }} {{ nameOf(step.driver).toLowerCase() }}
            </v-btn>
            {{ ' ' }}
            <span class="quiet">
              {{ TEXTS.measured(percent(observed?.get(step.driver) ?? null)) }}</span
            >
          </span>
        </li>
      </template>
      <li class="out">
        <b>{{ TEXTS.comesOut }}</b> <span class="figure">{{ count(chain.out) }}</span>
      </li>
    </ol>
  </SidePanel>
</template>

<style scoped>
ol {
  list-style: none;
  margin: 0;
  padding: 0;
}
.chain > li {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 0 8px;
  padding: 6px 0 6px 12px;
  border-left: 2px solid var(--harbour);
  border-bottom: 1px solid var(--line-soft);
}
.chain > .source {
  border-left-style: dotted;
}
.chain > li > :not(b, .figure) {
  grid-column: 1 / -1;
}
.source ol {
  padding-left: 12px;
}
.source ol li {
  display: flex;
  flex-wrap: wrap;
  gap: 0 4px;
}
.figure {
  font-variant-numeric: tabular-nums;
  font-weight: 620;
}
.source ol .figure {
  margin-left: auto;
}
.out {
  border-left-color: var(--ink) !important;
}
</style>
