<script setup lang="ts">
import { targetOperations, type TargetsFile } from '@dravex/contract';
import { ref, shallowRef, watch } from 'vue';
import FilePick from '../kit/FilePick.vue';
import FormDialog from '../kit/FormDialog.vue';
import { usePlan } from '../plan/use-plan.ts';
import { callWithFile } from '../shell/client.ts';
import { useWriting } from '../writing/use-writing.ts';

/** A file of targets: what it would change, and a click to apply it. */
const shown = defineModel<boolean>({ required: true });
const props = defineProps<{
  fiscalYear: number;
  objective: number | undefined;
  done: (effect: TargetsFile) => unknown;
}>();
const plan = usePlan();
const { busy, failure, write, forget } = useWriting();
const looked = shallowRef<{ readonly of: File; readonly effect: TargetsFile }>();
const MOST_SHOWN = 12;
/** Why something agreed changes; refused without it. */
const reason = ref('');

const send = (of: File, apply: 'yes' | 'no') =>
  callWithFile(
    targetOperations.bringTargets,
    {
      workspaceId: plan.workspaceId,
      fiscalYear: props.fiscalYear,
      apply,
      ...(reason.value.trim() === '' ? {} : { reason: reason.value.trim() }),
      ...(props.objective === undefined ? {} : { objective: props.objective }),
    },
    of,
  );
watch(shown, () => {
  looked.value = undefined;
  forget();
});
async function look(of: File): Promise<void> {
  looked.value = undefined;
  forget();
  await write(
    () => send(of, 'no'),
    (answer) => (looked.value = { of, effect: answer }),
  );
}
async function apply(): Promise<void> {
  const now = looked.value;
  if (!now) return;
  await write(
    () => send(now.of, 'yes'),
    (answer) => {
      shown.value = false;
      props.done(answer);
    },
  );
}
</script>

<template>
  <FormDialog
    v-model="shown"
    title="Import targets"
    action="Apply"
    :busy="busy"
    :failure="failure"
    :disabled="
      !looked ||
      looked.effect.problems.length > 0 ||
      looked.effect.added + looked.effect.changed === 0
    "
    :width="520"
    @submit="apply"
  >
    <p class="quiet">
      A table of teams, people and parts with a name, what is above them, and a target or a share:
      as it is saved from here, changed or made anew. What it does not name stays as it is.
    </p>
    <FilePick
      label="Choose file"
      about="File of targets"
      accept=".csv,.txt,.xlsx,.json"
      :disabled="busy"
      @pick="look"
    />
    <template v-if="looked">
      <p role="status">
        {{ looked.of.name }}: {{ looked.effect.added }} to add, {{ looked.effect.changed }} to
        change, {{ looked.effect.same }} unchanged.
      </p>
      <v-text-field v-model="reason" label="Reason, if what is agreed changes" autocomplete="off" />
      <p
        v-for="problem in looked.effect.problems.slice(0, MOST_SHOWN)"
        :key="`${problem.row} ${problem.message}`"
        class="failure"
      >
        Row {{ problem.row }}: {{ problem.message }}
      </p>
      <p v-if="looked.effect.problems.length > MOST_SHOWN" class="failure">
        {{ looked.effect.problems.length - MOST_SHOWN }} more rows cannot be imported.
      </p>
    </template>
  </FormDialog>
</template>
