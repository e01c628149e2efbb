<script setup lang="ts">
import { connectionOperations, type Connection, type ConnectionChange } from '@dravex/contract';
import FormDialog from '../kit/FormDialog.vue';
import { usePlan } from '../plan/use-plan.ts';
import { useForm } from '../writing/use-form.ts';

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
    plan.said = { text: `${body.name ?? props.connection.name} is changed` };
    emit('changed');
  },
  done: () => (shown.value = false),
});
</script>

<template>
  <FormDialog v-model="shown" title="Change the connection" action="Change" v-bind="dialog">
    <v-text-field v-bind="field('name')" label="Name" />
    <v-text-field v-bind="field('url')" label="Address" type="url" />
    <v-text-field
      v-bind="field('key')"
      label="API key"
      type="password"
      autocomplete="off"
      :hint="
        connection.keyMissing
          ? 'Enter the key of this address'
          : 'Leave it empty to keep the key; another address needs its own'
      "
      persistent-hint
    />
  </FormDialog>
</template>
