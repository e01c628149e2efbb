<script setup lang="ts">
import { dimensionOperations } from '@dravex/contract';
import { codeFrom } from '../actuals/code-from.ts';
import FormDialog from '../kit/FormDialog.vue';
import { usePlan } from '../plan/use-plan.ts';
import { useForm } from '../writing/use-form.ts';

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
    emit(
      'made',
      body.code,
      `${body.name} is added; all sales belong to ${body.first.name} until they are assigned.`,
    );
  },
  done: () => (shown.value = false),
});
</script>

<template>
  <FormDialog v-model="shown" title="Add dimension" action="Add dimension" v-bind="dialog">
    <v-text-field v-bind="field('name')" label="Name" placeholder="Sales region" maxlength="60" />
    <v-text-field
      v-model="form.first"
      label="First member"
      hint="All sales belong to it at first"
      persistent-hint
      maxlength="60"
      :error-messages="wrong('first.name')"
    />
  </FormDialog>
</template>
