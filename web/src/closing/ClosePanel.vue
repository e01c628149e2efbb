<script setup lang="ts">
import { closingOperations, type Close, type Closing } from '@dravex/contract';
import { monthFrom } from '@dravex/core';
import { computed, ref } from 'vue';
import { whenInWords } from '../format/moments.ts';
import { dayInWords, longMonth } from '../format/periods.ts';
import { WORDS } from '../format/words.ts';
import DialogSheet from '../kit/DialogSheet.vue';
import { usePlanner } from '../people/use-planner.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { useWriting } from '../writing/use-writing.ts';
import CalendarDialog from './CalendarDialog.vue';
import { monthAlone } from './closing-words.ts';
import ReopenDialog from './ReopenDialog.vue';
import RulesDialog from './RulesDialog.vue';
import { TEXTS } from './texts.ts';

/** Closes the next month, says what follows from it, and what was closed before. */
const props = defineProps<{
  closing: Closing;
  /** The month’s sales and its forecast, in words. */
  actual: string;
  forecast: string;
  difference: string;
}>();
const plan = usePlan();
const planner = usePlanner();
const { calendar } = useFrame();
const { busy, failure, errors, write } = useWriting();

const month = computed(() => props.closing.month ?? '');
const asked = ref('');
const asking = computed({
  get: () => asked.value !== '',
  set: (open) => {
    if (!open) asked.value = '';
  },
});
async function close(sure: boolean): Promise<void> {
  const closed = month.value;
  asked.value = '';
  await write(
    () => plan.ask(closingOperations.closeMonth, {}, { month: closed, sure }),
    () => (plan.said = { text: TEXTS.isClosed(longMonth(monthFrom(closed))), undo: 'closing' }),
  );
  const question = errors.value.find(({ path }) => path === 'sure');
  if (!question) return;
  asked.value = question.message;
  failure.value = '';
}

const rules = ref(false);
const dates = ref(false);
const reopening = ref(false);
const automatic = computed(() => {
  const { rule } = props.closing.rules;
  if (rule.by === 'hand') return TEXTS.byHand;
  const kind = rule.by === 'workingDay' ? TEXTS.workingDay : 'day';
  const day = props.closing.due ? `, ${dayInWords(props.closing.due)}` : '';
  return TEXTS.automaticallyOnAfterMonthIf(kind, rule.day, day);
});
const horizon = computed(() => {
  const { roll } = props.closing.rules;
  const last = monthFrom(calendar.value.last);
  return roll === 0
    ? TEXTS.staysTo(longMonth(last))
    : TEXTS.growsByTo(roll, longMonth(last + roll));
});
const SHOWN = 12;
const closes = computed(() => props.closing.closes.slice(0, SHOWN));
const howClosed = ({ at, by, byItself }: Close): string =>
  `${whenInWords(at, plan.locale).replace(/ \d\d:\d\d$/, '')}, ${byItself ? TEXTS.byItself : by}`;
</script>

<template>
  <aside class="close-panel no-print" :aria-label="TEXTS.closeTheMonth">
    <template v-if="closing.month">
      <h2>{{ TEXTS.close(longMonth(monthFrom(closing.month))) }}</h2>
      <p class="amount figures">{{ actual }}</p>
      <p class="quiet">
        {{ TEXTS.soldSoFarForecast(closing.over, forecast, difference) }}
      </p>
      <p v-if="failure" class="failure" role="alert">{{ failure }}</p>
      <p v-if="planner">
        <v-btn color="primary" variant="flat" :loading="busy" @click="close(false)">
          {{ TEXTS.close(monthAlone(closing.month)) }}
        </v-btn>
      </p>
      <p class="quiet">
        {{ TEXTS.itsForecastIsKeptAs }}
      </p>
    </template>
    <h3>{{ TEXTS.onClosing }}</h3>
    <dl>
      <dt>{{ TEXTS.horizon }}</dt>
      <dd>{{ horizon }}</dd>
      <dt>{{ TEXTS.monthsAreClosed }}</dt>
      <dd>{{ automatic }}</dd>
      <dt>{{ TEXTS.asOfDate }}</dt>
      <dd>
        {{ dayInWords(closing.asOf) }},
        {{ closing.asOfBy === 'day' ? TEXTS.followsRealDay : TEXTS.setByHand }}
      </dd>
    </dl>
    <p v-if="planner" class="controls">
      <v-btn color="primary" @click="rules = true">{{ TEXTS.changeRules }}</v-btn>
      <v-btn color="primary" @click="dates = true">{{ TEXTS.changeDates }}</v-btn>
    </p>
    <h3>{{ TEXTS.closedBefore }}</h3>
    <p v-if="closes.length === 0" class="quiet">
      {{ TEXTS.andEarlierWithoutKeptForecast(longMonth(plan.closedThrough)) }}
    </p>
    <ol>
      <li v-for="(one, place) in closes" :key="one.id">
        <span>
          {{ longMonth(monthFrom(one.month)) }}
          <span class="quiet">{{ howClosed(one) }}</span>
        </span>
        <v-btn v-if="planner && place === 0" variant="plain" @click="reopening = true">
          {{ TEXTS.reopen }}
        </v-btn>
      </li>
    </ol>
    <p v-if="planner && closes.length === 0">
      <v-btn variant="plain" @click="reopening = true">
        {{ TEXTS.reopenOf(longMonth(plan.closedThrough)) }}
      </v-btn>
    </p>
    <RulesDialog v-model="rules" :closing="closing" />
    <CalendarDialog v-model="dates" :closing="closing" />
    <ReopenDialog v-model="reopening" :month="calendar.closedThrough" />
    <DialogSheet v-model="asking" :title="TEXTS.closeOf(monthAlone(month))">
      <p>{{ asked }}</p>
      <template #actions>
        <v-btn color="primary" variant="flat" @click="close(true)">{{ TEXTS.closeAnyway }}</v-btn>
        <v-btn color="primary" @click="asking = false">{{ WORDS.cancel }}</v-btn>
      </template>
    </DialogSheet>
  </aside>
</template>

<style scoped>
.close-panel {
  width: 256px;
  flex: none;
  padding-left: 16px;
  border-left: 1px solid var(--line);
  overflow: auto;
  display: grid;
  gap: 8px;
  align-content: start;
}
.amount {
  font-size: 21px;
  font-weight: 650;
  line-height: 1.15;
}
h3 {
  margin-top: 8px;
  padding-top: 8px;
  border-top: 1px solid var(--ink);
}
dl {
  margin: 0;
}
dt {
  font-weight: 600;
}
dd {
  margin: 0 0 6px;
  color: var(--ink-quiet);
}
ol {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: flex;
  justify-content: space-between;
  gap: 8px;
  padding: 4px 0;
  border-bottom: 1px solid var(--line);
}
li .quiet {
  display: block;
  font-size: 11.5px;
}
</style>
