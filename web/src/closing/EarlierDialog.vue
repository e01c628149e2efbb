<script setup lang="ts">
import { closingOperations, type Close } from '@dravex/contract';
import { monthFrom, monthText } from '@dravex/core';
import { computed, ref, shallowRef, watch } from 'vue';
import { longMonth } from '../format/periods.ts';
import { WORDS } from '../format/words.ts';
import FilePick from '../kit/FilePick.vue';
import FormDialog from '../kit/FormDialog.vue';
import { usePlan } from '../plan/use-plan.ts';
import { callWithFile } from '../shell/client.ts';
import { useFrame } from '../shell/use-frame.ts';
import { useWriting } from '../writing/use-writing.ts';
import { TEXTS } from './texts.ts';

/** A forecast that was kept elsewhere when a month was closed comes in by file. */
const shown = defineModel<boolean>({ required: true });
const props = defineProps<{ closes: readonly Close[] }>();
const plan = usePlan();
const { calendarSpan } = useFrame();
const { busy, failure, write, forget } = useWriting();

const MOST = 60;
/** Closed months whose forecast is not kept, the latest first. */
const months = computed(() => {
  const kept = new Set(props.closes.map(({ month }) => month));
  const { from } = calendarSpan.value;
  return Array.from({ length: Math.min(MOST, plan.closedThrough - from + 1) }, (_, back) =>
    monthText(plan.closedThrough - back),
  )
    .filter((month) => !kept.has(month))
    .map((value) => ({ value, name: longMonth(monthFrom(value)) }));
});
const month = ref<string | null>(null);
const file = shallowRef<File>();
watch(shown, (open) => {
  if (!open) return;
  month.value = months.value[0]?.value ?? null;
  file.value = undefined;
  forget();
});
const submit = (): Promise<boolean> =>
  write(
    async () => {
      if (!file.value || month.value === null) throw new Error(TEXTS.chooseMonthAndFile);
      const inputs = { workspaceId: plan.workspaceId, month: month.value };
      await callWithFile(closingOperations.bringKeptForecast, inputs, file.value);
    },
    () => {
      plan.said = { text: TEXTS.importedForecastOf(longMonth(monthFrom(month.value ?? ''))) };
      shown.value = false;
    },
  );
</script>

<template>
  <FormDialog
    v-model="shown"
    :title="TEXTS.importEarlierForecast"
    :action="WORDS.import"
    :disabled="!file || month === null"
    :busy="busy"
    :failure="failure"
    @submit="submit"
  >
    <p class="quiet">
      {{ TEXTS.whatWasForecastWhenMonth }}
    </p>
    <v-select v-model="month" :label="TEXTS.closedMonth" :items="months" />
    <p class="controls">
      <FilePick
        :label="WORDS.chooseFile"
        :about="TEXTS.fileOfEarlierForecast"
        accept=".csv,text/csv"
        @pick="file = $event"
      />
      <span class="quiet">{{ file?.name ?? TEXTS.noFileYet }}</span>
    </p>
  </FormDialog>
</template>
