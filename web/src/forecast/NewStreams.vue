<script setup lang="ts">
import { forecastOperations } from '@dravex/contract';
import { METHODS, type Dimension, type MethodCode } from '@dravex/core';
import { computed, watch } from 'vue';
import FormDialog from '../kit/FormDialog.vue';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { useForm } from '../writing/use-form.ts';
import { TEXTS } from './texts.ts';

/** Forecast lines for what is not sold yet: one for every combination of the members that are chosen. */
const shown = defineModel<boolean>({ required: true });
const emit = defineEmits<{ made: [scope: number[]]; like: [] }>();
const plan = usePlan();
const { scope } = useFrame();

const dimensions = computed<readonly Dimension[]>(() => plan.workspace?.plan.dimensions ?? []);
/** Methods that need more than a name are set when the line is there. */
const OFFERED = Object.values(METHODS).filter(({ code }) =>
  ['amount', 'volumePrice', 'marketShare', 'growthLastYear', 'growthPeriod'].includes(code),
);
/** Every combination, as codes by dimension. */
const combinationsOf = (chosen: Readonly<Record<string, readonly number[]>>) =>
  dimensions.value.reduce<Record<string, string>[]>(
    (all, { code }) =>
      all.flatMap((members) =>
        (chosen[code] ?? []).map((id) => ({ ...members, [code]: plan.tree.member(id).code })),
      ),
    [{}],
  );
const { form, begin, dialog } = useForm({
  // What the scope names already stands in the form.
  fresh: () => ({
    chosen: Object.fromEntries(
      dimensions.value.map((dimension) => [
        dimension.code,
        plan.tree.leavesOf(dimension).flatMap(({ id }) => (scope.value.includes(id) ? [id] : [])),
      ]),
    ) as Record<string, number[]>,
    method: 'volumePrice' as MethodCode,
  }),
  schema: forecastOperations.createStreams.body,
  body: ({ chosen, method }) => ({
    streams: combinationsOf(chosen).map((members) => ({ members, method })),
  }),
  send: async (body) => {
    // What was made is shown: its scope, where one member was chosen of a dimension.
    const made = Object.values(form.value.chosen).flatMap((ids) => (ids.length === 1 ? ids : []));
    const { streams } = await plan.ask(forecastOperations.createStreams, {}, body);
    plan.said = {
      text: TEXTS.addedForecastLines(streams),
      undo: 'forecast',
    };
    shown.value = false;
    emit('made', made);
  },
});
watch(shown, (open) => open && begin());
const count = computed(() =>
  dimensions.value.reduce(
    (product, { code }) => product * (form.value.chosen[code]?.length ?? 0),
    1,
  ),
);
</script>

<template>
  <FormDialog
    v-model="shown"
    :title="TEXTS.addForecastLinesForNew"
    :action="count === 1 ? TEXTS.addForecastLine : TEXTS.addForecastLinesOf(count)"
    :disabled="count === 0"
    :width="620"
    v-bind="dialog"
  >
    <p class="quiet">
      {{ TEXTS.chooseMembersOfEveryDimension }}
      <v-btn variant="plain" @click="emit('like')">{{ TEXTS.addNewProductLikeAnother }}</v-btn>
    </p>
    <v-autocomplete
      v-for="dimension in dimensions"
      :key="dimension.code"
      v-model="form.chosen[dimension.code]"
      :label="dimension.name"
      multiple
      :items="plan.tree.leavesOf(dimension)"
      item-value="id"
    />
    <v-select v-model="form.method" :label="TEXTS.method" :items="OFFERED" item-value="code" />
    <p class="quiet">{{ TEXTS.needs(METHODS[form.method].when, METHODS[form.method].needs) }}</p>
  </FormDialog>
</template>
