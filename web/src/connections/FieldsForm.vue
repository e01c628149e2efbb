<script setup lang="ts">
import type { Connection, FeedField } from '@dravex/contract';
import { WORDS } from '../format/words.ts';
import { usePlan } from '../plan/use-plan.ts';
import { TEXTS } from './texts.ts';

/** What in the order book names the member of each dimension. */
const props = defineProps<{ connection: Connection; busy: boolean; planner: boolean }>();
const emit = defineEmits<{ change: [fields: Record<string, FeedField>] }>();
const plan = usePlan();

const FIELDS: readonly { readonly value: FeedField & string; readonly name: string }[] = [
  { value: 'item', name: TEXTS.itemOfLine },
  { value: 'channel', name: TEXTS.channelOfDocument },
  { value: 'group', name: TEXTS.groupOfDocument },
  { value: 'region', name: TEXTS.regionOfDocument },
  { value: 'customer', name: WORDS.customer },
  { value: 'assigned', name: TEXTS.groupThatCustomerBelongsTo },
];
const ALWAYS = 'always ';
function chosen(code: string): string | null {
  const field = props.connection.fields[code];
  if (field === null || field === undefined) return null;
  return typeof field === 'string' ? field : `${ALWAYS}${field.member}`;
}
/** The fields of the feed, and the members that can be the one for every document. */
function offered(code: string) {
  const dimension = plan.workspace?.plan.dimensions.find((one) => one.code === code);
  const leaves = dimension ? plan.tree.leavesOf(dimension) : [];
  return [
    ...FIELDS,
    ...leaves.map((member) => ({
      value: `${ALWAYS}${member.code}`,
      name: TEXTS.always(member.name),
    })),
  ];
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
    <h2 id="fields-title">{{ TEXTS.whereEachDimensionComesFrom }}</h2>
    <v-autocomplete
      v-for="{ code, name } in plan.workspace?.plan.dimensions ?? []"
      :key="code"
      :label="name"
      :model-value="chosen(code)"
      :items="offered(code)"
      :disabled="busy || !planner"
      :error-messages="chosen(code) === null ? TEXTS.notSetEveryDocumentIs : ''"
      @update:model-value="(text: string) => choose(code, text)"
    />
    <p class="quiet">
      {{ TEXTS.itemsAndCustomersAreIn(connection.items, connection.customers) }}
    </p>
  </section>
</template>

<style scoped>
.fields {
  display: grid;
  gap: 4px;
  max-width: 340px;
}
</style>
