<script setup lang="ts">
import { targetOperations, type TargetsFile } from '@dravex/contract';
import { ref, shallowRef, watch } from 'vue';
import { WORDS } from '../format/words.ts';
import FilePick from '../kit/FilePick.vue';
import FormDialog from '../kit/FormDialog.vue';
import { usePlan } from '../plan/use-plan.ts';
import { callWithFile } from '../shell/client.ts';
import { useWriting } from '../writing/use-writing.ts';
import { TEXTS } from './texts.ts';

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
    :title="TEXTS.importTargets"
    :action="WORDS.apply"
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
      {{ TEXTS.tableOfTeamsPeopleAnd }}
    </p>
    <FilePick
      :label="WORDS.chooseFile"
      :about="TEXTS.fileOfTargets"
      accept=".csv,.txt,.xlsx,.json"
      :disabled="busy"
      @pick="look"
    />
    <template v-if="looked">
      <p role="status">
        {{
          TEXTS.toAddToChangeUnchanged(
            looked.of.name,
            looked.effect.added,
            looked.effect.changed,
            looked.effect.same,
          )
        }}
      </p>
      <v-text-field v-model="reason" :label="TEXTS.reasonIfWhatIsAgreed" autocomplete="off" />
      <p
        v-for="problem in looked.effect.problems.slice(0, MOST_SHOWN)"
        :key="`${problem.row} ${problem.message}`"
        class="failure"
      >
        {{ WORDS.rowSays(problem.row, problem.message) }}
      </p>
      <p v-if="looked.effect.problems.length > MOST_SHOWN" class="failure">
        {{ TEXTS.moreRowsCannotBeImported(looked.effect.problems.length - MOST_SHOWN) }}
      </p>
    </template>
  </FormDialog>
</template>
