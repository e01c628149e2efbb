<script setup lang="ts">
import { dimensionOperations } from '@dravex/contract';
import { codeFrom } from '../actuals/code-from.ts';
import { WORDS } from '../format/words.ts';
import FormDialog from '../kit/FormDialog.vue';
import { usePlan } from '../plan/use-plan.ts';
import { useForm } from '../writing/use-form.ts';
import { TEXTS } from './texts.ts';

/** A dimension of one's own, with the member to which everything belongs at first. */
const shown = defineModel<boolean>({ required: true });
const emit = defineEmits<{ made: [code: string, text: string] }>();
const plan = usePlan();
const { form, field, wrong, dialog } = useForm({
  fresh: () => ({ name: '', first: '' }),
  schema: dimensionOperations.addDimension.body,
  body: ({ name, first }) => ({
    code: codeFrom(name).toLowerCase(),
    name,
    first: { code: codeFrom(first), name: first },
  }),
  send: async (body) => {
    await plan.ask(dimensionOperations.addDimension, {}, body);
    emit('made', body.code, TEXTS.isAddedAllSalesBelong(body.name, body.first.name));
  },
  done: () => (shown.value = false),
});
</script>

<template>
  <FormDialog
    v-model="shown"
    :title="TEXTS.addDimension"
    :action="TEXTS.addDimension"
    v-bind="dialog"
  >
    <v-text-field
      v-bind="field('name')"
      :label="WORDS.name"
      :placeholder="TEXTS.salesRegion"
      maxlength="60"
    />
    <v-text-field
      v-model="form.first"
      :label="TEXTS.firstMember"
      :hint="TEXTS.allSalesBelongToIt"
      persistent-hint
      maxlength="60"
      :error-messages="wrong('first.name')"
    />
  </FormDialog>
</template>
