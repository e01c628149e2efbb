<script setup lang="ts">
import { driversOperations } from '@dravex/contract';
import type { Driver, Scope } from '@dravex/core';
import { computed, watch } from 'vue';
import { WORDS } from '../format/words.ts';
import FormDialog from '../kit/FormDialog.vue';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useForm } from '../writing/use-form.ts';
import { TEXTS } from './texts.ts';

/** Copies the inputs of a scope, and of what lies below it, to another one. */
const shown = defineModel<boolean>({ required: true });
const props = defineProps<{ driver: Driver; scope: Scope }>();
const plan = usePlan();

const { form, field, begin, dialog } = useForm({
  of: () => `${props.driver.code} ${props.scope.join()}`,
  fresh: () => ({ into: [...props.scope], every: false, why: '' }),
  schema: driversOperations.copyScope.body,
  body: ({ into, every, why }) => ({
    from: [...props.scope],
    into: [...into],
    why,
    ...(every ? {} : { drivers: [props.driver.code] }),
  }),
  send: async (body) => {
    const { copied } = await plan.ask(driversOperations.copyScope, {}, body);
    plan.said = {
      text: TEXTS.copiedInputs(copied),
      undo: 'drivers',
    };
  },
  done: () => (shown.value = false),
});
watch(shown, (open) => open && begin());
/** The dimensions that the scope pins, each with the members it could be copied to. */
const pins = computed(() =>
  props.scope.flatMap((member, place) => {
    const dimension = plan.tree.dimensions[plan.tree.dimensionOf(member)];
    return dimension ? [{ place, dimension, members: plan.tree.inOrder(dimension) }] : [];
  }),
);
const elsewhere = computed(() =>
  form.value.into.some((member, place) => member !== props.scope[place]),
);
const { data: preview } = useAnswer(
  [shown, () => form.value.into.join(), () => form.value.every, () => plan.tick],
  async () =>
    shown.value && elsewhere.value
      ? plan
          .compute()
          .copied(
            [...props.scope],
            [...form.value.into],
            form.value.every ? undefined : props.driver.code,
          )
      : undefined,
);
</script>

<template>
  <FormDialog
    v-model="shown"
    :title="TEXTS.copyInputsOf(plan.tree.label(scope))"
    :action="WORDS.copy"
    :disabled="!elsewhere || preview?.put === 0"
    :width="460"
    v-bind="dialog"
  >
    <v-autocomplete
      v-for="pin in pins"
      :key="pin.place"
      v-model="form.into[pin.place]"
      :label="TEXTS.to(pin.dimension.name.toLowerCase())"
      :items="pin.members"
      item-value="id"
    />
    <v-checkbox v-model="form.every" :label="TEXTS.everyDriverNotOnly(driver.name)" />
    <v-text-field v-bind="field('why')" :label="WORDS.reasonOptional" maxlength="500" />
    <p class="quiet" role="status">
      <template v-if="!elsewhere">{{ TEXTS.chooseWhereToCopyTo }}</template>
      <template v-else-if="preview">
        {{ TEXTS.inputsAreCopiedIncludingThose(preview.put)
        }}<template v-if="preview.drop > 0">{{ TEXTS.existingAreReplaced(preview.drop) }}</template
        >.
      </template>
    </p>
  </FormDialog>
</template>
