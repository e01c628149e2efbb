<script setup lang="ts">
import { dimensionOperations, type DimensionDetail } from '@dravex/contract';
import { computed } from 'vue';
import { codeFrom } from '../actuals/code-from.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useForm } from '../writing/use-form.ts';

/** A new member below the table. */
const props = defineProps<{ dimension: DimensionDetail }>();
const emit = defineEmits<{ made: [text: string] }>();
const plan = usePlan();
const parents = computed(() => [
  { id: null, name: 'Top level' },
  ...props.dimension.members.map(({ id, name }) => ({ id, name: `below ${name}` })),
]);
const { field, submit, busy, failure } = useForm({
  of: () => props.dimension.code,
  fresh: () => ({ name: '', code: '', parent: null as number | null }),
  schema: dimensionOperations.addMember.body,
  body: ({ name, code, parent }) => ({ name, code: code || codeFrom(name), parent }),
  send: async (body) => {
    await plan.ask(dimensionOperations.addMember, { dimension: props.dimension.code }, body);
    emit('made', `${body.name} is added.`);
  },
});
</script>

<template>
  <form class="controls" aria-label="Add member" novalidate @submit.prevent="submit">
    <v-text-field v-bind="field('name')" label="New member" width="170" maxlength="120" />
    <v-text-field
      v-bind="field('code')"
      label="Code"
      placeholder="from the name"
      width="130"
      maxlength="60"
    />
    <v-autocomplete
      v-bind="field('parent')"
      label="Parent"
      width="190"
      :items="parents"
      item-value="id"
    />
    <v-btn color="primary" type="submit" :loading="busy">Add member</v-btn>
    <p v-if="failure" class="failure" role="alert">{{ failure }}</p>
  </form>
</template>

<style scoped>
.controls {
  align-items: flex-end;
}
</style>
