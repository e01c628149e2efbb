<script setup lang="ts">
import type { Driver, Scope } from '@dravex/core';
import { computed, ref, watch } from 'vue';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { inWords, request } from '../shell/api.ts';

/** Copies what is assumed for a scope, and for what lies below it, to another one. */
const shown = defineModel<boolean>({ required: true });
const props = defineProps<{ driver: Driver; scope: Scope }>();
const plan = usePlan();

const into = ref<number[]>([]);
const every = ref(false);
const why = ref('');
const failure = ref('');
const busy = ref(false);
watch(shown, (open) => {
  if (!open) return;
  into.value = [...props.scope];
  why.value = '';
  failure.value = '';
});
/** The dimensions that the scope pins, each with the members it could be copied to. */
const pins = computed(() =>
  props.scope.flatMap((member, place) => {
    const dimension = plan.tree.dimensions[plan.tree.dimensionOf(member)];
    return dimension ? [{ place, dimension, members: plan.tree.inOrder(dimension) }] : [];
  }),
);
const elsewhere = computed(() => into.value.some((member, place) => member !== props.scope[place]));
const { data: preview } = useAnswer(
  [shown, () => into.value.join(), every, () => plan.tick],
  async () =>
    shown.value && elsewhere.value
      ? plan
          .compute()
          .copied([...props.scope], [...into.value], every.value ? undefined : props.driver.code)
      : undefined,
);

async function copy(): Promise<void> {
  busy.value = true;
  failure.value = '';
  try {
    const body = {
      from: [...props.scope],
      into: into.value,
      why: why.value,
      ...(every.value ? {} : { drivers: [props.driver.code] }),
    };
    const { copied } = await plan.save(() =>
      request<{ copied: number }>('POST', plan.path('/assumptions/copy'), body),
    );
    await plan.inLine(plan.catchUp);
    plan.said = { text: `Copied ${copied} assumptions; Ctrl+Z takes them back` };
    shown.value = false;
  } catch (error) {
    plan.saving = 'saved';
    failure.value = inWords(error);
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <v-dialog v-model="shown" max-width="460">
    <form class="dialog-sheet" aria-labelledby="copy-scope-title" @submit.prevent="copy">
      <h2 id="copy-scope-title">Copy what is assumed for {{ plan.tree.label(scope) }}</h2>
      <template v-for="pin in pins" :key="pin.place">
        <label :for="`copy-pin-${pin.place}`">{{ pin.dimension.name }}</label>
        <select :id="`copy-pin-${pin.place}`" v-model.number="into[pin.place]">
          <option v-for="member in pin.members" :key="member.id" :value="member.id">
            {{ member.name }}
          </option>
        </select>
      </template>
      <label
        ><input v-model="every" type="checkbox" /> every driver, not only {{ driver.name }}</label
      >
      <label for="copy-scope-why">Why</label>
      <input id="copy-scope-why" v-model="why" maxlength="500" placeholder="optional" />
      <p class="quiet" role="status">
        <template v-if="!elsewhere">Choose where it is copied to.</template>
        <template v-else-if="preview">
          {{ preview.put }} {{ preview.put === 1 ? 'assumption is' : 'assumptions are' }} copied,
          what is narrower included<template v-if="preview.drop > 0"
            >; {{ preview.drop }} there {{ preview.drop === 1 ? 'is' : 'are' }} replaced</template
          >.
        </template>
      </p>
      <p v-if="failure" class="failure" role="alert">{{ failure }}</p>
      <div class="buttons">
        <button class="primary" type="submit" :disabled="busy || !elsewhere || preview?.put === 0">
          Copy
        </button>
        <button class="plain" type="button" @click="shown = false">Leave</button>
      </div>
    </form>
  </v-dialog>
</template>
