<script setup lang="ts">
import { connectionOperations } from '@dravex/contract';
import FormDialog from '../kit/FormDialog.vue';
import { usePlan } from '../plan/use-plan.ts';
import { useForm } from '../writing/use-form.ts';
import { TIMES } from './connection-words.ts';

/** Connects an order book: where it is, its key, and how often it is read. */
const shown = defineModel<boolean>({ required: true });
const emit = defineEmits<{ made: [id: number] }>();
const plan = usePlan();
const { field, dialog } = useForm({
  fresh: () => ({ name: 'Order book', url: '', key: '', everyMinutes: 60 as number | null }),
  schema: connectionOperations.addConnection.body,
  send: async (body) => {
    const { id } = await plan.ask(connectionOperations.addConnection, {}, body);
    plan.said = { text: `${body.name ?? ''} is connected` };
    emit('made', id);
  },
  done: () => (shown.value = false),
});
</script>

<template>
  <FormDialog v-model="shown" title="Connect an order book" action="Connect" v-bind="dialog">
    <v-text-field v-bind="field('name')" label="Name" />
    <v-text-field
      v-bind="field('url')"
      label="Address"
      type="url"
      placeholder="https://erp.example"
    />
    <v-text-field v-bind="field('key')" label="API key" type="password" autocomplete="off" />
    <v-select v-bind="field('everyMinutes')" label="Import" :items="TIMES" />
  </FormDialog>
</template>
