<script setup lang="ts">
import { dimensionOperations, type DimensionDetail } from '@dravex/contract';
import { computed } from 'vue';
import { codeFrom } from '../actuals/code-from.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useForm } from '../writing/use-form.ts';
import { TEXTS } from './texts.ts';

/** A new member below the table. */
const props = defineProps<{ dimension: DimensionDetail }>();
const emit = defineEmits<{ made: [text: string] }>();
const plan = usePlan();
const parents = computed(() => [
  { id: null, name: TEXTS.topLevel },
  ...props.dimension.members.map(({ id, name }) => ({ id, name: TEXTS.below(name) })),
]);
const { field, submit, busy, failure } = useForm({
  of: () => props.dimension.code,
  fresh: () => ({ name: '', code: '', parent: null as number | null }),
  schema: dimensionOperations.addMember.body,
  body: ({ name, code, parent }) => ({ name, code: code || codeFrom(name), parent }),
  send: async (body) => {
    await plan.ask(dimensionOperations.addMember, { dimension: props.dimension.code }, body);
    emit('made', TEXTS.isAdded(body.name));
  },
});
</script>

<template>
  <form class="controls" :aria-label="TEXTS.addMember" novalidate @submit.prevent="submit">
    <v-text-field v-bind="field('name')" :label="TEXTS.newMember" width="170" maxlength="120" />
    <v-text-field
      v-bind="field('code')"
      :label="TEXTS.code"
      :placeholder="TEXTS.fromTheName"
      width="130"
      maxlength="60"
    />
    <v-autocomplete
      v-bind="field('parent')"
      :label="TEXTS.parent"
      width="190"
      :items="parents"
      item-value="id"
    />
    <v-btn color="primary" type="submit" :loading="busy">{{ TEXTS.addMember }}</v-btn>
    <p v-if="failure" class="failure" role="alert">{{ failure }}</p>
  </form>
</template>

<style scoped>
.controls {
  align-items: flex-end;
}
</style>
