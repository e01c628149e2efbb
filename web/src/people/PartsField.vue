<script setup lang="ts">
/** The teams and people of the targets that somebody holds, of any year and objective. */
import { TEXTS } from './texts.ts';

const held = defineModel<readonly number[]>({ required: true });
defineProps<{
  parts: readonly { readonly value: number; readonly name: string }[];
  errorMessages?: string | readonly string[] | undefined;
}>();
</script>

<template>
  <v-autocomplete
    :label="TEXTS.partOfTargets"
    multiple
    chips
    closable-chips
    clearable
    item-title="name"
    :items="parts"
    :error-messages="errorMessages"
    :model-value="[...held]"
    :no-data-text="TEXTS.noTeamOrPersonOf"
    @update:model-value="(chosen: number[]) => (held = chosen)"
  />
</template>
