<script setup lang="ts">
import { BRIDGE_STEPS, type Grain, type Scope, type Span } from '@dravex/core';
import { computed } from 'vue';
import { longMonth } from '../format/periods.ts';
import GroupedTable, { type LineGroup } from '../kit/GroupedTable.vue';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { bridgeInWords } from './bridge-words.ts';

/** The subscriptions of the scope beside a version: how far they are from it, and by what. */
const props = defineProps<{
  scope: Scope;
  span: Span;
  grain: Grain;
  headings: readonly string[];
}>();
const plan = usePlan();
const { formats, unit, version } = useFrame();
const { data, failure } = useAnswer(
  [() => props.scope, () => props.span, () => props.grain, version, () => plan.tick],
  async () => {
    const against = version.value;
    if (!against) return undefined;
    await plan.loadVersion(against.id);
    const { scope, span, grain } = props;
    return {
      name: against.name,
      bridge: await plan.compute().subscriptionBridge(against.id, [...scope], { ...span }, grain),
    };
  },
);
const money = (value: number | null): string => formats.value.show(value, 'money', unit.value);
const count = (value: number | null): string => formats.value.show(value, 'units', 1);
const less = (now: number | null, then: number | null): number | null =>
  now === null || then === null ? null : now - then;
const groups = computed((): LineGroup[] => {
  const { name = '', bridge } = data.value ?? {};
  if (!bridge) return [];
  const line = (
    title: string,
    values: readonly (number | null)[],
    show: (value: number | null) => string,
    total: number | null,
    strong = false,
  ) => ({ key: title, name: title, strong, total: show(total), cells: values.map(show) });
  const last = (values: readonly (number | null)[]): number | null => values.at(-1) ?? null;
  const all = (values: readonly (number | null)[]): number | null =>
    values.reduce<number | null>(
      (sum, value) => (sum === null || value === null ? null : sum + value),
      0,
    );
  const { plan: planned, now, steps, starters } = bridge;
  const more = starters.now.map((value, place) => less(value, starters.plan[place] ?? null));
  return [
    {
      name: `Recurring revenue, ${formats.value.unitName(unit.value)}`,
      lines: [
        line(name, planned, money, last(planned), true),
        ...steps.map(({ step, values }) => line(BRIDGE_STEPS[step], values, money, last(values))),
        line('Forecast', now, money, last(now), true),
      ],
    },
    {
      name: 'New subscribers',
      lines: [
        line(`${name} `, starters.plan, count, all(starters.plan)),
        line('Forecast ', starters.now, count, all(starters.now)),
        line('Variance', more, count, all(more), true),
      ],
    },
  ];
});
const words = computed(() => {
  const { name = '', bridge } = data.value ?? {};
  return bridge ? bridgeInWords(bridge, name, longMonth(props.span.to), formats.value) : '';
});
</script>

<template>
  <p v-if="failure" class="failure" role="alert">{{ failure }}</p>
  <p v-else-if="!version" class="quiet">
    There is no version to compare with. Keep the forecast as a version under Budget.
  </p>
  <p v-else-if="data && !data.bridge" class="quiet">
    {{ data.name }} was kept without subscriptions. Keep the forecast as a version under Budget, and
    choose it above.
  </p>
  <template v-else-if="data">
    <p role="status" data-bridge>{{ words }}.</p>
    <GroupedTable
      :about="`Recurring revenue, ${data.name} and forecast, open months`"
      :headings="headings"
      :groups="groups"
    />
    <p class="quiet">
      Each step is what its own number changes, with what follows from it: who comes in excess of
      the version counts for new subscribers, less those of them who leave by its churn.
    </p>
  </template>
</template>
