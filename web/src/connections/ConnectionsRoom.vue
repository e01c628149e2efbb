<script setup lang="ts">
import { connectionOperations, type FeedField, type Settlement } from '@dravex/contract';
import { useIntervalFn } from '@vueuse/core';
import { computed, ref, watch } from 'vue';
import { whenInWords } from '../format/moments.ts';
import { WORDS } from '../format/words.ts';
import EmptyState from '../kit/EmptyState.vue';
import SheetTable from '../kit/SheetTable.vue';
import { usePlanner } from '../people/use-planner.ts';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import SettingsNav from '../settings/SettingsNav.vue';
import RoomPage from '../shell/RoomPage.vue';
import { useFrame } from '../shell/use-frame.ts';
import { useWork } from '../writing/use-work.ts';
import { useWriting } from '../writing/use-writing.ts';
import { connectionHeadline, connectionState, outcomeOf, TIMES } from './connection-words.ts';
import EditConnection from './EditConnection.vue';
import FieldsForm from './FieldsForm.vue';
import HeldDocuments from './HeldDocuments.vue';
import NewConnection from './NewConnection.vue';
import { TEXTS } from './texts.ts';

/** Sources that deliver sales automatically: set up, tested, imported, and what they delivered. */
const plan = usePlan();
const { minor, formats } = useFrame();
const planner = usePlanner();

const again = ref(0);
const { data, failure } = useAnswer([() => plan.tick, () => plan.savedAt, again], () =>
  plan.ask(connectionOperations.listConnections, {}),
);
const chosenId = ref(0);
const chosen = computed(
  () => data.value?.find(({ id }) => id === chosenId.value) ?? data.value?.[0],
);
const at = computed(() => ({ connectionId: chosen.value?.id ?? 0 }));
const ofChosen = [() => chosen.value?.id, () => plan.tick, again];
const runs = useAnswer(ofChosen, async () =>
  chosen.value ? plan.ask(connectionOperations.listRuns, at.value) : [],
);
const held = useAnswer(ofChosen, async () =>
  chosen.value ? plan.ask(connectionOperations.listHeld, at.value) : [],
);
// While something runs it is looked at again; else the change notices say when to look.
let lookUntil = 0;
useIntervalFn(() => {
  const running = data.value?.some((connection) => connection.running) ?? false;
  if (running || Date.now() < lookUntil) again.value += 1;
}, 1000);

const when = (moment: string): string => whenInWords(moment, plan.locale);
const headline = computed(() => connectionHeadline(chosen.value, when));
const state = computed(() => connectionState(chosen.value, when));

const done = ref('');
const { busy, failure: problem, write } = useWriting();
function doing(work: () => Promise<string>): Promise<boolean> {
  done.value = '';
  return write(work, (text) => {
    done.value = text;
    again.value += 1;
  });
}
// What was said of a reading holds until it has ended.
watch(
  () => chosen.value?.running,
  (running, before) => {
    if (before && !running) done.value = '';
  },
);
const work = useWork();
const LOOK_MS = 1000;
/** How often it is looked for an import that has not begun yet. */
const PATIENCE = 30;
/** Says at the foot that an import is running, in every room, until it has ended. */
function follow(id: number, name: string): Promise<void> {
  return work.during(TEXTS.importingFrom(name), async (said) => {
    said.stop = () => void stop(id);
    let begun = false;
    for (let looks = 0; begun || looks < PATIENCE; looks += 1) {
      await new Promise((resolve) => setTimeout(resolve, LOOK_MS));
      const list = await plan.ask(connectionOperations.listConnections, {}).catch(() => []);
      const running = list.find((one) => one.id === id)?.running ?? false;
      if (begun && !running) return;
      begun ||= running;
    }
  });
}
const stop = (connectionId = at.value.connectionId) =>
  doing(async () => {
    await plan.ask(connectionOperations.stopConnection, { connectionId });
    return TEXTS.importStopsWhatItBrought;
  });
const adding = ref(false);
const editing = ref(false);
const test = () =>
  doing(async () => (await plan.ask(connectionOperations.testConnection, at.value)).message);
const run = () =>
  doing(async () => {
    await plan.ask(connectionOperations.runConnection, at.value);
    void follow(at.value.connectionId, chosen.value?.name ?? '');
    lookUntil = Date.now() + 30_000;
    return TEXTS.importIsRunningItsResult;
  });
const change = (everyMinutes: number | null) =>
  doing(async () => {
    await plan.ask(connectionOperations.changeConnection, at.value, { everyMinutes });
    return TEXTS.timesAreChanged;
  });
/** A code that documents wait for is settled; an import that takes them in starts at once. */
const settle = (settlement: Settlement) =>
  doing(async () => {
    await plan.ask(connectionOperations.settleHeld, at.value, settlement);
    lookUntil = Date.now() + 30_000;
    return TEXTS.isAssignedDocumentsOnHold(settlement.value);
  });
const changeFields = (fields: Record<string, FeedField>) =>
  doing(async () => {
    await plan.ask(connectionOperations.changeConnection, at.value, { fields });
    return TEXTS.importsUseThisFromNow;
  });
const drop = () =>
  doing(async () => {
    const name = chosen.value?.name ?? '';
    await plan.ask(connectionOperations.dropConnection, at.value);
    return TEXTS.isDisconnectedSalesThatIt(name);
  });
const money = (cents: number): string => formats.value.signed(cents / minor.value, 'price');
</script>

<template>
  <RoomPage :heading="headline" :state="state" :failure="failure || problem">
    <template #above><SettingsNav /></template>
    <template #actions>
      <template v-if="planner">
        <template v-if="chosen">
          <v-btn
            v-if="chosen.running"
            color="primary"
            variant="flat"
            :disabled="busy"
            @click="stop()"
          >
            {{ TEXTS.stopImport }}
          </v-btn>
          <v-btn v-else color="primary" variant="flat" :disabled="busy" @click="run">
            {{ TEXTS.importNow }}
          </v-btn>
          <v-btn color="primary" :disabled="busy" @click="test">{{ TEXTS.test }}</v-btn>
          <v-select
            :model-value="chosen.everyMinutes"
            :items="TIMES"
            :aria-label="WORDS.import"
            width="170"
            @update:model-value="change"
          />
        </template>
        <v-btn color="primary" @click="adding = true">{{ TEXTS.connectOrderBook }}</v-btn>
      </template>
    </template>
    <template #menu>
      <v-list-item
        v-if="planner && chosen"
        role="menuitem"
        :title="TEXTS.changeAddressOrKey"
        @click="editing = true"
      />
      <v-list-item
        v-if="planner && chosen"
        role="menuitem"
        :title="TEXTS.disconnect"
        @click="drop"
      />
    </template>
    <div
      v-if="(data ?? []).length > 1"
      class="controls"
      role="group"
      :aria-label="WORDS.connections"
    >
      <v-btn
        v-for="connection in data ?? []"
        :key="connection.id"
        :aria-pressed="connection.id === chosen?.id"
        @click="chosenId = connection.id"
      >
        {{ connection.name }}
      </v-btn>
    </div>
    <p v-if="done" class="good" role="status">{{ done }}</p>
    <EmptyState v-if="data && data.length === 0" :heading="TEXTS.noOrderBookIsConnected">
      <p>{{ TEXTS.salesCanBeImportedFrom }}</p>
      <v-btn v-if="planner" color="primary" variant="flat" @click="adding = true">
        {{ TEXTS.connectOrderBook }}
      </v-btn>
    </EmptyState>
    <NewConnection v-model="adding" @made="chosenId = $event" />
    <EditConnection v-if="chosen" v-model="editing" :connection="chosen" @changed="again += 1" />
    <p v-if="planner && chosen?.keyMissing" role="status">
      <v-btn color="primary" variant="flat" @click="editing = true">{{ TEXTS.enterTheKey }}</v-btn>
    </p>
    <div v-if="chosen" class="halves">
      <div class="scroll" tabindex="0">
        <SheetTable :about="TEXTS.imports">
          <thead>
            <tr>
              <th scope="col" class="words">{{ TEXTS.imported }}</th>
              <th scope="col">{{ WORDS.new }}</th>
              <th scope="col">{{ TEXTS.corrected }}</th>
              <th scope="col">{{ TEXTS.onHold }}</th>
              <th scope="col">{{ WORDS.revenueIn(formats.currency) }}</th>
              <th scope="col" class="words">{{ TEXTS.result }}</th>
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
                {{ outcomeOf(one) }}
              </td>
            </tr>
          </tbody>
        </SheetTable>
        <p v-if="(runs.data.value ?? []).length === 0" class="quiet note">
          {{ TEXTS.notImportedYet }}
        </p>
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
  </RoomPage>
</template>

<style scoped>
.halves {
  display: grid;
  grid-template-columns: minmax(0, 3fr) minmax(0, 2fr);
  gap: 28px;
  min-height: 0;
  flex: 1;
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
