<script setup lang="ts">
import { AUDIT_KINDS, peopleOperations, type AuditKind } from '@dravex/contract';
import { useDebounce } from '@vueuse/core';
import { computed, ref } from 'vue';
import { whenInWords } from '../format/moments.ts';
import EmptyState from '../kit/EmptyState.vue';
import SheetTable from '../kit/SheetTable.vue';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import SettingsNav from '../settings/SettingsNav.vue';
import { addressOf } from '../shell/client.ts';
import RoomPage from '../shell/RoomPage.vue';
import { useSaving } from '../writing/use-saving.ts';
import { AUDIT_WORDS } from './audit-words.ts';

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
  { value: null, name: 'Everything' },
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
  if (!first) return 'Nothing has been written down';
  const most = events.value.length === LIMIT ? `The last ${LIMIT}` : String(events.value.length);
  return `${most} events, ${failures} failed ${failures === 1 ? 'sign-in' : 'sign-ins'}`;
});
</script>

<template>
  <RoomPage
    :heading="headline"
    state="Sign-ins, roles, access tokens and exports of the people of this workspace; kept for 400 days"
    :failure="failure"
  >
    <template #above><SettingsNav /></template>
    <template #actions>
      <v-btn color="primary" @click="save('Export audit log', file)">Export CSV</v-btn>
    </template>
    <div class="controls" role="group" aria-label="Filter">
      <v-select v-model="kind" label="What" :items="kinds" width="220" />
      <v-text-field v-model="person" label="Person" width="200" />
      <v-text-field v-model="from" label="From" type="date" width="160" />
      <v-text-field v-model="to" label="To" type="date" width="160" />
    </div>
    <EmptyState v-if="data && events.length === 0" heading="Nothing was done that fits the filter">
      <v-btn v-if="filtered" color="primary" variant="flat" @click="all">Show everything</v-btn>
    </EmptyState>
    <div v-else class="scroll" tabindex="0" role="region" aria-label="Audit log">
      <SheetTable about="Audit log">
        <thead>
          <tr>
            <th scope="col" class="words">When</th>
            <th scope="col" class="words">What</th>
            <th scope="col" class="words">Person</th>
            <th scope="col" class="words">Address</th>
            <th scope="col" class="words">Detail</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="event in events" :key="event.id">
            <td class="words">{{ when(event.at) }}</td>
            <td class="words">{{ AUDIT_WORDS[event.kind] }}</td>
            <td class="words" :title="event.email">{{ event.person || 'nobody known' }}</td>
            <td class="words">{{ event.address }}</td>
            <td class="words">{{ event.detail }}</td>
          </tr>
        </tbody>
      </SheetTable>
    </div>
  </RoomPage>
</template>
