<script setup lang="ts">
import type { JournalChange, JournalRecord, JournalRoom, UndoResult } from '@dravex/contract';
import { computed, ref, watch } from 'vue';
import { useRoute } from 'vue-router';
import { DASH } from '../format/numbers.ts';
import { whenInWords } from '../format/moments.ts';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { inWords, request } from '../shell/api.ts';
import { useFrame } from '../shell/use-frame.ts';
import { useHistory } from './use-history.ts';

/** What was changed in this room: who, when, what from, what to, why. */
const plan = usePlan();
const history = useHistory();
const route = useRoute();
const { formats } = useFrame();

const ROOMS: Readonly<Record<string, JournalRoom>> = {
  actuals: 'actuals',
  drivers: 'drivers',
  forecast: 'forecast',
  targets: 'targets',
  budget: 'budget',
  comparison: 'budget',
};
const room = computed(() => ROOMS[String(route.name)]);
const PAGE = 40;
const limit = ref(PAGE);
watch(room, () => (limit.value = PAGE));
const { data, failure } = useAnswer([room, limit, () => plan.tick, () => plan.savedAt], () => {
  const of = room.value ? `room=${room.value}&` : '';
  return request<JournalRecord[]>('GET', plan.path(`/journal?${of}limit=${limit.value}`));
});
const records = computed(() => data.value ?? []);
const minor = computed(() => 10 ** (plan.workspace?.plan.currency.minorDigits ?? 2));

function shown(value: JournalChange['before'], { unit }: JournalChange): string {
  if (value === null) return DASH;
  if (typeof value === 'string') return value;
  if (unit === 'percent') return formats.value.show(value, 'percent');
  if (unit === 'minor') return formats.value.show(value / minor.value, 'price');
  return formats.value.show(value, unit === 'price' ? 'price' : 'units');
}

const why = ref('');
const reasonFor = ref(0);
const refused = ref('');
async function say(record: JournalRecord): Promise<void> {
  await trying(async () => {
    await request('PATCH', plan.path(`/journal/${record.id}`), { why: why.value });
    reasonFor.value = 0;
    why.value = '';
  });
}
async function takeBack(record: JournalRecord): Promise<void> {
  await trying(() =>
    plan.save(() => request<UndoResult>('POST', plan.path(`/journal/${record.id}/undo`))),
  );
}
async function trying(work: () => Promise<unknown>): Promise<void> {
  refused.value = '';
  try {
    await work();
    await plan.inLine(plan.catchUp);
    plan.tick += 1;
  } catch (error) {
    refused.value = inWords(error);
  }
}
</script>

<template>
  <aside class="drawer no-print" aria-label="History" @keydown.esc="history.close()">
    <div class="bar">
      <h2>History{{ room ? '' : ' of every room' }}</h2>
      <button
        type="button"
        class="bare close"
        aria-label="Close the history"
        @click="history.close()"
      >
        ×
      </button>
    </div>
    <p v-if="failure || refused" class="failure" role="alert">{{ refused || failure }}</p>
    <p v-if="data && records.length === 0" class="quiet">Nothing was changed here yet.</p>
    <ol>
      <li v-for="record in records" :key="record.id" :class="{ gone: record.undone }">
        <p class="quiet">
          {{ record.by }}, {{ whenInWords(record.at, plan.workspace?.locale)
          }}<template v-if="record.undone">, taken back</template>
        </p>
        <p class="what">{{ record.what }}</p>
        <p v-if="record.why">“{{ record.why }}”</p>
        <details v-if="record.count > 1">
          <summary>{{ record.count }} changes</summary>
          <p v-for="(change, index) in record.changes" :key="index" class="change">
            <span>{{ change.label }}</span>
            <span class="figures"
              >{{ shown(change.before, change) }} → {{ shown(change.after, change) }}</span
            >
          </p>
          <p v-if="record.count > record.changes.length" class="quiet">
            and {{ record.count - record.changes.length }} more
          </p>
        </details>
        <p
          v-for="change in record.count === 1 ? record.changes : []"
          :key="change.label"
          class="change"
        >
          <span>{{ change.label }}</span>
          <span class="figures"
            >{{ shown(change.before, change) }} → {{ shown(change.after, change) }}</span
          >
        </p>
        <form v-if="reasonFor === record.id" class="reason" @submit.prevent="say(record)">
          <input v-model="why" aria-label="Why" placeholder="Why" maxlength="500" autofocus />
          <button class="plain" type="submit" :disabled="why.trim() === ''">Keep</button>
        </form>
        <p v-if="record.own && (record.undoable || !record.why)" class="acts">
          <button v-if="record.undoable" type="button" class="link" @click="takeBack(record)">
            Take back
          </button>
          <button
            v-if="!record.why && reasonFor !== record.id"
            type="button"
            class="link"
            @click="reasonFor = record.id"
          >
            Say why
          </button>
        </p>
      </li>
    </ol>
    <button
      v-if="records.length >= limit && limit < 200"
      type="button"
      class="link"
      @click="limit = Math.min(200, limit * 2)"
    >
      Earlier
    </button>
  </aside>
</template>

<style scoped>
li {
  overflow-wrap: anywhere;
}
.what {
  font-weight: 550;
}
.gone .what {
  text-decoration: line-through;
}
.change {
  display: flex;
  justify-content: space-between;
  gap: 10px;
  color: var(--ink-quiet);
}
.change .figures {
  flex: none;
  max-width: 50%;
}
summary {
  cursor: pointer;
  color: var(--ink-quiet);
}
.acts {
  display: flex;
  gap: 14px;
  margin-top: 3px;
}
.reason {
  display: flex;
  gap: 6px;
  margin-top: 4px;
}
.reason input {
  flex: 1;
  min-width: 0;
}
</style>
