<script setup lang="ts">
import type { HeldDocument, Settlement } from '@dravex/contract';
import { computed, reactive } from 'vue';
import { usePlan } from '../plan/use-plan.ts';
import { TEXTS } from './texts.ts';

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
  parent: number | null;
  member: string | null;
}
/** What the planner means to do with each code; it stays while documents come and go. */
const wishes = reactive(new Map<string, Wish>());
function wishFor(key: string, { name, value }: HeldDocument): Wish {
  if (!wishes.has(key)) wishes.set(key, { name: name || value, parent: null, member: null });
  return wishes.get(key) ?? { name: '', parent: null, member: null };
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
const dimensionOf = (code: string) =>
  plan.workspace?.plan.dimensions.find((dimension) => dimension.code === code);
const leavesIn = (code: string) => {
  const dimension = dimensionOf(code);
  return dimension ? plan.tree.leavesOf(dimension) : [];
};
function parentsIn(code: string) {
  const members = dimensionOf(code)?.members ?? [];
  const leaves = new Set(leavesIn(code).map(({ id }) => id));
  return [
    { value: null, name: TEXTS.topLevel },
    ...members
      .filter(({ id }) => !leaves.has(id))
      .map(({ id, name }) => ({ value: id, name: TEXTS.below(name) })),
  ];
}
type Group = (typeof groups.value)[number];
function make({ first, wish }: Group): void {
  if (first.dimension === null) return;
  const { dimension, value } = first;
  emit('settle', { dimension, value, as: { kind: 'new', name: wish.name, parent: wish.parent } });
}
function standFor({ first, wish: { member } }: Group): void {
  if (member === null || first.dimension === null) return;
  const { dimension, value } = first;
  emit('settle', { dimension, value, as: { kind: 'standsFor', member } });
}
const SHOWN = 6;
</script>

<template>
  <aside class="held" aria-labelledby="held-title">
    <h2 id="held-title">{{ TEXTS.documentsOnHold }}</h2>
    <p class="quiet">{{ TEXTS.theyAreTriedAgainWith }}</p>
    <section v-for="group in groups" :key="group.key" class="group">
      <p class="waits">{{ group.first.reason }}</p>
      <p class="quiet">
        <template v-if="group.first.name">{{ TEXTS.orderBookCallsIt(group.first.name) }}</template>
        {{ ' ' }}
        {{
          group.documents
            .slice(0, SHOWN)
            .map(({ number, date }) => TEXTS.of(number, date))
            .join(', ')
        }}{{ group.documents.length > SHOWN ? TEXTS.andMore(group.documents.length - SHOWN) : '' }}
      </p>
      <template v-if="planner && group.first.dimension && group.first.value">
        <form class="controls" @submit.prevent="make(group)">
          <v-text-field
            v-model="group.wish.name"
            width="150"
            required
            maxlength="120"
            :aria-label="TEXTS.nameOf(group.first.value)"
          />
          <v-select
            v-model="group.wish.parent"
            width="150"
            :items="parentsIn(group.first.dimension)"
            :aria-label="TEXTS.parentOf(group.first.value)"
          />
          <v-btn color="primary" type="submit" :disabled="busy">{{ TEXTS.addMember }}</v-btn>
        </form>
        <form class="controls" @submit.prevent="standFor(group)">
          <v-autocomplete
            v-model="group.wish.member"
            width="220"
            :placeholder="TEXTS.orChooseExistingMember"
            :items="leavesIn(group.first.dimension)"
            item-value="code"
            :aria-label="TEXTS.existingMemberFor(group.first.value)"
          />
          <v-btn color="primary" type="submit" :disabled="busy || !group.wish.member">{{
            TEXTS.assign
          }}</v-btn>
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
</style>
