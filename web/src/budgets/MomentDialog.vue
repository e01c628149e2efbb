<script setup lang="ts">
import { momentShape, type Version } from '@dravex/contract';
import { watch } from 'vue';
import { z } from 'zod';
import { dayInWords } from '../format/moments.ts';
import FormDialog from '../kit/FormDialog.vue';
import { usePlan } from '../plan/use-plan.ts';
import { useForm } from '../writing/use-form.ts';
import { TEXTS } from './texts.ts';

/** Chooses a moment as of which a version is read. */
const shown = defineModel<boolean>({ required: true });
const props = defineProps<{ version: Version; at: string | undefined }>();
const emit = defineEmits<{ choose: [at: string] }>();
const plan = usePlan();

/** A moment as a field of the page has it: local time, to the minute. */
function local(moment: Date): string {
  const shifted = new Date(moment.getTime() - moment.getTimezoneOffset() * 60_000);
  return shifted.toISOString().slice(0, 16);
}
/** In UTC, to the second; the end of the minute that was typed. */
function momentOf(typed: string): string {
  const moment = new Date(`${typed}:59`);
  return Number.isNaN(moment.getTime()) ? '' : `${moment.toISOString().slice(0, 19)}Z`;
}
const { field, begin, dialog } = useForm({
  of: () => `${props.version.id} ${props.at ?? ''}`,
  fresh: () => ({ at: local(props.at === undefined ? new Date() : new Date(props.at)) }),
  schema: z.strictObject({
    at: momentShape.at
      .unwrap()
      .refine(
        (at) => Date.parse(at) >= Date.parse(props.version.createdAt),
        TEXTS.versionWasSavedLater,
      ),
  }),
  body: ({ at }) => ({ at: momentOf(at) }),
  send: ({ at }) => {
    shown.value = false;
    emit('choose', at);
    return Promise.resolve();
  },
});
watch(shown, (open) => open && begin());
</script>

<template>
  <FormDialog
    v-model="shown"
    :title="TEXTS.asOfEarlierTime"
    :action="TEXTS.show"
    :width="420"
    v-bind="dialog"
  >
    <p class="quiet">
      {{ TEXTS.withWhatWasEnteredUntil(version.name, dayInWords(version.createdAt, plan.locale)) }}
    </p>
    <v-text-field v-bind="field('at')" type="datetime-local" :label="TEXTS.dayAndTime" />
  </FormDialog>
</template>
