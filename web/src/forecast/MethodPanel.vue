<script setup lang="ts">
import {
  BASELINE_KINDS,
  BASELINES,
  METHODS,
  monthFrom,
  monthText,
  type BaselineSettings,
  type Driver,
  type Funnel,
  type MethodCode,
  type StreamSettings,
} from '@dravex/core';
import { computed, ref, watch } from 'vue';
import { monthName, shortMonth } from '../format/periods.ts';
import type { StreamLine } from '../computation/forecast-answers.ts';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { inWords, request } from '../shell/api.ts';
import { useDraft } from '../shell/use-draft.ts';
import { useFrame } from '../shell/use-frame.ts';
import ForecastChart from '../charts/ForecastChart.vue';
import { blankFunnel } from './blank-funnel.ts';
import FunnelForm from './FunnelForm.vue';
import ProposalList from './ProposalList.vue';
import SidePanel from '../shell/SidePanel.vue';

/** The method of streams: what there is, when it fits, what it would make, before it is taken. */
const props = defineProps<{ lines: readonly StreamLine[]; editable: boolean; typedOver: number }>();
const emit = defineEmits<{ close: [] }>();
const plan = usePlan();
const { formats, calendar } = useFrame();
const drivers = computed<readonly Driver[]>(() => plan.workspace?.plan.drivers ?? []);

const chosen = ref<number[]>([]);
watch(
  () => props.lines.map(({ stream }) => stream.id).join(),
  () => (chosen.value = props.lines.slice(0, 1).map(({ stream }) => stream.id)),
  { immediate: true },
);
const find = ref('');
const shown = computed(() => {
  const wanted = find.value.trim().toLowerCase();
  return props.lines.filter(({ label }) => label.toLowerCase().includes(wanted));
});
const all = computed({
  get: () =>
    shown.value.length > 0 && shown.value.every(({ stream }) => chosen.value.includes(stream.id)),
  set: (every: boolean) => (chosen.value = every ? shown.value.map(({ stream }) => stream.id) : []),
});
const picked = computed(() => props.lines.filter(({ stream }) => chosen.value.includes(stream.id)));
const first = computed(() => props.lines.find(({ stream }) => stream.id === chosen.value[0]));

const blank = () => ({
  method: 'volumePrice' as MethodCode,
  of: 'revenue' as 'units' | 'revenue',
  base: 'month' as 'month' | 'quarter',
  follows: 0,
  from: 1,
  to: 12,
  kind: 'best' as (typeof BASELINE_KINDS)[number] | 'best',
  month: '',
  spanFrom: '',
  spanTo: '',
  growth: '',
  blank: [] as number[],
  units: '',
  revenue: '',
  why: '',
  names: [] as { name: string; combination: number; measure: 'units' | 'revenue' }[],
});
/** The form follows the first stream that is chosen. */
const { form } = useDraft(
  () => String(first.value?.stream.id ?? 0),
  () => {
    if (!first.value) return { ...blank(), funnel: blankFunnel() };
    const { stream } = first.value;
    const { attached, of, base, baseline, formula, funnel: own } = stream.settings ?? {};
    return {
      ...blank(),
      method: stream.method,
      why: stream.settings?.why ?? '',
      of: baseline?.of ?? of ?? ('revenue' as const),
      base: base ?? ('month' as const),
      follows: attached?.combination ?? 0,
      from: attached?.from ?? 1,
      to: attached?.to ?? 12,
      kind: baseline?.kind ?? ('best' as const),
      month: baseline?.settings.month ?? '',
      spanFrom: baseline?.settings.span?.from ?? '',
      spanTo: baseline?.settings.span?.to ?? '',
      growth: formats.value.typed(baseline?.settings.growth ?? null, true),
      blank: [...(baseline?.settings.blank ?? [])],
      units: formula?.units ?? '',
      revenue: formula?.revenue ?? '',
      names: (formula?.names ?? []).map((name) => ({ ...name })),
      funnel: JSON.parse(JSON.stringify(own ?? blankFunnel())) as Funnel,
    };
  },
);
const method = computed({
  get: () => form.value.method,
  set: (code: MethodCode) => (form.value.method = code),
});
const funnel = computed({
  get: () => form.value.funnel,
  set: (whole: Funnel) => (form.value.funnel = whole),
});
const streams = useAnswer([() => plan.tick], () => plan.compute().streamsIn([]));
const others = computed(() =>
  (streams.data.value ?? []).filter(({ stream }) => !chosen.value.includes(stream.id)),
);
const text = (formula: string): string | null => (formula.trim() === '' ? null : formula);
/** What is chosen of a baseline; what is left empty is found in the history. */
const baselineSettings = computed<BaselineSettings>(() => {
  const { kind, month, spanFrom, spanTo, growth, blank: left } = form.value;
  const rate = formats.value.read(growth, true);
  return {
    ...(kind === 'lastMonth' && month !== '' ? { month } : {}),
    ...(kind === 'mean' && spanFrom !== '' && spanTo !== ''
      ? { span: { from: spanFrom, to: spanTo } }
      : {}),
    ...(kind === 'sameMonthGrowth' && rate !== undefined ? { growth: rate } : {}),
    ...(left.length > 0 ? { blank: [...left].sort((one, other) => one - other) } : {}),
  };
});
/** What the panel has no field for stays as it is, as long as the baseline stays the same one. */
function foundSettings(): BaselineSettings {
  const own = first.value?.stream.settings?.baseline;
  if (own?.kind !== form.value.kind) return {};
  const { months, rates } = own.settings;
  return {
    ...(months === undefined || form.value.spanFrom !== '' ? {} : { months }),
    ...(rates === undefined ? {} : { rates }),
  };
}
const settings = computed<StreamSettings>(() => {
  const { of, base, follows, from, to, kind, units, revenue, names } = form.value;
  switch (method.value) {
    case 'volumePrice':
      return follows === 0 ? {} : { attached: { combination: follows, from, to } };
    case 'growthLastYear':
      return { of };
    case 'growthPeriod':
      return { of, base };
    case 'funnel':
      return { funnel: funnel.value };
    case 'baseline':
      return {
        baseline: { of, kind, settings: { ...foundSettings(), ...baselineSettings.value } },
      };
    case 'formula':
      return { formula: { units: text(units), revenue: text(revenue), names } };
    default:
      return {};
  }
});
const plain = (): StreamSettings => {
  const why = form.value.why.trim();
  const all = { ...settings.value, ...(why === '' ? {} : { why }) };
  return JSON.parse(JSON.stringify(all)) as StreamSettings;
};
const tried = useAnswer(
  [() => JSON.stringify([chosen.value, method.value, settings.value]), () => plan.tick],
  async () =>
    chosen.value.length === 0
      ? undefined
      : plan.compute().tryMethod([...chosen.value], method.value, plain(), 'revenue'),
);
const league = useAnswer(
  [first, () => method.value === 'baseline', () => form.value.of],
  async () =>
    first.value && method.value === 'baseline'
      ? plan.compute().league(first.value.stream.id, form.value.of)
      : undefined,
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
      name: 'four of five',
      low: line.map((_, t) => band[t - (closed - from)]?.low ?? null),
      high: line.map((_, t) => band[t - (closed - from)]?.high ?? null),
    },
    plan: { name: 'as now', values: now.map((value, t) => (t < closed - from ? null : value)) },
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
  return `The next twelve months: ${formats.value.inWords(then)}, now ${formats.value.inWords(before)}`;
});

const overrides = ref<'keep' | 'drop'>('keep');
const busy = ref(false);
const failure = ref('');
const counted = (count: number): string =>
  `${count} ${count === 1 ? 'forecast line' : 'forecast lines'}`;
async function saving(work: () => Promise<unknown>, said: string): Promise<void> {
  busy.value = true;
  failure.value = '';
  try {
    await plan.save(work);
    await plan.inLine(plan.catchUp);
    plan.said = { text: `${said}; Ctrl+Z takes it back` };
  } catch (error) {
    plan.saving = 'saved';
    failure.value = inWords(error);
  } finally {
    busy.value = false;
  }
}
/** Nothing is forecast for them any more; what is assumed stays. */
const remove = (): Promise<void> =>
  saving(
    () => request('POST', plan.path('/streams/delete'), { streams: chosen.value }),
    `Deleted ${counted(chosen.value.length)}`,
  );
const take = (): Promise<void> =>
  saving(
    () =>
      request('PUT', plan.path('/streams/method'), {
        streams: chosen.value,
        method: method.value,
        settings: plain(),
        overrides: overrides.value,
      }),
    `${METHODS[method.value].name} for ${counted(chosen.value.length)}`,
  );
const closedThrough = computed(() => monthText(plan.closedThrough));
const inputs = computed(() => drivers.value.filter(({ kind }) => kind !== 'choice'));
</script>

<template>
  <SidePanel
    about="Methods"
    heading="How streams are forecast"
    closing="Close the methods"
    :width="430"
    @close="emit('close')"
  >
    <div class="pick">
      <input v-model="find" type="search" placeholder="find a stream" aria-label="Find a stream" />
      <label><input v-model="all" type="checkbox" /> all {{ shown.length }}</label>
    </div>
    <ul class="streams" tabindex="0" aria-label="Streams">
      <li v-for="line in shown" :key="line.stream.id">
        <label>
          <input v-model="chosen" type="checkbox" :value="line.stream.id" />
          <span>{{ line.label }}</span>
          <span class="quiet">{{ METHODS[line.stream.method].name }}</span>
          <span v-if="line.problems.length > 0" class="waits" :title="line.problems.join('; ')"
            >{{ line.problems.length }} to mend</span
          >
        </label>
      </li>
    </ul>
    <ProposalList
      v-if="editable && picked.length > 0"
      :key="picked.map(({ stream }) => stream.id).join()"
      :lines="picked"
      :overrides="overrides"
    />
    <form v-if="editable && chosen.length > 0" @submit.prevent="take">
      <label for="method"
        >Method of {{ chosen.length === 1 ? first?.label : `${chosen.length} streams` }}</label
      >
      <select id="method" v-model="method">
        <option v-for="one in METHODS" :key="one.code" :value="one.code">{{ one.name }}</option>
      </select>
      <p class="quiet">{{ METHODS[method].when }} It needs: {{ METHODS[method].needs }}</p>
      <template v-if="method === 'volumePrice'">
        <label for="follows">Units</label>
        <select id="follows" v-model.number="form.follows">
          <option :value="0">as typed under Drivers</option>
          <option v-for="line in others" :key="line.stream.id" :value="line.stream.combination">
            follow {{ line.label }}
          </option>
        </select>
        <p v-if="form.follows !== 0">
          what it sold
          <input
            v-model.number="form.from"
            type="number"
            min="0"
            max="60"
            aria-label="Nearest month before"
          />
          to
          <input
            v-model.number="form.to"
            type="number"
            min="0"
            max="60"
            aria-label="Farthest month before"
          />
          months before, times the attach rate
        </p>
      </template>
      <template
        v-if="method === 'growthLastYear' || method === 'growthPeriod' || method === 'baseline'"
      >
        <label for="method-of">What {{ method === 'baseline' ? 'goes on' : 'grows' }}</label>
        <select id="method-of" v-model="form.of">
          <option value="revenue">revenue, and units with it</option>
          <option value="units">units, at list price and discount</option>
        </select>
      </template>
      <template v-if="method === 'growthPeriod'">
        <label for="method-base">On</label>
        <select id="method-base" v-model="form.base">
          <option value="month">the month before</option>
          <option value="quarter">the mean of the quarter before</option>
        </select>
      </template>
      <template v-if="method === 'baseline'">
        <label for="baseline-kind">Baseline</label>
        <select id="baseline-kind" v-model="form.kind">
          <option value="best">the one that did best</option>
          <option v-for="kind in BASELINE_KINDS" :key="kind" :value="kind">
            {{ BASELINES[kind].name }}
          </option>
        </select>
        <p v-if="form.kind === 'lastMonth'">
          <label for="baseline-month">Go on as in</label>
          <input
            id="baseline-month"
            v-model="form.month"
            type="month"
            :min="calendar.first"
            :max="closedThrough"
            title="Left empty, the last closed month"
          />
        </p>
        <p v-if="form.kind === 'mean'">
          <label for="baseline-from">Mean of</label>
          <input
            id="baseline-from"
            v-model="form.spanFrom"
            type="month"
            :min="calendar.first"
            :max="closedThrough"
            title="Left empty, all closed months"
          />
          to
          <input
            v-model="form.spanTo"
            type="month"
            :min="form.spanFrom || calendar.first"
            :max="closedThrough"
            aria-label="Last month of the mean"
          />
        </p>
        <p v-if="form.kind === 'sameMonthGrowth'">
          <label for="baseline-growth">Growth, %</label>
          <input
            id="baseline-growth"
            v-model="form.growth"
            class="short"
            inputmode="decimal"
            placeholder="as last year"
          />
        </p>
        <fieldset class="blank">
          <legend>Nothing is sold in</legend>
          <label v-for="number in 12" :key="number" :title="monthName(number)">
            <input v-model="form.blank" type="checkbox" :value="number" />
            {{ monthName(number).slice(0, 3) }}
          </label>
        </fieldset>
        <table v-if="league.data.value" class="sheet-table" aria-label="League">
          <caption class="quiet">
            Forecasting the last twelve months of
            {{
              first?.label
            }}
          </caption>
          <thead>
            <tr>
              <th scope="col" class="words">Baseline</th>
              <th scope="col">Scaled error</th>
            </tr>
          </thead>
          <tbody>
            <tr
              v-for="row in league.data.value.rows"
              :key="row.kind"
              :class="{ best: row.kind === league.data.value.best }"
            >
              <td class="words" :title="row.why || BASELINES[row.kind].when">
                {{ BASELINES[row.kind].name }}
                <span v-if="row.why" class="quiet">{{ row.why }}</span>
              </td>
              <td>{{ formats.show(row.score, 'price') }}</td>
            </tr>
          </tbody>
        </table>
      </template>
      <template v-if="method === 'formula'">
        <label for="formula-units">Units =</label>
        <input
          id="formula-units"
          v-model="form.units"
          spellcheck="false"
          placeholder="empty for none"
        />
        <label for="formula-revenue">Revenue =</label>
        <input
          id="formula-revenue"
          v-model="form.revenue"
          spellcheck="false"
          placeholder="empty for units x list price x (1 - discount)"
        />
        <p v-for="(name, place) in form.names" :key="place">
          <input v-model="name.name" class="short" :aria-label="`Name ${place + 1}`" /> is
          <select v-model="name.measure" :aria-label="`Measure of ${name.name}`">
            <option value="units">units</option>
            <option value="revenue">revenue</option>
          </select>
          of
          <select
            v-model.number="name.combination"
            class="long"
            :aria-label="`Stream of ${name.name}`"
          >
            <option v-for="line in others" :key="line.stream.id" :value="line.stream.combination">
              {{ line.label }}
            </option>
          </select>
          <button type="button" class="link" @click="form.names.splice(place, 1)">drop</button>
        </p>
        <button
          type="button"
          class="link"
          @click="
            form.names.push({
              name: `that${form.names.length || ''}`,
              combination: others[0]?.stream.combination ?? 0,
              measure: 'revenue',
            })
          "
        >
          + a name for another stream
        </button>
        <p class="quiet">Names: {{ inputs.map(({ code }) => code).join(', ') }}, units, revenue</p>
      </template>
      <FunnelForm v-if="method === 'funnel'" v-model="funnel" :drivers="drivers" />
      <ForecastChart
        v-if="chart.line.length > 0"
        v-bind="chart"
        label="History, the forecast as now, and what the method would make"
        :show="(value: number) => formats.show(value, 'money', 1000)"
      />
      <p v-if="tried.data.value?.band" class="quiet">
        The shaded band holds four of five, by the errors of the last twelve closed months.
      </p>
      <p>{{ effect }}</p>
      <label for="method-why">Why it is forecast so</label>
      <input id="method-why" v-model="form.why" maxlength="300" placeholder="optional" />
      <p
        v-for="problem in (tried.data.value?.problems ?? []).slice(0, 4)"
        :key="problem"
        class="waits"
      >
        {{ problem }}
      </p>
      <p v-if="typedOver > 0">
        <label for="overrides-stay">{{ typedOver }} cells are typed over:</label>
        <select id="overrides-stay" v-model="overrides">
          <option value="keep">keep them</option>
          <option value="drop">drop those of these streams</option>
        </select>
      </p>
      <p v-if="failure" class="failure" role="alert">{{ failure }}</p>
      <div class="controls">
        <button class="primary" type="submit" :disabled="busy">Forecast so</button>
        <button class="plain" type="button" :disabled="busy" @click="remove">
          Delete
          {{ chosen.length === 1 ? 'this forecast line' : `${chosen.length} forecast lines` }}
        </button>
      </div>
    </form>
  </SidePanel>
</template>

<style scoped>
header,
.pick {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 8px;
}
.streams {
  margin: 0;
  padding: 0;
  list-style: none;
  height: 132px;
  overflow: auto;
  border: 1px solid var(--line);
  background: var(--surface);
}
.streams label {
  display: flex;
  gap: 6px;
  padding: 2px 6px;
  align-items: baseline;
}
form {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 5px;
}
caption {
  text-align: left;
}
.sheet-table td.words {
  white-space: normal;
}
form select,
form input:not([type='checkbox'], [type='number'], [type='month']) {
  max-width: 100%;
}
input[type='number'] {
  width: 52px;
}
.short {
  width: 110px;
}
.long {
  width: 190px;
}
.best td {
  font-weight: 650;
}
.blank {
  border: 0;
  margin: 0;
  padding: 0;
}
.blank label {
  display: inline-flex;
  align-items: center;
  gap: 4px;
  width: 62px;
  min-height: 26px;
  font-size: 12px;
}
input[type='month'] {
  width: 124px;
}
</style>
