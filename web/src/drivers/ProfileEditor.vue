<script setup lang="ts">
import type { KeptAssumption } from '@dravex/contract';
import {
  addsOverStreams,
  monthFrom,
  monthText,
  type Driver,
  type Profile,
  valueOrNull,
} from '@dravex/core';
import { computed, ref, watch } from 'vue';
import ForecastChart from '../charts/ForecastChart.vue';
import { monthName, shortMonth } from '../format/periods.ts';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import type { SaidOfDriver } from '../computation/driver-answers.ts';
import { inWords, request } from '../shell/api.ts';
import { useDraft } from '../shell/use-draft.ts';
import { useFrame } from '../shell/use-frame.ts';
import { displayOf, showValue } from './driver-format.ts';
import { profileInWords } from './profile-words.ts';
import SidePanel from '../shell/SidePanel.vue';

/** Assumptions of a driver at a scope: set by a profile, with history and effect in one line. */
const props = defineProps<{
  driver: Driver;
  scope: readonly number[];
  said: SaidOfDriver | undefined;
}>();
const emit = defineEmits<{ close: [] }>();
const plan = usePlan();
const { formats, calendar, calendarSpan } = useFrame();

/** How many forecast lines of the scope it is set for. */
const lines = computed(() => props.said?.lines ?? 0);
const percent = computed(() => props.driver.kind === 'percent');
const flows = computed(() => ['count', 'wholeCount', 'money'].includes(props.driver.kind));
const text = (value: number | null): string => formats.value.typed(value, percent.value);
const where = computed(() =>
  props.scope.length > 0 ? plan.tree.label(props.scope) : 'everything',
);
const firstOpen = computed(() => monthText(plan.closedThrough + 1));
const mine = computed(() =>
  [...plan.assumptions.values()].filter(
    ({ driver, scope }) =>
      driver === props.driver.code && [...scope].sort().join() === [...props.scope].sort().join(),
  ),
);

type Kind = Exclude<Profile['kind'], 'months'>;
const KINDS = computed<readonly { kind: Kind; name: string }[]>(() => [
  { kind: 'value', name: 'One value' },
  { kind: 'steps', name: 'Steps from a month' },
  { kind: 'growth', name: 'A start that grows' },
  flows.value
    ? { kind: 'annual', name: 'A total of a year, with its season' }
    : { kind: 'level', name: 'A level with a season' },
  { kind: 'lastYear', name: 'Last year and growth' },
]);
const LETTERS = ['J', 'F', 'M', 'A', 'M', 'J', 'J', 'A', 'S', 'O', 'N', 'D'];
const GROWTHS = [
  { by: 'month', name: 'by a rate every month' },
  { by: 'compound', name: 'by a rate a year, month by month' },
  { by: 'yearRate', name: 'by a rate once a year' },
  { by: 'yearAmount', name: 'by an amount once a year' },
] as const;

/** A reference to begin with, as fine as anybody would type it. */
const rounded = (value: number | null): number | null =>
  value === null ? null : Number(value.toFixed(percent.value ? 3 : 2));
const blank = () => ({
  id: null as number | null,
  kind: 'value' as Kind,
  value: text(rounded(props.said?.reference?.lastYear ?? null)),
  from: '',
  to: '',
  steps: [{ from: firstOpen.value, value: '' }],
  by: 'yearRate' as (typeof GROWTHS)[number]['by'],
  rate: '',
  stepMonth: calendar.value.fiscalStart,
  season: (props.said?.season ?? Array<number>(12).fill(1)).map(String),
  year: firstOpen.value,
  each: false,
  growth: '',
  note: '',
});
// By their texts: other objects of the same driver and scope come with every answer.
const { form, begin, sending } = useDraft(
  () => `${props.driver.code} ${props.scope.join()}`,
  blank,
);

/** A number as it is typed; NaN where it is none. */
const read = (typed: string, asPercent = percent.value): number =>
  formats.value.read(typed, asPercent) ?? Number.NaN;
const profile = computed<Profile>(() => {
  const { kind, value, steps, by, rate, stepMonth, season, year, each, growth } = form.value;
  const twelve = season.map((one) => read(one, false));
  switch (kind) {
    case 'value':
      return { kind, value: read(value) };
    case 'steps':
      return { kind, steps: steps.map((step) => ({ from: step.from, value: read(step.value) })) };
    case 'growth':
      return {
        kind,
        start: read(value),
        startMonth: form.value.from || firstOpen.value,
        by,
        rate: read(rate, by !== 'yearAmount' || percent.value),
        stepMonth,
      };
    case 'annual':
      return {
        kind,
        totals: { [year]: read(value) },
        weights: twelve,
        ...(each ? { each } : {}),
      };
    case 'level':
      return { kind, level: read(value), indices: twelve };
    default:
      return { kind, growth: read(growth, true) };
  }
});
const complete = computed(() => !JSON.stringify(profile.value).includes('null'));
const assumption = computed(() => ({
  driver: props.driver.code,
  scope: [...props.scope],
  from: form.value.from || null,
  to: form.value.to || null,
  profile: profile.value,
  note: form.value.note,
}));
const preview = useAnswer([assumption, () => plan.tick], async () =>
  complete.value ? plan.compute().profilePreview(assumption.value) : undefined,
);
/** The closed months as the books have them, then what is being set. */
const chart = computed(() => {
  const { first } = calendar.value;
  const start = monthFrom(first);
  const closed = plan.closedThrough - start + 1;
  const shown = Math.max(0, closed - 24);
  const history = props.said?.history ?? [];
  const line = Array.from({ length: calendarSpan.value.to - start + 1 }, (_, t) => {
    if (t < closed) return history[t] ?? null;
    return valueOrNull(preview.data.value?.[t]);
  }).slice(shown);
  return {
    headings: line.map((_, t) => shortMonth(start + shown + t, true)),
    closed: closed - shown,
    line,
  };
});
/** What was never seen: a value outside the lowest and highest month there ever was. */
const strange = computed(() => {
  const reference = props.said?.reference;
  if (!reference || reference.lowest === null || reference.highest === null) return '';
  const values = chart.value.line.slice(chart.value.closed).filter((value) => value !== null);
  const above = values.find((value) => value > (reference.highest ?? 0));
  const below = values.find((value) => value < (reference.lowest ?? 0));
  const show = (value: number): string => showValue(props.driver, value, formats.value);
  if (above !== undefined) {
    return `Higher than any month there was: ${show(above)}, the highest was ${show(reference.highest)}`;
  }
  return below === undefined
    ? ''
    : `Lower than any month there was: ${show(below)}, the lowest was ${show(reference.lowest)}`;
});
/** What the last twelve months were, in the form's terms: of a year their total. */
const lastYear = computed(() => {
  const reference = props.said?.reference?.lastYear ?? null;
  return reference !== null && form.value.kind === 'annual' ? reference * 12 : reference;
});
watch(
  () => form.value.kind,
  (kind, before) => {
    const reference = props.said?.reference?.lastYear ?? null;
    if (reference === null) return;
    const begun = (one: Kind): string =>
      text(rounded(one === 'annual' ? reference * 12 : reference));
    if (form.value.value === begun(before)) form.value.value = begun(kind);
  },
);
const against = computed(() => {
  const reference = lastYear.value;
  const value = read(form.value.value);
  if (reference === null || reference === undefined || Number.isNaN(value)) return '';
  const change = reference === 0 ? null : (value - reference) / Math.abs(reference);
  return `last 12 months ${showValue(props.driver, reference, formats.value)}${change === null ? '' : `, ${formats.value.signed(change, 'percent')}`}`;
});

const failure = ref('');
const busy = ref(false);
async function doing(work: () => Promise<unknown>): Promise<void> {
  busy.value = true;
  failure.value = '';
  const kept = sending();
  try {
    await plan.save(work);
    await plan.inLine(plan.catchUp);
    kept();
  } catch (error) {
    plan.saving = 'saved';
    failure.value = inWords(error);
  } finally {
    busy.value = false;
  }
}
const path = (rest = ''): string => plan.path(`/drivers/${props.driver.code}/assumptions${rest}`);
async function save(): Promise<void> {
  const { driver: _, ...body } = assumption.value;
  await doing(() => request('POST', path(), { ...body, id: form.value.id }));
}
const drop = (id: number): Promise<void> => doing(() => request('DELETE', path(`/${id}`)));

/** Puts an assumption into the form; one that is typed month by month is edited in the grid. */
function edit(row: KeptAssumption): void {
  const { profile: own } = row;
  if (own.kind === 'months') return;
  const next = {
    ...blank(),
    id: row.id,
    kind: own.kind,
    from: row.from ?? '',
    to: row.to ?? '',
    note: row.note,
  };
  switch (own.kind) {
    case 'value':
      next.value = text(own.value);
      break;
    case 'steps':
      next.steps = own.steps.map((step) => ({ from: step.from, value: text(step.value) }));
      break;
    case 'growth':
      next.value = text(own.start);
      next.from = own.startMonth;
      next.by = own.by;
      next.rate = formats.value.typed(own.rate, own.by !== 'yearAmount' || percent.value);
      next.stepMonth = own.stepMonth;
      break;
    case 'annual': {
      const [year = firstOpen.value] = Object.keys(own.totals);
      next.year = year;
      next.value = text(own.totals[year] ?? null);
      next.season = own.weights.map(String);
      next.each = own.each === true;
      break;
    }
    case 'level':
      next.value = text(own.level);
      next.season = own.indices.map(String);
      break;
    case 'lastYear':
      next.growth = formats.value.typed(own.growth, true);
  }
  form.value = next;
}
</script>

<template>
  <SidePanel
    about="Profile"
    :heading="`${driver.name}, ${where}`"
    closing="Close the profile"
    :width="372"
    @close="emit('close')"
  >
    <ForecastChart
      v-bind="chart"
      name="As set"
      :label="`${driver.name}: what the books say, and what is being set`"
      :show="(value: number) => formats.show(value, displayOf(driver))"
    />
    <p v-if="strange" class="waits">{{ strange }}</p>
    <form @submit.prevent="save">
      <label for="profile-kind">Set by</label>
      <select id="profile-kind" v-model="form.kind">
        <option v-for="one in KINDS" :key="one.kind" :value="one.kind">{{ one.name }}</option>
      </select>
      <template v-if="form.kind !== 'steps' && form.kind !== 'lastYear'">
        <label for="profile-value">{{
          form.kind === 'growth'
            ? 'Start'
            : form.kind === 'annual'
              ? 'Total'
              : form.kind === 'level'
                ? 'Level'
                : 'Value'
        }}</label>
        <span>
          <select
            v-if="driver.choices.length > 0 || driver.kind === 'yesNo'"
            id="profile-value"
            v-model="form.value"
          >
            <option v-if="driver.kind === 'yesNo'" value="1">yes</option>
            <option v-if="driver.kind === 'yesNo'" value="0">no</option>
            <option
              v-for="choice in driver.choices"
              :key="choice.value"
              :value="String(choice.value)"
            >
              {{ choice.label }}
            </option>
          </select>
          <input v-else id="profile-value" v-model="form.value" inputmode="decimal" />
          <small class="quiet">{{ percent ? '% ' : '' }}{{ against }}</small>
        </span>
      </template>
      <template v-if="form.kind === 'steps'">
        <template v-for="(step, place) in form.steps" :key="place">
          <span class="label">{{ place === 0 ? 'From' : 'then from' }}</span>
          <span>
            <input v-model="step.from" type="month" :aria-label="`Step ${place + 1} from`" />
            <input
              v-model="step.value"
              class="short"
              inputmode="decimal"
              :aria-label="`Step ${place + 1}`"
            />
            <button
              v-if="form.steps.length > 1"
              type="button"
              class="link"
              @click="form.steps.splice(place, 1)"
            >
              drop
            </button>
          </span>
        </template>
        <span />
        <button
          type="button"
          class="link"
          @click="form.steps.push({ from: form.steps.at(-1)?.from ?? firstOpen, value: '' })"
        >
          + a step
        </button>
      </template>
      <template v-if="form.kind === 'growth'">
        <label for="profile-by">Grows</label>
        <select id="profile-by" v-model="form.by">
          <option v-for="one in GROWTHS" :key="one.by" :value="one.by">{{ one.name }}</option>
        </select>
        <label for="profile-rate">{{ form.by === 'yearAmount' ? 'Amount' : 'Rate, %' }}</label>
        <input id="profile-rate" v-model="form.rate" inputmode="decimal" />
        <template v-if="form.by === 'yearRate' || form.by === 'yearAmount'">
          <label for="profile-step">In month</label>
          <select id="profile-step" v-model.number="form.stepMonth">
            <option v-for="month in 12" :key="month" :value="month">
              {{ monthName(month) }}
            </option>
          </select>
        </template>
      </template>
      <template v-if="form.kind === 'lastYear'">
        <label for="profile-growth">Growth, %</label>
        <input id="profile-growth" v-model="form.growth" inputmode="decimal" />
      </template>
      <template v-if="form.kind === 'annual'">
        <template v-if="lines > 1 && addsOverStreams(driver)">
          <label for="profile-each">It is for</label>
          <select id="profile-each" v-model="form.each">
            <option :value="false">all {{ lines }} forecast lines together</option>
            <option :value="true">each of {{ lines }} forecast lines</option>
          </select>
        </template>
        <label for="profile-year">Twelve months from</label>
        <input id="profile-year" v-model="form.year" type="month" />
      </template>
      <template v-if="form.kind === 'annual' || form.kind === 'level'">
        <span class="label">Season</span>
        <span class="season">
          <label v-for="(letter, place) in LETTERS" :key="place"
            >{{ letter
            }}<input
              v-model="form.season[place]"
              inputmode="decimal"
              :aria-label="`Season of month ${place + 1}`"
          /></label>
        </span>
        <span />
        <button
          v-if="said?.season"
          type="button"
          class="link"
          @click="form.season = (said?.season ?? []).map(String)"
        >
          take last year’s season
        </button>
        <span v-else class="quiet">The books say no season of this driver</span>
      </template>
      <template v-if="form.kind !== 'steps'">
        <span class="label">Months</span>
        <span>
          <input v-model="form.from" type="month" aria-label="From month" />
          to <input v-model="form.to" type="month" aria-label="To month" />
        </span>
      </template>
      <label for="profile-note">Why</label>
      <input id="profile-note" v-model="form.note" maxlength="500" placeholder="optional" />
      <p v-if="failure" class="failure" role="alert">{{ failure }}</p>
      <span class="buttons">
        <button class="primary" type="submit" :disabled="busy || !complete">
          {{ form.id === null ? 'Set it' : 'Change it' }}
        </button>
        <button v-if="form.id !== null" type="button" class="plain" @click="begin">
          Another one instead
        </button>
      </span>
    </form>
    <section v-if="mine.length > 0" aria-label="Set here">
      <h3>Set for {{ where }}</h3>
      <ul>
        <li v-for="row in mine" :key="row.id">
          {{ profileInWords(row.profile, formats) }}
          <span v-if="row.note" class="quiet">“{{ row.note }}”</span>
          <span class="quiet"> {{ row.by }}</span>
          <button
            v-if="row.profile.kind !== 'months'"
            type="button"
            class="link"
            @click="edit(row)"
          >
            edit
          </button>
          <button type="button" class="link" :disabled="busy" @click="drop(row.id)">drop</button>
        </li>
      </ul>
    </section>
  </SidePanel>
</template>

<style scoped>
form {
  display: grid;
  grid-template-columns: 84px minmax(0, 1fr);
  gap: 5px 8px;
  align-items: center;
}
form label,
.label {
  font-size: 12px;
}
form input:not([type='month']) {
  width: 100%;
}
form input#profile-value,
form .short {
  width: 92px;
}
input[type='month'] {
  width: 112px;
  padding: 5px 4px;
  font-size: 12px;
}
form small {
  margin-left: 6px;
}
.season {
  display: grid;
  grid-template-columns: repeat(6, 1fr);
  gap: 3px;
}
.season input {
  padding: 2px 3px;
}
.failure,
.buttons {
  grid-column: 1 / -1;
}
.buttons {
  display: flex;
  gap: 8px;
}
ul {
  margin: 0;
  padding: 0;
  list-style: none;
  font-size: 12px;
}
li {
  padding: 3px 0;
  border-bottom: 1px solid var(--line-soft);
}
h3 {
  font-size: 12px;
  margin: 4px 0;
}
</style>
