<script setup lang="ts">
import type { TargetNode } from '@dravex/contract';
import { computed, ref, watch } from 'vue';
import FormDialog from '../kit/FormDialog.vue';

/** The last month of a person: nothing is forecast of them after it; empty for who stays. */
const person = defineModel<TargetNode | undefined>({ required: true });
const props = defineProps<{ set: (node: TargetNode, until: string | null) => Promise<unknown> }>();
const until = ref('');
watch(person, (now) => (until.value = now?.until ?? ''));
const shown = computed({
  get: () => person.value !== undefined,
  set: (open) => {
    if (!open) person.value = undefined;
  },
});
async function save(): Promise<void> {
  const node = person.value;
  if (!node) return;
  await props.set(node, until.value === '' ? null : until.value);
  person.value = undefined;
}
</script>

<template>
  <FormDialog
    v-model="shown"
    :title="`Last month of ${person?.name ?? ''}`"
    action="Save"
    :width="380"
    @submit="save"
  >
    <v-text-field
      v-model="until"
      type="month"
      label="Last month (empty for who stays)"
      hint="Nothing is forecast of them after it; their sales until then stay theirs"
      persistent-hint
    />
  </FormDialog>
</template>
