<script setup lang="ts">
import type { Driver, Scope } from '@dravex/core';
import { computed, ref } from 'vue';
import { usePlan } from '../plan/use-plan.ts';
import { TEXTS } from './texts.ts';

/** A season that is taken from another product, channel or region. */
const props = defineProps<{ driver: Driver; scope: Scope }>();
const emit = defineEmits<{ take: [season: readonly number[]] }>();
const plan = usePlan();

/** Where there are most members, most have no season of their own. */
const position = computed(() => {
  const pinned = props.scope.map((id) => plan.tree.dimensionOf(id));
  const sizes = plan.tree.dimensions.map(({ members }, at) => ({ at, size: members.length }));
  const all = pinned.length > 0 ? sizes.filter(({ at }) => pinned.includes(at)) : sizes;
  return all.sort((one, other) => other.size - one.size).at(0)?.at ?? 0;
});
const members = computed(() => {
  const dimension = plan.tree.dimensions[position.value];
  return (dimension ? plan.tree.inOrder(dimension) : []).filter(
    ({ id }) => !props.scope.includes(id),
  );
});
const chosen = ref<number | null>(null);
const none = ref('');
async function take(id: number | null): Promise<void> {
  none.value = '';
  if (id === null) return;
  const others = props.scope.filter((member) => plan.tree.dimensionOf(member) !== position.value);
  const { season } = await plan.compute().said(props.driver.code, [...others, id]);
  if (season) emit('take', season);
  else none.value = TEXTS.hasNoSeasonInIts(plan.tree.member(id).name);
}
</script>

<template>
  <v-autocomplete
    v-model="chosen"
    :label="TEXTS.seasonLikeOptional"
    :items="members"
    item-value="id"
    clearable
    :error-messages="none"
    @update:model-value="take"
  />
</template>
