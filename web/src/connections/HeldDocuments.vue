<script setup lang="ts">
import type { HeldDocument, Settlement } from '@dravex/contract';
import { computed, reactive } from 'vue';
import { usePlan } from '../plan/use-plan.ts';

/** Documents that wait, by the code that each waits for; a code is settled where it stands. */
const props = defineProps<{
  documents: readonly HeldDocument[];
  planner: boolean;
  busy: boolean;
}>();
const emit = defineEmits<{ settle: [settlement: Settlement] }>();
const plan = usePlan();

interface Wish {
  name: string;
  parent: string;
  member: string;
}
/** What the planner means to do with each code; it stays while documents come and go. */
const wishes = reactive(new Map<string, Wish>());
function wishFor(key: string, { name, value }: HeldDocument): Wish {
  if (!wishes.has(key)) wishes.set(key, { name: name || value, parent: '', member: '' });
  return wishes.get(key) ?? { name: '', parent: '', member: '' };
}
const groups = computed(() => {
  const found = new Map<string, HeldDocument[]>();
  for (const document of props.documents) {
    const key =
      document.dimension === null ? document.number : `${document.dimension} ${document.value}`;
    found.set(key, [...(found.get(key) ?? []), document]);
  }
  return [...found].flatMap(([key, documents]) => {
    const [first] = documents;
    return first ? [{ key, first, documents, wish: wishFor(key, first) }] : [];
  });
});
const dimensionOf = (code: string | null) =>
  plan.workspace?.plan.dimensions.find((dimension) => dimension.code === code);
function membersOf(code: string | null) {
  const members = dimensionOf(code)?.members ?? [];
  const parents = new Set(members.map(({ parent }) => parent));
  return {
    leaves: members.filter(({ id }) => !parents.has(id)),
    parents: members.filter(({ id }) => parents.has(id)),
  };
}
type Group = (typeof groups.value)[number];
function make({ first, wish }: Group): void {
  if (first.dimension === null) return;
  const parent = wish.parent === '' ? null : Number(wish.parent);
  const { dimension, value } = first;
  emit('settle', { dimension, value, as: { kind: 'new', name: wish.name, parent } });
}
function standFor({ first, wish: { member } }: Group): void {
  if (member === '' || first.dimension === null) return;
  const { dimension, value } = first;
  emit('settle', { dimension, value, as: { kind: 'standsFor', member } });
}
const SHOWN = 6;
</script>

<template>
  <aside class="held" aria-label="Waiting documents">
    <h2>Documents that wait</h2>
    <p class="quiet">They are tried again with every reading. A document waits whole.</p>
    <section v-for="group in groups" :key="group.key" class="group">
      <p class="waits">{{ group.first.reason }}</p>
      <p class="quiet">
        <template v-if="group.first.name"
          >The order book calls it {{ group.first.name }}.
        </template>
        {{
          group.documents
            .slice(0, SHOWN)
            .map(({ number, date }) => `${number} of ${date}`)
            .join(', ')
        }}{{ group.documents.length > SHOWN ? ` and ${group.documents.length - SHOWN} more` : '' }}
      </p>
      <template v-if="planner && group.first.dimension && group.first.value">
        <form class="controls wrap" @submit.prevent="make(group)">
          <input
            v-model="group.wish.name"
            required
            maxlength="120"
            :aria-label="`Name of ${group.first.value}`"
          />
          <select v-model="group.wish.parent" :aria-label="`Where ${group.first.value} lies`">
            <option value="">at the top</option>
            <option
              v-for="member in membersOf(group.first.dimension).parents"
              :key="member.id"
              :value="String(member.id)"
            >
              below {{ member.name }}
            </option>
          </select>
          <button type="submit" class="plain" :disabled="busy">Make it a member</button>
        </form>
        <form class="controls wrap" @submit.prevent="standFor(group)">
          <select
            v-model="group.wish.member"
            required
            :aria-label="`Member that ${group.first.value} stands for`"
          >
            <option value="" disabled>or it stands for …</option>
            <option
              v-for="member in membersOf(group.first.dimension).leaves"
              :key="member.id"
              :value="member.code"
            >
              {{ member.name }}
            </option>
          </select>
          <button type="submit" class="plain" :disabled="busy">Read it so from now on</button>
        </form>
      </template>
    </section>
  </aside>
</template>

<style scoped>
.held {
  display: grid;
  gap: 8px;
}
.group {
  display: grid;
  gap: 5px;
  padding: 6px 0 10px;
  border-bottom: 1px solid var(--line-soft);
}
.wrap {
  flex-wrap: wrap;
}
.group select {
  max-width: 180px;
}
</style>
