<script setup lang="ts">
import { dimensionOperations, type MembersFile } from '@dravex/contract';
import { computed, ref, shallowRef, watch } from 'vue';
import { WORDS } from '../format/words.ts';
import FilePick from '../kit/FilePick.vue';
import { usePlanner } from '../people/use-planner.ts';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import SettingsNav from '../settings/SettingsNav.vue';
import { callWithFile } from '../shell/client.ts';
import RoomPage from '../shell/RoomPage.vue';
import { useWriting } from '../writing/use-writing.ts';
import CustomerAssignments from './CustomerAssignments.vue';
import MemberPanel from './MemberPanel.vue';
import MemberTable from './MemberTable.vue';
import NewDimension from './NewDimension.vue';
import NewMember from './NewMember.vue';
import TellApartDialog from './TellApartDialog.vue';
import { TEXTS } from './texts.ts';

/** The ways to cut sales: their members as a tree, each to be changed, moved, merged. */
const plan = usePlan();
const planner = usePlanner();
const { data, failure } = useAnswer([() => plan.tick, () => plan.savedAt], () =>
  plan.ask(dimensionOperations.listDimensions, {}),
);
const chosenCode = ref('');
const chosen = computed(
  () => data.value?.find(({ code }) => code === chosenCode.value) ?? data.value?.[0],
);
const selectedId = ref(0);
const selected = computed(() => chosen.value?.members.find(({ id }) => id === selectedId.value));
watch(chosenCode, () => (selectedId.value = 0));

const headline = computed(() => {
  const dimension = chosen.value;
  if (!dimension) return WORDS.dimensions;
  const unsold = dimension.members.filter(({ combinations }) => combinations === 0).length;
  const count = TEXTS.members(dimension.members.length);
  return `${dimension.name}: ${count}${unsold > 0 ? TEXTS.withoutSales(unsold) : ''}`;
});

const done = ref('');
const adding = ref(false);
const telling = ref(false);
const { busy, failure: problem, write } = useWriting();
async function remove(): Promise<void> {
  const dimension = chosen.value;
  if (!dimension) return;
  await write(
    () => plan.ask(dimensionOperations.deleteDimension, { dimension: dimension.code }),
    () => {
      plan.said = { text: WORDS.deleted(dimension.name), undo: 'dimensions' };
      chosenCode.value = '';
    },
  );
}

const brought = shallowRef<{ file: File; effect: MembersFile }>();
const send = (file: File, apply: 'yes' | 'no') =>
  callWithFile(
    dimensionOperations.bringMembers,
    { workspaceId: plan.workspaceId, dimension: chosen.value?.code ?? '', apply },
    file,
  );
const look = (file: File) =>
  write(
    () => send(file, 'no'),
    (effect) => (brought.value = { file, effect }),
  );
async function applyFile(): Promise<void> {
  const sent = brought.value;
  if (!sent) return;
  await write(
    () => send(sent.file, 'yes'),
    ({ added, changed }) => (done.value = TEXTS.membersAddedChanged(added, changed)),
  );
  brought.value = undefined;
}
</script>

<template>
  <RoomPage :heading="headline" :state="TEXTS.salesCanBeShownBy" :failure="failure || problem">
    <template #above><SettingsNav /></template>
    <template #actions>
      <template v-if="planner">
        <v-btn color="primary" variant="flat" @click="adding = true">{{
          TEXTS.addDimension
        }}</v-btn>
        <FilePick
          :label="TEXTS.importMembers"
          :about="TEXTS.fileOfMembers"
          accept=".csv,.txt,.xlsx,.json"
          @pick="look"
        />
      </template>
    </template>
    <template #menu>
      <v-list-item
        v-if="planner && chosen && (data?.length ?? 0) > 1"
        role="menuitem"
        :title="TEXTS.assignByRule(chosen.name)"
        @click="telling = true"
      />
      <v-list-item
        v-if="planner && chosen && (data?.length ?? 0) > 1"
        role="menuitem"
        :title="TEXTS.deleteOf(chosen.name)"
        :disabled="busy"
        @click="remove"
      />
    </template>
    <div class="controls" role="group" :aria-label="TEXTS.dimension">
      <v-btn
        v-for="dimension in data ?? []"
        :key="dimension.code"
        :aria-pressed="dimension.code === chosen?.code"
        @click="chosenCode = dimension.code"
      >
        {{ dimension.name }}
      </v-btn>
    </div>
    <NewDimension
      v-model="adding"
      @made="
        (code, text) => {
          chosenCode = code;
          done = text;
        }
      "
    />
    <TellApartDialog
      v-if="chosen"
      v-model="telling"
      :dimension="chosen"
      :all="data ?? []"
      @made="(text) => (done = text)"
    />
    <p v-if="done" class="good" role="status">{{ done }}</p>
    <div v-if="brought" class="brought" role="status">
      <p>
        {{
          TEXTS.membersToAddToChange(
            brought.file.name,
            brought.effect.added,
            brought.effect.changed,
            brought.effect.same,
          )
        }}
      </p>
      <p v-for="wrong in brought.effect.problems.slice(0, 10)" :key="wrong.row" class="failure">
        {{ WORDS.rowSays(wrong.row, wrong.message) }}
      </p>
      <div class="controls">
        <v-btn
          color="primary"
          variant="flat"
          :disabled="busy || brought.effect.problems.length > 0"
          @click="applyFile"
        >
          {{ WORDS.apply }}
        </v-btn>
        <v-btn color="primary" @click="brought = undefined">{{ WORDS.cancel }}</v-btn>
      </div>
    </div>
    <div v-if="chosen" class="halves">
      <div class="left">
        <MemberTable :key="chosen.code" v-model="selectedId" :dimension="chosen" />
        <NewMember v-if="planner" :dimension="chosen" @made="done = $event" />
      </div>
      <MemberPanel
        v-if="selected"
        :key="selected.id"
        :dimension="chosen"
        :member="selected"
        :planner="planner"
        @done="done = $event"
        @gone="selectedId = 0"
      />
      <CustomerAssignments
        v-else
        :key="chosen.code"
        :dimension="chosen"
        :planner="planner"
        @done="done = $event"
      />
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
.left {
  display: flex;
  flex-direction: column;
  gap: 8px;
  min-height: 0;
}
.brought {
  display: grid;
  gap: 5px;
  padding: 8px 12px;
  background: var(--surface);
  border: 1px solid var(--line);
}
@media (max-width: 1100px) {
  .halves {
    grid-template-columns: 1fr;
    overflow: auto;
  }
}
</style>
