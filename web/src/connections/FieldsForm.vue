<script setup lang="ts">
import type { Connection, FeedField } from '@dravex/contract';
import { usePlan } from '../plan/use-plan.ts';

/** What in the order book names the member of each dimension. */
const props = defineProps<{ connection: Connection; busy: boolean; planner: boolean }>();
const emit = defineEmits<{ change: [fields: Record<string, FeedField>] }>();
const plan = usePlan();

const FIELDS: readonly { readonly value: FeedField & string; readonly name: string }[] = [
  { value: 'item', name: 'the item of the line' },
  { value: 'channel', name: 'the channel of the document' },
  { value: 'group', name: 'the group of the document' },
  { value: 'region', name: 'the region of the document' },
  { value: 'customer', name: 'the customer' },
  { value: 'assigned', name: 'the group that the customer belongs to on that day' },
];
const ALWAYS = 'always ';
function chosen(code: string): string {
  const field = props.connection.fields[code];
  if (field === null || field === undefined) return '';
  return typeof field === 'string' ? field : `${ALWAYS}${field.member}`;
}
function leavesOf(code: string) {
  const members = plan.workspace?.plan.dimensions.find((one) => one.code === code)?.members ?? [];
  const parents = new Set(members.map(({ parent }) => parent));
  return members.filter(({ id }) => !parents.has(id));
}
function choose(code: string, text: string): void {
  const field = FIELDS.find(({ value }) => value === text)?.value;
  if (field) emit('change', { [code]: field });
  else if (text.startsWith(ALWAYS))
    emit('change', { [code]: { member: text.slice(ALWAYS.length) } });
}
</script>

<template>
  <section aria-labelledby="fields-title" class="fields">
    <h2 id="fields-title">What names the member</h2>
    <template v-for="dimension in plan.workspace?.plan.dimensions ?? []" :key="dimension.code">
      <label :for="`field-${dimension.code}`">{{ dimension.name }}</label>
      <select
        :id="`field-${dimension.code}`"
        :value="chosen(dimension.code)"
        :disabled="busy || !planner"
        :class="{ waits: chosen(dimension.code) === '' }"
        @change="choose(dimension.code, ($event.target as HTMLSelectElement).value)"
      >
        <option value="" disabled>nothing yet: every document waits</option>
        <option v-for="field in FIELDS" :key="field.value" :value="field.value">
          {{ field.name }}
        </option>
        <optgroup label="always the same">
          <option
            v-for="member in leavesOf(dimension.code)"
            :key="member.id"
            :value="`${ALWAYS}${member.code}`"
          >
            {{ member.name }}
          </option>
        </optgroup>
      </select>
    </template>
    <p class="quiet">
      {{ connection.items }} items and {{ connection.customers }} customers are known from there.
      What is read from now on follows this.
    </p>
  </section>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: 120px minmax(0, 300px);
  gap: 4px 10px;
  align-items: center;
}
h2,
p {
  grid-column: 1 / -1;
}
select {
  max-width: 300px;
}
</style>
