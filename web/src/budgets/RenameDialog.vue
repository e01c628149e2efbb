<script setup lang="ts">
import { budgetOperations, type Version } from '@dravex/contract';
import { watch } from 'vue';
import { WORDS } from '../format/words.ts';
import FormDialog from '../kit/FormDialog.vue';
import { usePlan } from '../plan/use-plan.ts';
import { useForm } from '../writing/use-form.ts';
import { TEXTS } from './texts.ts';

/** Gives a version another name, and says what it is for. */
const shown = defineModel<boolean>({ required: true });
const props = defineProps<{ version: Version }>();

const plan = usePlan();
const { field, begin, dialog } = useForm({
  of: () => String(props.version.id),
  fresh: () => ({ name: props.version.name, note: props.version.note }),
  schema: budgetOperations.changeVersion.body,
  body: (typed) => typed,
  send: async (body) => {
    await plan.ask(budgetOperations.changeVersion, { versionId: props.version.id }, body);
    await plan.inLine(plan.catchUp);
  },
  done: () => (shown.value = false),
});
watch(shown, (open) => open && begin(), { immediate: true });
</script>

<template>
  <FormDialog
    v-model="shown"
    :title="TEXTS.renameOf(version.name)"
    :action="WORDS.save"
    :width="420"
    v-bind="dialog"
  >
    <v-text-field v-bind="field('name')" :label="WORDS.name" autocomplete="off" />
    <v-text-field v-bind="field('note')" :label="TEXTS.purposeOptional" autocomplete="off" />
  </FormDialog>
</template>
