<script setup lang="ts">
import type { Mapping, ReadingChoice, TableLook } from '@dravex/contract';
import { ref, watch } from 'vue';
import Choice from '../kit/Choice.vue';
import { withColumn } from './mapping.ts';
import ReadingSheet from './ReadingSheet.vue';
import { TEXTS } from './texts.ts';

/** How a file is read, where that can be saved under a name and taken from one that was saved. */
const keepAs = defineModel<string>('keepAs', { required: true });
const props = defineProps<{
  look: TableLook;
  said: ReadingChoice;
  mappings: readonly Mapping[];
  valuesFor: (key: string) => readonly { readonly code: string; readonly name: string }[];
  valueOf: (key: string) => string | undefined;
}>();
const emit = defineEmits<{
  /** It is to be read like this. */
  read: [choice: ReadingChoice];
  take: [mapping: Mapping];
  fix: [key: string, value: string | null];
}>();
const keeping = ref(false);
const name = ref('');
watch([keeping, name], () => (keepAs.value = keeping.value ? name.value.trim() : ''));
const change = (next: ReadingChoice): void => emit('read', { ...props.said, ...next });
function take(id: number): void {
  const mapping = props.mappings.find((one) => one.id === id);
  if (mapping) emit('take', mapping);
}
</script>

<template>
  <ReadingSheet
    :look="look"
    :said="said"
    :values-for="valuesFor"
    :value-of="valueOf"
    @change="change"
    @sheet="(sheet) => emit('read', { sheet })"
    @assign="(column, field) => change(withColumn(look.reading, column, field))"
    @fix="(key, value) => emit('fix', key, value)"
  >
    <template #form><slot name="form" /></template>
    <template #more-form>
      <Choice
        v-if="mappings.length > 0"
        :about="TEXTS.savedMappings"
        :label="TEXTS.useSavedMapping"
        :options="mappings.map(({ id, name: of }) => ({ value: id, name: of }))"
        @choose="take"
      />
    </template>
    <template #keep>
      <v-checkbox v-model="keeping" :label="TEXTS.saveThisMappingAs" />
      <v-text-field
        v-model="name"
        width="160"
        :placeholder="TEXTS.erpExport"
        :aria-label="TEXTS.nameOfMapping"
        :disabled="!keeping"
      />
    </template>
  </ReadingSheet>
</template>
