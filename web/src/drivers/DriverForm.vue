<script setup lang="ts">
import type { Facts } from '@dravex/contract';
import {
  DRIVERS,
  natureOf,
  STREAM_WEIGHTS,
  FORMULA_FUNCTIONS,
  saidBySales,
  unitInWords,
  unitOfDriver,
  type Driver,
  type DriverKind,
  type Nature,
} from '@dravex/core';
import { computed, ref, watch } from 'vue';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { inWords, request } from '../shell/api.ts';
import { useFrame } from '../shell/use-frame.ts';
import { showValue } from './driver-format.ts';

/** A driver of one's own: its unit and bounds, typed or by a formula with names completed. */
const shown = defineModel<boolean>({ required: true });
const props = defineProps<{ driver: Driver | undefined; drivers: readonly Driver[] }>();
const emit = defineEmits<{ kept: [code: string] }>();
const plan = usePlan();
const { formats, scope, calendar } = useFrame();

const KINDS: readonly { kind: DriverKind; name: string }[] = [
  { kind: 'count', name: 'a count' },
  { kind: 'wholeCount', name: 'a whole count' },
  { kind: 'money', name: 'money' },
  { kind: 'moneyPerUnit', name: 'money per unit of something' },
  { kind: 'percent', name: 'a percentage' },
  { kind: 'ratio', name: 'a plain number' },
  { kind: 'yesNo', name: 'yes or no' },
  { kind: 'choice', name: 'a choice from a list' },
];
const NATURES: readonly { nature: Nature; name: string }[] = [
  { nature: 'flow', name: 'added up' },
  { nature: 'stock', name: 'added up over lines, of months the last' },
  { nature: 'ratio', name: 'a weighted mean' },
  { nature: 'level', name: 'not summed up' },
];
/** Words for what of a forecast line itself can weigh a mean. */
const WEIGHTS: Readonly<Record<(typeof STREAM_WEIGHTS)[number], string>> = {
  units: 'net units',
  revenue: 'revenue',
  unitsBefore: 'net units of the month before',
};
const builtIn = computed(() => DRIVERS.some(({ code }) => code === props.driver?.code));
const percent = computed(() => form.value.kind === 'percent');
const typed = (value: number | null | undefined, asPercent: boolean): string =>
  value === null || value === undefined ? '' : formats.value.typed(value, asPercent);

const form = ref(fromDriver());
function fromDriver() {
  const { driver } = props;
  const asPercent = driver?.kind === 'percent';
  return {
    code: driver?.code ?? '',
    name: driver?.name ?? '',
    kind: (driver?.kind ?? 'count') as DriverKind,
    nature: (driver?.nature ?? '') as Nature | '',
    weight: driver?.weight ?? '',
    unit: driver?.unit ?? '',
    minimum: typed(driver?.minimum, asPercent),
    maximum: typed(driver?.maximum, asPercent),
    fallback: typed(driver?.default, asPercent),
    choices: driver?.choices.map(({ value, label }) => `${value} ${label}`).join('\n') ?? '',
    formula: driver?.formula ?? '',
    measure: driver?.history?.measure ?? '',
    per: driver?.history?.per ?? '',
  };
}
/** Sales lines say of some drivers themselves what they were. */
const measurable = computed(() => !saidBySales(code.value));
const { data: measured } = useAnswer([shown], async () =>
  shown.value
    ? request<Facts>(
        'GET',
        plan.path(`/facts?from=${calendar.value.closedThrough}&to=${calendar.value.closedThrough}`),
      )
    : undefined,
);
const MEASURED_SALES = [
  { code: 'units', name: 'net units sold' },
  { code: 'revenue', name: 'revenue' },
];
const measures = computed(() => [...(measured.value?.measures ?? []), ...MEASURED_SALES]);
const failure = ref('');
watch(shown, (open) => {
  if (open) form.value = fromDriver();
  failure.value = '';
});
/** A name in formulas made of the driver's name: `Cost per visit` is `costPerVisit`. */
const code = computed(
  () =>
    form.value.code ||
    form.value.name
      .trim()
      .split(/[^\p{L}\p{N}]+/u)
      .map((word, place) =>
        place === 0 ? word.toLowerCase() : word.charAt(0).toUpperCase() + word.slice(1),
      )
      .join('')
      .replace(/^\d/, '_$&'),
);
const bound = (text: string): number | null =>
  text.trim() === '' ? null : (formats.value.read(text, percent.value) ?? Number.NaN);
/** How its kind rolls up where nothing else is chosen, and whether it is a mean now. */
const usual = computed(() => natureOf({ kind: form.value.kind }));
const averaged = computed(() => (form.value.nature || usual.value) === 'ratio');
const driver = computed<Driver>(() => ({
  code: code.value,
  name: form.value.name,
  kind: form.value.kind,
  unit: form.value.unit,
  minimum: bound(form.value.minimum),
  maximum: bound(form.value.maximum),
  step: props.driver?.step ?? null,
  default: bound(form.value.fallback),
  choices: form.value.choices.split('\n').flatMap((line) => {
    const [, value, label] = /^\s*(-?\d+(?:[.,]\d+)?)\s+(.+)$/.exec(line) ?? [];
    return value && label ? [{ value: Number(value.replace(',', '.')), label: label.trim() }] : [];
  }),
  formula: form.value.formula.trim() === '' ? null : form.value.formula,
  nature: form.value.nature || usual.value,
  weight: averaged.value && form.value.weight !== '' ? form.value.weight : null,
  history:
    form.value.measure === ''
      ? null
      : { measure: form.value.measure, per: form.value.per === '' ? null : form.value.per },
}));
const tried = useAnswer([driver, shown, () => plan.tick], async () =>
  shown.value && driver.value.formula !== null
    ? plan.compute().tryDriver(JSON.parse(JSON.stringify(driver.value)) as Driver, scope.value)
    : undefined,
);
const problems = computed(() => tried.data.value?.problems ?? []);
/** The formula with the place of its first mistake. */
const marked = computed(() => {
  const at = Number(problems.value[0]?.where['at'] ?? Number.NaN);
  const { formula } = form.value;
  if (problems.value.length === 0 || Number.isNaN(at)) return undefined;
  return {
    before: formula.slice(0, at),
    at: formula.slice(at, at + 1) || ' ',
    after: formula.slice(at + 1),
  };
});
const ahead = computed(() =>
  (tried.data.value?.values ?? [])
    .slice(0, 6)
    .map((value) => showValue(driver.value, value, formats.value)),
);

/** Names that go on from what is being typed. */
const completing = computed(() => {
  const word = /[\p{L}_][\p{L}\p{N}_]*$/u.exec(form.value.formula)?.[0] ?? '';
  if (word === '') return [];
  const known = [
    ...props.drivers.map((one) => ({
      name: one.code,
      said: one.name,
      unit: unitInWords(unitOfDriver(one)),
    })),
    ...FORMULA_FUNCTIONS.map((name) => ({ name: `${name}(`, said: 'function', unit: '' })),
  ];
  const small = word.toLowerCase();
  return known
    .filter(({ name, said }) => name !== word && `${name} ${said}`.toLowerCase().includes(small))
    .slice(0, 8)
    .map((one) => ({ ...one, text: form.value.formula.slice(0, -word.length) + one.name }));
});

const busy = ref(false);
async function keep(): Promise<void> {
  busy.value = true;
  failure.value = '';
  try {
    const { code: own, kind, ...rest } = driver.value;
    const { minimum, maximum, default: fallback } = rest;
    const { history, ...typedOnes } = rest;
    const kept = builtIn.value ? { minimum, maximum, default: fallback } : typedOnes;
    const change = measurable.value ? { ...kept, history } : kept;
    await plan.save(() =>
      props.driver
        ? request('PATCH', plan.path(`/drivers/${own}`), change)
        : request('POST', plan.path('/drivers'), { code: own, kind, ...rest }),
    );
    await plan.inLine(plan.catchUp);
    shown.value = false;
    emit('kept', own);
  } catch (error) {
    plan.saving = 'saved';
    failure.value = inWords(error);
  } finally {
    busy.value = false;
  }
}
async function drop(): Promise<void> {
  busy.value = true;
  failure.value = '';
  try {
    await plan.save(() => request('DELETE', plan.path(`/drivers/${code.value}`)));
    await plan.inLine(plan.catchUp);
    shown.value = false;
    emit('kept', '');
  } catch (error) {
    plan.saving = 'saved';
    failure.value = inWords(error);
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <v-dialog v-model="shown" max-width="560">
    <form class="dialog-sheet two" aria-labelledby="driver-title" @submit.prevent="keep">
      <h2 id="driver-title" class="wide">
        {{ driver && props.driver ? `Change ${props.driver.name}` : 'A driver of your own' }}
      </h2>
      <label for="driver-name">Name</label>
      <input id="driver-name" v-model="form.name" required maxlength="120" :disabled="builtIn" />
      <label for="driver-code">In formulas</label>
      <input
        id="driver-code"
        v-model="form.code"
        maxlength="40"
        :placeholder="code"
        :disabled="props.driver !== undefined"
      />
      <label for="driver-kind">It is</label>
      <select id="driver-kind" v-model="form.kind" :disabled="props.driver !== undefined">
        <option v-for="one in KINDS" :key="one.kind" :value="one.kind">{{ one.name }}</option>
      </select>
      <label for="driver-unit">Unit</label>
      <input
        id="driver-unit"
        v-model="form.unit"
        maxlength="60"
        :disabled="builtIn"
        :placeholder="form.kind === 'moneyPerUnit' ? 'per visit' : 'visits'"
      />
      <template v-if="form.kind === 'choice'">
        <label for="driver-choices">Values</label>
        <textarea
          id="driver-choices"
          v-model="form.choices"
          rows="3"
          placeholder="1 low&#10;2 high"
        />
      </template>
      <template v-if="form.kind !== 'yesNo' && form.kind !== 'choice'">
        <label for="driver-minimum">At least{{ percent ? ', %' : '' }}</label>
        <span>
          <input id="driver-minimum" v-model="form.minimum" class="short" inputmode="decimal" />
          <label for="driver-maximum" class="inline">at most</label>
          <input id="driver-maximum" v-model="form.maximum" class="short" inputmode="decimal" />
        </span>
      </template>
      <template v-if="!builtIn && form.kind !== 'yesNo' && form.kind !== 'choice'">
        <label for="driver-nature">Totals are</label>
        <select id="driver-nature" v-model="form.nature">
          <option value="">
            {{ NATURES.find(({ nature }) => nature === usual)?.name }}, as its kind is
          </option>
          <template v-for="one in NATURES" :key="one.nature">
            <option v-if="one.nature !== usual" :value="one.nature">{{ one.name }}</option>
          </template>
        </select>
        <template v-if="averaged">
          <label for="driver-weight">Weighted by</label>
          <select id="driver-weight" v-model="form.weight">
            <option value="">what it acts on, else nothing</option>
            <option v-for="one in STREAM_WEIGHTS" :key="one" :value="one">
              {{ WEIGHTS[one] }}
            </option>
            <template v-for="one in props.drivers" :key="one.code">
              <option v-if="one.code !== code" :value="one.code">{{ one.name }}</option>
            </template>
          </select>
        </template>
      </template>
      <label for="driver-default">Without an assumption</label>
      <input
        id="driver-default"
        v-model="form.fallback"
        class="short"
        inputmode="decimal"
        placeholder="missing"
      />
      <template v-if="!builtIn">
        <label for="driver-formula">Formula</label>
        <div class="formula">
          <textarea
            id="driver-formula"
            v-model="form.formula"
            rows="3"
            spellcheck="false"
            placeholder="empty where it is typed; else e.g. adSpend / costPerVisit"
          />
          <p v-if="completing.length > 0" class="names">
            <button
              v-for="one in completing"
              :key="one.name"
              type="button"
              class="chip"
              :title="one.said"
              @click="form.formula = one.text"
            >
              {{ one.name }}
              <span v-if="one.unit" class="quiet" aria-hidden="true">{{ one.unit }}</span>
            </button>
          </p>
          <p v-if="marked" class="marked">
            <code
              >{{ marked.before }}<mark>{{ marked.at }}</mark
              >{{ marked.after }}</code
            >
          </p>
          <p v-for="problem in problems" :key="problem.message" class="failure">
            {{ problem.message }}
          </p>
          <p v-if="problems.length === 0 && ahead.length > 0" class="quiet">
            The first open months: {{ ahead.join(', ') }}; in
            {{ unitInWords(unitOfDriver(driver)) }}
          </p>
        </div>
      </template>
      <template v-if="measurable && form.kind !== 'choice' && form.kind !== 'yesNo'">
        <label for="driver-history">Its history is</label>
        <span>
          <select id="driver-history" v-model="form.measure">
            <option value="">not measured</option>
            <option v-for="one in measures" :key="one.code" :value="one.code">
              {{ one.name }}
            </option>
          </select>
          <template v-if="form.measure !== ''">
            <label for="driver-per" class="inline">over</label>
            <select id="driver-per" v-model="form.per">
              <option value="">nothing</option>
              <option v-for="one in measures" :key="one.code" :value="one.code">
                {{ one.name }}
              </option>
            </select>
          </template>
        </span>
      </template>
      <p v-if="failure" class="failure wide" role="alert">{{ failure }}</p>
      <div class="buttons wide">
        <button class="primary" type="submit" :disabled="busy || problems.length > 0">
          {{ props.driver ? 'Keep it' : 'Add it' }}
        </button>
        <button class="plain" type="button" @click="shown = false">Leave</button>
        <button
          v-if="props.driver && !builtIn"
          class="plain"
          type="button"
          :disabled="busy"
          @click="drop"
        >
          Take it away
        </button>
      </div>
    </form>
  </v-dialog>
</template>

<style scoped>
.two {
  grid-template-columns: 130px minmax(0, 1fr);
  align-items: center;
}
.wide {
  grid-column: 1 / -1;
}
.short {
  width: 110px;
}
.inline {
  margin: 0 8px;
}
.formula {
  display: grid;
  gap: 4px;
}
textarea {
  font: inherit;
  width: 100%;
}
.names {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
}
mark {
  background: var(--bad);
  color: var(--surface);
}
</style>
