<script setup lang="ts">
import { reportingOperations, type ViewQuery, type ViewWindow } from '@dravex/contract';
import { monthText } from '@dravex/core';
import { computed, ref, watch } from 'vue';
import { spanInWords } from '../format/periods.ts';
import { WORDS } from '../format/words.ts';
import FormDialog from '../kit/FormDialog.vue';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { useForm } from '../writing/use-form.ts';
import { TEXTS } from './texts.ts';

type Without<Query> = Query extends ViewQuery ? Omit<Query, 'kind' | 'window' | 'members'> : never;
/** Saves the table of a room, as it is set, under an address at which other pages can embed it. */
const shown = defineModel<boolean>({ required: true });
const props = defineProps<{
  /** What the room shows, without its window and scope, which the frame has. */
  query: Without<ViewQuery>;
  /** What is measured, to begin its name with: `Revenue`. */
  measured: string;
  /** What it is held against, where it is. */
  against?: string;
}>();
const plan = usePlan();
const { span, scope, scopeCodes, subject, preset, rowHeading } = useFrame();
const where = computed(() => {
  const against = props.query.of === 'comparison' ? TEXTS.against(props.against ?? '') : '';
  return [against, scope.value.length > 0 ? TEXTS.in(subject.value) : ''].join(' ').trim();
});

const WINDOWS = {
  'This year': 'this year',
  'To date': 'to date',
  'Next 12': 'next 12',
  'Last 12': 'last 12',
  All: 'all',
} as const;
const address = ref('');
const copied = ref(false);
const { form, field, submit, begin, busy, failure } = useForm({
  fresh: () => ({
    name: TEXTS.by(props.measured, rowHeading.value.toLowerCase(), where.value).trim(),
    kind: 'table' as ViewQuery['kind'],
    moves: preset.value !== undefined,
  }),
  schema: reportingOperations.saveView.body,
  body: ({ name, kind, moves }) => {
    const window: ViewWindow =
      moves && preset.value
        ? WINDOWS[preset.value]
        : { from: monthText(span.value.from), to: monthText(span.value.to) };
    return { name, query: { ...props.query, kind, window, members: [...scopeCodes.value] } };
  },
  send: async (body) => {
    const { token } = await plan.ask(reportingOperations.saveView, {}, body);
    address.value = `${location.origin}/embed?token=${token}`;
  },
});
watch(shown, (open) => {
  if (!open) return;
  begin();
  address.value = '';
  copied.value = false;
});
const kinds = computed(() => [
  { value: 'table', name: TEXTS.table },
  {
    value: 'chart',
    name: props.query.of === 'comparison' ? TEXTS.chartOfFirstSide : TEXTS.chartOfTotal,
  },
]);
const windows = computed(() => [
  ...(preset.value ? [{ value: true, name: TEXTS.movingWithClosedMonths(preset.value) }] : []),
  { value: false, name: TEXTS.fixed(spanInWords(span.value)) },
]);

async function go(): Promise<void> {
  if (address.value === '') {
    await submit();
    return;
  }
  await navigator.clipboard.writeText(address.value);
  copied.value = true;
}
const action = computed(() => {
  if (address.value === '') return TEXTS.createAddress;
  return copied.value ? TEXTS.copied : TEXTS.copyAddress;
});
</script>

<template>
  <FormDialog
    v-model="shown"
    :title="TEXTS.embedThisTableInAnother"
    :action="action"
    :busy="busy"
    :failure="failure"
    :width="460"
    @submit="go"
  >
    <p class="quiet">
      {{ TEXTS.whoeverHasAddressSeesCurrent }}
    </p>
    <template v-if="!address">
      <v-text-field v-bind="field('name')" :label="WORDS.name" autocomplete="off" />
      <v-select v-model="form.kind" :label="TEXTS.showAs" :items="kinds" />
      <v-select v-model="form.moves" :label="WORDS.months" :items="windows" />
      <p v-if="scope.length > 0" class="quiet">{{ TEXTS.only(subject) }}</p>
    </template>
    <template v-else>
      <p role="status">{{ TEXTS.thisIsAddressItIs }}</p>
      <code data-address>{{ address }}</code>
    </template>
    <template v-if="address" #more>
      <a :href="address" target="_blank" rel="noreferrer">{{ TEXTS.openIt }}</a>
    </template>
  </FormDialog>
</template>

<style scoped>
code {
  font-size: 11.5px;
  overflow-wrap: anywhere;
}
</style>
