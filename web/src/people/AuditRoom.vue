<script setup lang="ts">
import { AUDIT_KINDS, peopleOperations, type AuditKind } from '@dravex/contract';
import { useDebounce } from '@vueuse/core';
import { computed, ref } from 'vue';
import { whenInWords } from '../format/moments.ts';
import { WORDS } from '../format/words.ts';
import EmptyState from '../kit/EmptyState.vue';
import SheetTable from '../kit/SheetTable.vue';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import SettingsNav from '../settings/SettingsNav.vue';
import { addressOf } from '../shell/client.ts';
import RoomPage from '../shell/RoomPage.vue';
import { useSaving } from '../writing/use-saving.ts';
import { AUDIT_WORDS } from './audit-words.ts';
import { TEXTS } from './texts.ts';

/** Who came, who was refused, who may enter, what was made and exported: for owners. */
const plan = usePlan();
const save = useSaving();
const kind = ref<AuditKind | null>(null);
const person = ref('');
const from = ref('');
const to = ref('');
const typed = useDebounce(
  computed(() => ({ person: person.value, from: from.value, to: to.value })),
  300,
);
const LIMIT = 200;
const query = computed(() => ({
  limit: LIMIT,
  ...(kind.value === null ? {} : { kind: kind.value }),
  ...Object.fromEntries(Object.entries(typed.value).filter(([, text]) => text !== '')),
}));
const { data, failure } = useAnswer([() => plan.tick, query], () =>
  plan.ask(peopleOperations.readAudit, query.value),
);
const events = computed(() => data.value ?? []);
const kinds = [
  { value: null, name: TEXTS.everything },
  ...AUDIT_KINDS.map((value) => ({ value, name: AUDIT_WORDS[value] })),
];
const filtered = computed(() => Object.keys(query.value).length > 1);
function all(): void {
  kind.value = null;
  [person.value, from.value, to.value] = ['', '', ''];
}
const when = (moment: string): string => whenInWords(moment, plan.locale);
const file = computed(() => {
  const { limit: _, ...rest } = query.value;
  const inputs = { workspaceId: plan.workspaceId, ...rest };
  return `/api${addressOf(peopleOperations.saveAudit, inputs)}`;
});
const headline = computed(() => {
  const failures = events.value.filter(({ kind: of }) => of === 'signInFailed').length;
  const [first] = events.value;
  if (!first) return TEXTS.nothingHasBeenWrittenDown;
  const most = events.value.length === LIMIT ? TEXTS.theLast(LIMIT) : String(events.value.length);
  return TEXTS.eventsFailed(most, failures);
});
</script>

<template>
  <RoomPage :heading="headline" :state="TEXTS.signInsRolesAccessTokens" :failure="failure">
    <template #above><SettingsNav /></template>
    <template #actions>
      <v-btn color="primary" @click="save(TEXTS.exportAuditLog, file)">{{ TEXTS.exportCsv }}</v-btn>
    </template>
    <div class="controls" role="group" :aria-label="TEXTS.filter">
      <v-select v-model="kind" :label="TEXTS.what" :items="kinds" width="220" />
      <v-text-field v-model="person" :label="TEXTS.person" width="200" />
      <v-text-field v-model="from" :label="WORDS.from" type="date" width="160" />
      <v-text-field v-model="to" :label="TEXTS.to" type="date" width="160" />
    </div>
    <EmptyState v-if="data && events.length === 0" :heading="TEXTS.nothingWasDoneThatFits">
      <v-btn v-if="filtered" color="primary" variant="flat" @click="all">{{
        TEXTS.showEverything
      }}</v-btn>
    </EmptyState>
    <div v-else class="scroll" tabindex="0" role="region" :aria-label="WORDS.auditLog">
      <SheetTable :about="WORDS.auditLog">
        <thead>
          <tr>
            <th scope="col" class="words">{{ TEXTS.when }}</th>
            <th scope="col" class="words">{{ TEXTS.what }}</th>
            <th scope="col" class="words">{{ TEXTS.person }}</th>
            <th scope="col" class="words">{{ TEXTS.address }}</th>
            <th scope="col" class="words">{{ TEXTS.detail }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="event in events" :key="event.id">
            <td class="words">{{ when(event.at) }}</td>
            <td class="words">{{ AUDIT_WORDS[event.kind] }}</td>
            <td class="words" :title="event.email">{{ event.person || TEXTS.nobodyKnown }}</td>
            <td class="words">{{ event.address }}</td>
            <td class="words">{{ event.detail }}</td>
          </tr>
        </tbody>
      </SheetTable>
    </div>
  </RoomPage>
</template>
