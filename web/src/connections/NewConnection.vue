<script setup lang="ts">
import { connectionOperations } from '@dravex/contract';
import { WORDS } from '../format/words.ts';
import FormDialog from '../kit/FormDialog.vue';
import { usePlan } from '../plan/use-plan.ts';
import { useForm } from '../writing/use-form.ts';
import { TIMES } from './connection-words.ts';
import { TEXTS } from './texts.ts';

/** Connects an order book: where it is, its key, and how often it is read. */
const shown = defineModel<boolean>({ required: true });
const emit = defineEmits<{ made: [id: number] }>();
const plan = usePlan();
const { field, dialog } = useForm({
  fresh: () => ({ name: TEXTS.orderBook, url: '', key: '', everyMinutes: 60 as number | null }),
  schema: connectionOperations.addConnection.body,
  send: async (body) => {
    const { id } = await plan.ask(connectionOperations.addConnection, {}, body);
    plan.said = { text: TEXTS.isConnected(body.name ?? '') };
    emit('made', id);
  },
  done: () => (shown.value = false),
});
</script>

<template>
  <FormDialog
    v-model="shown"
    :title="TEXTS.connectAnOrderBook"
    :action="TEXTS.connect"
    v-bind="dialog"
  >
    <v-text-field v-bind="field('name')" :label="WORDS.name" />
    <v-text-field
      v-bind="field('url')"
      :label="TEXTS.address"
      type="url"
      :placeholder="TEXTS.httpsErpExample"
    />
    <v-text-field v-bind="field('key')" :label="TEXTS.apiKey" type="password" autocomplete="off" />
    <v-select v-bind="field('everyMinutes')" :label="WORDS.import" :items="TIMES" />
  </FormDialog>
</template>
