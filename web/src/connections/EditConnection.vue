<script setup lang="ts">
import { connectionOperations, type Connection, type ConnectionChange } from '@dravex/contract';
import { WORDS } from '../format/words.ts';
import FormDialog from '../kit/FormDialog.vue';
import { usePlan } from '../plan/use-plan.ts';
import { useForm } from '../writing/use-form.ts';
import { TEXTS } from './texts.ts';

/** Changes what a connection is called, where it is, and its key, which is never shown. */
const shown = defineModel<boolean>({ required: true });
const props = defineProps<{ connection: Connection }>();
const emit = defineEmits<{ changed: [] }>();
const plan = usePlan();
const { field, dialog } = useForm({
  of: () => String(props.connection.id),
  fresh: () => ({ name: props.connection.name, url: props.connection.url, key: '' }),
  schema: connectionOperations.changeConnection.body,
  body: ({ key, ...rest }): ConnectionChange => ({ ...rest, ...(key === '' ? {} : { key }) }),
  send: async (body) => {
    const at = { connectionId: props.connection.id };
    await plan.ask(connectionOperations.changeConnection, at, body);
    plan.said = { text: TEXTS.isChanged(body.name ?? props.connection.name) };
    emit('changed');
  },
  done: () => (shown.value = false),
});
</script>

<template>
  <FormDialog
    v-model="shown"
    :title="TEXTS.changeTheConnection"
    :action="WORDS.change"
    v-bind="dialog"
  >
    <v-text-field v-bind="field('name')" :label="WORDS.name" />
    <v-text-field v-bind="field('url')" :label="TEXTS.address" type="url" />
    <v-text-field
      v-bind="field('key')"
      :label="TEXTS.apiKey"
      type="password"
      autocomplete="off"
      :hint="connection.keyMissing ? TEXTS.enterKeyOfThisAddress : TEXTS.leaveItEmptyToKeep"
      persistent-hint
    />
  </FormDialog>
</template>
