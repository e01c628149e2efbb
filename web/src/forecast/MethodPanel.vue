<script setup lang="ts">
import { forecastOperations } from '@dravex/contract';
import { METHODS, monthFrom, type StreamSettings } from '@dravex/core';
import { computed, ref, watch } from 'vue';
import ForecastChart from '../charts/ForecastChart.vue';
import type { StreamLine } from '../computation/forecast-answers.ts';
import { shortMonth } from '../format/periods.ts';
import { WORDS } from '../format/words.ts';
import Term from '../kit/Term.vue';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import SidePanel from '../shell/SidePanel.vue';
import { useFrame } from '../shell/use-frame.ts';
import { useDraft } from '../writing/use-draft.ts';
import { useWriting } from '../writing/use-writing.ts';
import { methodFormOf, settingsOf } from './method-form.ts';
import ForecastRecord from './ForecastRecord.vue';
import AnewForm from './AnewForm.vue';
import MethodFields from './MethodFields.vue';
import ProposalList from './ProposalList.vue';
import StreamPicker from './StreamPicker.vue';
import { TEXTS } from './texts.ts';

/** The method of forecast lines: what there is, when it fits, what it would make, before it is taken. */
const props = defineProps<{ lines: readonly StreamLine[]; editable: boolean; typedOver: number }>();
const emit = defineEmits<{ close: [] }>();
const plan = usePlan();
const { formats, calendar, scope } = useFrame();

const chosen = ref<number[]>([]);
watch(
  () => props.lines.map(({ stream }) => stream.id).join(),
  () => (chosen.value = props.lines.slice(0, 1).map(({ stream }) => stream.id)),
  { immediate: true },
);
const picked = computed(() => props.lines.filter(({ stream }) => chosen.value.includes(stream.id)));
const first = computed(() => props.lines.find(({ stream }) => stream.id === chosen.value[0]));

/** The form follows the first line that is chosen. */
const { form } = useDraft(
  () => String(first.value?.stream.id ?? 0),
  () => methodFormOf(first.value?.stream, formats.value),
);
const settings = computed(
  () =>
    JSON.parse(
      JSON.stringify(settingsOf(form.value, first.value?.stream.settings, formats.value)),
    ) as StreamSettings,
);
const METHOD_CHOICES = Object.values(METHODS).map(({ code, name }) => ({ value: code, name }));
const OVERRIDES = [
  { value: 'keep', name: TEXTS.keepThem },
  { value: 'drop', name: TEXTS.removeThoseOfTheseLines },
];
const overrides = ref<'keep' | 'drop'>('keep');
/** Whether all open months get a method, or chosen ones are forecast anew. */
const of = ref<'method' | 'months'>('method');
const anew = computed(() => picked.value.some(({ stream }) => stream.settings?.anew?.length));
const streams = useAnswer([() => plan.tick], () => plan.compute().streamsIn([]));
const others = computed(() =>
  (streams.data.value ?? []).filter(({ stream }) => !chosen.value.includes(stream.id)),
);
const tried = useAnswer(
  [
    () => JSON.stringify([chosen.value, form.value.method, settings.value, overrides.value]),
    () => plan.tick,
  ],
  async () =>
    chosen.value.length === 0
      ? undefined
      : plan
          .compute()
          .tryMethod(
            [...chosen.value],
            form.value.method,
            settings.value,
            overrides.value === 'keep',
            'revenue',
          ),
);
/** Two years of history and the next two years. */
const chart = computed(() => {
  const start = monthFrom(calendar.value.first);
  const closed = plan.closedThrough - start + 1;
  const from = Math.max(0, closed - 24);
  const line = (tried.data.value?.then ?? []).slice(from, closed + 24);
  const band = tried.data.value?.band ?? undefined;
  const now = (tried.data.value?.now ?? []).slice(from, closed + 24);
  return {
    headings: line.map((_, t) => shortMonth(start + from + t, true)),
    closed: closed - from,
    line,
    band: band && {
      name: '80 % range',
      low: line.map((_, t) => band[t - (closed - from)]?.low ?? null),
      high: line.map((_, t) => band[t - (closed - from)]?.high ?? null),
    },
    plan: { name: 'current', values: now.map((value, t) => (t < closed - from ? null : value)) },
  };
});
const ahead = (values: readonly (number | null)[]): number =>
  values
    .slice(chart.value.closed, chart.value.closed + 12)
    .reduce<number>((sum, v) => sum + (v ?? 0), 0);
const effect = computed(() => {
  const { line, plan: now } = chart.value;
  if (line.length === 0) return '';
  const [then, before] = [ahead(line), ahead(now.values)];
  return TEXTS.nextTwelveMonthsCurrently(
    formats.value.inWords(then),
    formats.value.inWords(before),
  );
});

const { busy, failure, write } = useWriting();
/** Nothing is forecast for them any more; what is assumed stays. */
const remove = () =>
  write(
    () => plan.ask(forecastOperations.deleteStreams, {}, { streams: chosen.value }),
    () =>
      (plan.said = {
        text: WORDS.deleted(TEXTS.forecastLinesOf(chosen.value.length)),
        undo: 'forecast',
      }),
  );
const take = () =>
  write(
    () =>
      plan.ask(
        forecastOperations.setMethod,
        {},
        {
          streams: chosen.value,
          method: form.value.method,
          settings: settings.value,
          overrides: overrides.value,
        },
      ),
    () => {
      const { name } = METHODS[form.value.method];
      plan.said = {
        text: TEXTS.for(name, TEXTS.forecastLinesOf(chosen.value.length)),
        undo: 'forecast',
      };
    },
  );
</script>

<template>
  <SidePanel :heading="TEXTS.forecastMethods" :width="430" @close="emit('close')">
    <StreamPicker v-model="chosen" :lines="lines" />
    <ProposalList
      v-if="editable && picked.length > 0 && of === 'method'"
      :key="picked.map(({ stream }) => stream.id).join()"
      :lines="picked"
      :overrides="overrides"
    />
    <v-btn-toggle
      v-if="editable && chosen.length > 0"
      v-model="of"
      mandatory
      density="compact"
      :aria-label="TEXTS.whatIsSet"
    >
      <v-btn value="method">{{ TEXTS.method }}</v-btn>
      <v-btn value="months">{{ TEXTS.selectedMonths }}</v-btn>
    </v-btn-toggle>
    <AnewForm v-if="editable && chosen.length > 0 && of === 'months'" :picked="picked" />
    <form v-if="editable && chosen.length > 0 && of === 'method'" @submit.prevent="take">
      <v-select
        v-model="form.method"
        :label="
          TEXTS.methodOf(
            chosen.length === 1 ? (first?.label ?? '') : TEXTS.forecastLinesOf(chosen.length),
          )
        "
        :items="METHOD_CHOICES"
      />
      <MethodFields v-model="form" :first="first" :others="others" />
      <ForecastChart
        v-if="chart.line.length > 0"
        v-bind="chart"
        :label="TEXTS.historyCurrentForecastAndForecast"
        :show="(value: number) => formats.show(value, 'money', 1000)"
      />
      <p v-if="tried.data.value?.band" class="quiet">{{ TEXTS.shaded }} <Term of="range" /></p>
      <p>{{ effect }}</p>
      <ForecastRecord :scope="chosen.length === 1 ? (first?.members ?? []) : scope" />
      <v-text-field v-model="form.why" :label="WORDS.reasonOptional" maxlength="300" />
      <p
        v-for="problem in (tried.data.value?.problems ?? []).slice(0, 4)"
        :key="problem"
        class="waits"
      >
        {{ problem }}
      </p>
      <v-select
        v-if="typedOver > 0 || anew"
        v-model="overrides"
        :label="TEXTS.manualOverridesAndReforecastMonths"
        :items="OVERRIDES"
      />
      <p v-if="failure" class="failure" role="alert">{{ failure }}</p>
      <div class="controls">
        <v-btn color="primary" variant="flat" type="submit" :loading="busy">{{
          TEXTS.useMethod
        }}</v-btn>
        <v-btn color="primary" :disabled="busy" @click="remove">
          {{ TEXTS.delete(chosen.length, TEXTS.forecastLinesOf(chosen.length)) }}
        </v-btn>
      </div>
    </form>
  </SidePanel>
</template>

<style scoped>
form {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 5px;
}
</style>
