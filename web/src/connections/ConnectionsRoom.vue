<script setup lang="ts">
import type {
  Connection,
  ConnectionRun,
  FeedField,
  HeldDocument,
  Settlement,
} from '@dravex/contract';
import { computed, onBeforeUnmount, ref, watch } from 'vue';
import { whenInWords } from '../format/moments.ts';
import { useSession } from '../people/use-session.ts';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import SettingsNav from '../settings/SettingsNav.vue';
import { inWords, request } from '../shell/api.ts';
import ScopeBar from '../shell/ScopeBar.vue';
import { useFrame } from '../shell/use-frame.ts';
import FieldsForm from './FieldsForm.vue';
import HeldDocuments from './HeldDocuments.vue';

/** Sources that bring sales by themselves: set up, tested, run, and what they brought. */
const plan = usePlan();
const session = useSession();
const { formats } = useFrame();
const planner = computed(() => session.roleIn(plan.workspaceId) === 'planner');
const minor = computed(() => 10 ** (plan.workspace?.plan.currency.minorDigits ?? 2));

const again = ref(0);
const { data, failure } = useAnswer([() => plan.tick, () => plan.savedAt, again], () =>
  request<Connection[]>('GET', plan.path('/connections')),
);
const chosenId = ref(0);
const chosen = computed(
  () => data.value?.find(({ id }) => id === chosenId.value) ?? data.value?.[0],
);
const runs = useAnswer([() => chosen.value?.id, () => plan.tick, again], async () =>
  chosen.value
    ? request<ConnectionRun[]>('GET', plan.path(`/connections/${chosen.value.id}/runs`))
    : [],
);
const held = useAnswer([() => chosen.value?.id, () => plan.tick, again], async () =>
  chosen.value
    ? request<HeldDocument[]>('GET', plan.path(`/connections/${chosen.value.id}/held`))
    : [],
);
// While something runs it is looked at again; else the change notices say when to look.
const timer = setInterval(() => {
  const running = data.value?.some((connection) => connection.running) ?? false;
  if (running || Date.now() < lookUntil) again.value += 1;
}, 1000);
let lookUntil = 0;
onBeforeUnmount(() => clearInterval(timer));

const when = (moment: string): string => whenInWords(moment, plan.workspace?.locale);
const headline = computed(() => {
  const connection = chosen.value;
  if (!connection) return 'No source is connected yet';
  if (connection.awaySince)
    return `${connection.name} does not answer since ${when(connection.awaySince)}`;
  if (connection.held > 0) {
    return `${connection.name}: ${connection.held} ${connection.held === 1 ? 'document waits' : 'documents wait'} for a code`;
  }
  if (connection.running) return `${connection.name} is being read`;
  return connection.lastDoneAt
    ? `${connection.name} is up to date as of ${when(connection.lastDoneAt)}`
    : `${connection.name} was not run yet`;
});
const state = computed(() => {
  const connection = chosen.value;
  if (!connection)
    return 'An order book brings invoices and credit notes by itself, each once, and puts corrections in place of what was there.';
  const every =
    connection.everyMinutes === null
      ? 'only when it is told to'
      : `every ${connection.everyMinutes} minutes`;
  const next = connection.nextRunAt ? `, next ${when(connection.nextRunAt)}` : '';
  return `${connection.url}, ${every}${next}`;
});

const busy = ref(false);
const problem = ref('');
const done = ref('');
async function doing(work: () => Promise<string>): Promise<boolean> {
  busy.value = true;
  problem.value = '';
  done.value = '';
  try {
    done.value = await plan.save(work);
    again.value += 1;
    return true;
  } catch (error) {
    problem.value = inWords(error);
    return false;
  } finally {
    busy.value = false;
  }
}
// What was said of a reading holds until it has ended.
watch(
  () => chosen.value?.running,
  (running, before) => {
    if (before && !running) done.value = '';
  },
);
const adding = ref(false);
const form = ref({ name: 'Order book', url: '', key: '', every: '60' });
async function add(): Promise<void> {
  const { name, url, key, every } = form.value;
  const added = await doing(async () => {
    const everyMinutes = every === '' ? null : Number(every);
    const body = { name, url, key, everyMinutes };
    const { id } = await request<{ id: number }>('POST', plan.path('/connections'), body);
    chosenId.value = id;
    return `${name} is connected.`;
  });
  if (!added) return;
  adding.value = false;
  form.value = { name: 'Order book', url: '', key: '', every: '60' };
}
const own = (rest: string): string => plan.path(`/connections/${chosen.value?.id ?? 0}${rest}`);
async function test(): Promise<void> {
  await doing(async () => (await request<{ message: string }>('POST', own('/test'))).message);
}
async function run(): Promise<void> {
  await doing(async () => {
    await request('POST', own('/run'));
    lookUntil = Date.now() + 30_000;
    return 'It is being read; what it brings is listed below.';
  });
}
async function change(event: Event): Promise<void> {
  const text = (event.target as HTMLSelectElement).value;
  await doing(async () => {
    await request('PATCH', own(''), { everyMinutes: text === '' ? null : Number(text) });
    return 'The times are changed.';
  });
}
/** A code that documents wait for is settled; a reading that takes them in starts at once. */
async function settle(settlement: Settlement): Promise<void> {
  await doing(async () => {
    await request('POST', own('/settle'), settlement);
    lookUntil = Date.now() + 30_000;
    return `${settlement.value} is settled; what waited for it is being taken in.`;
  });
}
async function changeFields(fields: Record<string, FeedField>): Promise<void> {
  await doing(async () => {
    await request('PATCH', own(''), { fields });
    return 'It is read so from now on.';
  });
}
async function drop(): Promise<void> {
  const name = chosen.value?.name ?? '';
  await doing(async () => {
    await request('DELETE', own(''));
    return `${name} is connected no longer; what it brought stays.`;
  });
}
const TIMES = [
  { value: '5', name: 'every 5 minutes' },
  { value: '15', name: 'every quarter of an hour' },
  { value: '60', name: 'every hour' },
  { value: '1440', name: 'every day' },
  { value: '', name: 'only when it is told to' },
];
const money = (cents: number): string => formats.value.signed(cents / minor.value, 'price');
function outcome(one: ConnectionRun): string {
  if (one.state === 'running') return 'is running';
  return one.state === 'failed' ? one.message : 'done';
}
</script>

<template>
  <section class="room">
    <ScopeBar :shows="[]" />
    <SettingsNav />
    <header class="room-head">
      <h1>{{ headline }}</h1>
      <p class="state">{{ state }}</p>
    </header>
    <div class="controls wrap">
      <button
        v-for="connection in data ?? []"
        :key="connection.id"
        type="button"
        class="chip"
        :aria-pressed="connection.id === chosen?.id"
        @click="chosenId = connection.id"
      >
        {{ connection.name }}
      </button>
      <button v-if="planner" type="button" class="chip" @click="adding = !adding">
        + connect an order book
      </button>
    </div>
    <p v-if="failure" class="failure" role="alert">{{ failure }}</p>
    <p v-if="problem" class="failure" role="alert">{{ problem }}</p>
    <p v-if="done" class="good" role="status">{{ done }}</p>
    <form
      v-if="planner && (adding || (data && data.length === 0))"
      class="form"
      @submit.prevent="add"
    >
      <label for="connection-name">Name</label>
      <input id="connection-name" v-model="form.name" required maxlength="120" />
      <label for="connection-url">Address</label>
      <input
        id="connection-url"
        v-model="form.url"
        required
        type="url"
        placeholder="https://erp.example"
        maxlength="500"
      />
      <label for="connection-key">API key</label>
      <input
        id="connection-key"
        v-model="form.key"
        required
        type="password"
        autocomplete="off"
        maxlength="500"
      />
      <label for="connection-every">Read</label>
      <select id="connection-every" v-model="form.every">
        <option v-for="time in TIMES" :key="time.value" :value="time.value">{{ time.name }}</option>
      </select>
      <button class="primary" type="submit" :disabled="busy">Connect it</button>
    </form>
    <template v-if="chosen">
      <div v-if="planner" class="controls wrap">
        <button type="button" class="plain" :disabled="busy || chosen.running" @click="run">
          Read it now
        </button>
        <button type="button" class="plain" :disabled="busy" @click="test">Test it</button>
        <select
          :value="chosen.everyMinutes === null ? '' : String(chosen.everyMinutes)"
          aria-label="Read"
          @change="change"
        >
          <option v-for="time in TIMES" :key="time.value" :value="time.value">
            {{ time.name }}
          </option>
        </select>
        <button type="button" class="plain" :disabled="busy" @click="drop">End it</button>
      </div>
      <div class="halves">
        <div class="scroll" tabindex="0">
          <table class="sheet-table" aria-label="What it brought">
            <thead>
              <tr>
                <th scope="col" class="words">Read</th>
                <th scope="col">New</th>
                <th scope="col">Corrected</th>
                <th scope="col">Waiting</th>
                <th scope="col">Revenue, {{ formats.currency }}</th>
                <th scope="col" class="words">How it ended</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="one in runs.data.value ?? []" :key="one.id">
                <td class="words">{{ when(one.startedAt) }}</td>
                <td>{{ one.added }}</td>
                <td>{{ one.replaced }}</td>
                <td>{{ one.held }}</td>
                <td>{{ money(one.revenue) }}</td>
                <td class="words wide" :class="{ bad: one.state === 'failed' }">
                  {{ outcome(one) }}
                </td>
              </tr>
            </tbody>
          </table>
          <p v-if="(runs.data.value ?? []).length === 0" class="quiet note">It was not read yet.</p>
        </div>
        <div class="beside">
          <HeldDocuments
            v-if="(held.data.value ?? []).length > 0"
            :documents="held.data.value ?? []"
            :planner="planner"
            :busy="busy || chosen.running"
            @settle="settle"
          />
          <FieldsForm :connection="chosen" :busy="busy" :planner="planner" @change="changeFields" />
        </div>
      </div>
    </template>
  </section>
</template>

<style scoped>
.wrap {
  flex-wrap: wrap;
}
.form {
  display: grid;
  grid-template-columns: 80px 320px;
  gap: 6px 12px;
  align-items: center;
}
.form button {
  grid-column: 2;
  justify-self: start;
}
.halves {
  display: grid;
  grid-template-columns: minmax(0, 3fr) minmax(0, 2fr);
  gap: 28px;
  min-height: 0;
  flex: 1;
}
.scroll {
  overflow: auto;
}
.wide {
  white-space: normal !important;
}
.note {
  padding: 12px 8px;
}
.beside {
  display: grid;
  gap: 20px;
  align-content: start;
  overflow: auto;
  padding-left: 20px;
  border-left: 1px solid var(--line);
}
</style>
