<script setup lang="ts">
import { dimensionOperations, type DimensionDetail } from '@dravex/contract';
import { computed } from 'vue';
import { WORDS } from '../format/words.ts';
import SheetTable from '../kit/SheetTable.vue';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useForm } from '../writing/use-form.ts';
import { TEXTS } from './texts.ts';

/** Which customer belongs to which member, from a day on; files that do not say it follow this. */
const props = defineProps<{ dimension: DimensionDetail; planner: boolean }>();
const emit = defineEmits<{ done: [text: string] }>();
const plan = usePlan();
const at = computed(() => ({ dimension: props.dimension.code }));
const { data } = useAnswer([() => plan.tick, () => plan.savedAt], () =>
  plan.ask(dimensionOperations.listAssignments, at.value),
);
const SHOWN = 200;
const leaves = computed(() => {
  const parents = new Set(props.dimension.members.map(({ parent }) => parent));
  return props.dimension.members.filter(({ id }) => !parents.has(id));
});
const nameOf = (code: string): string =>
  props.dimension.members.find((member) => member.code === code)?.name ?? code;
/** Several at once: a list from a spreadsheet, one customer a line. */
const customersIn = (text: string): string[] =>
  text
    .split(/[\n,;\t]+/)
    .map((part) => part.trim())
    .filter((part) => part !== '');
const { form, wrong, submit, busy, failure } = useForm({
  of: () => props.dimension.code,
  fresh: () => ({ customers: '', member: null as string | null, from: '' }),
  schema: dimensionOperations.assignCustomers.body,
  body: ({ customers, member, from }) => ({
    assignments: customersIn(customers).map((customer) => ({
      customer,
      member: member ?? '',
      from,
    })),
  }),
  send: async (body) => {
    await plan.ask(dimensionOperations.assignCustomers, at.value, body);
    const [first] = body.assignments;
    const names = body.assignments.map(({ customer }) => customer).join(', ');
    emit('done', TEXTS.belongsToFrom(names, nameOf(first?.member ?? ''), first?.from ?? ''));
  },
});
</script>

<template>
  <aside class="panel" :aria-label="TEXTS.customers">
    <h2>{{ TEXTS.customers }}</h2>
    <p class="quiet">
      {{ TEXTS.chooseMemberToChangeIt(dimension.name.toLowerCase()) }}
    </p>
    <form v-if="planner" class="controls" novalidate @submit.prevent="submit">
      <v-textarea
        v-model="form.customers"
        :label="TEXTS.customerCodes"
        rows="1"
        width="150"
        :error-messages="wrong('assignments')"
      />
      <v-autocomplete
        v-model="form.member"
        :label="TEXTS.belongsTo"
        width="150"
        :items="leaves"
        item-value="code"
      />
      <v-text-field
        v-model="form.from"
        :label="WORDS.from"
        type="date"
        :error-messages="wrong('assignments.0.from')"
      />
      <v-btn
        color="primary"
        type="submit"
        :loading="busy"
        :disabled="form.customers.trim() === '' || form.member === null || form.from === ''"
      >
        {{ TEXTS.assign }}
      </v-btn>
    </form>
    <p v-if="failure" class="failure" role="alert">{{ failure }}</p>
    <p v-if="data && data.length === 0" class="quiet">{{ TEXTS.noCustomersAreAssignedYet }}</p>
    <div v-else-if="data" class="scroll" tabindex="0">
      <SheetTable :about="TEXTS.assignedCustomers">
        <thead>
          <tr>
            <th scope="col" class="words">{{ WORDS.customer }}</th>
            <th scope="col" class="words">{{ TEXTS.belongsTo }}</th>
            <th scope="col" class="words">{{ WORDS.from }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in data.slice(0, SHOWN)" :key="`${row.customer} ${row.from}`">
            <td class="words">{{ row.customer }}</td>
            <td class="words">{{ nameOf(row.member) }}</td>
            <td class="words">{{ row.from }}</td>
          </tr>
        </tbody>
      </SheetTable>
    </div>
    <p v-if="data && data.length > SHOWN" class="quiet">{{ TEXTS.firstAreShown(SHOWN) }}</p>
  </aside>
</template>

<style scoped>
.panel {
  display: flex;
  flex-direction: column;
  gap: 8px;
  min-height: 0;
  padding-left: 20px;
  border-left: 1px solid var(--line);
}
.controls {
  align-items: flex-end;
}
</style>
