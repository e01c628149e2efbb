<script setup lang="ts">
import { reportingOperations, type ViewQuery, type ViewWindow } from '@dravex/contract';
import { monthText } from '@dravex/core';
import { computed, ref, watch } from 'vue';
import { spanInWords } from '../format/periods.ts';
import FormDialog from '../kit/FormDialog.vue';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { useForm } from '../writing/use-form.ts';

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
  const against = props.query.of === 'comparison' ? `against ${props.against ?? ''}` : '';
  return [against, scope.value.length > 0 ? `in ${subject.value}` : ''].join(' ').trim();
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
    name: `${props.measured} by ${rowHeading.value.toLowerCase()} ${where.value}`.trim(),
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
  { value: 'table', name: 'Table' },
  {
    value: 'chart',
    name: props.query.of === 'comparison' ? 'Chart of the first side' : 'Chart of the total',
  },
]);
const windows = computed(() => [
  ...(preset.value
    ? [{ value: true, name: `${preset.value}, moving with the closed months` }]
    : []),
  { value: false, name: `${spanInWords(span.value)}, fixed` },
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
  if (address.value === '') return 'Create address';
  return copied.value ? 'Copied' : 'Copy address';
});
</script>

<template>
  <FormDialog
    v-model="shown"
    title="Embed this table in another page"
    :action="action"
    :busy="busy"
    :failure="failure"
    :width="460"
    @submit="go"
  >
    <p class="quiet">
      Whoever has the address sees the current numbers, read only, in a frame of 400 by 300 or
      larger. It can be withdrawn under Settings, Reporting access.
    </p>
    <template v-if="!address">
      <v-text-field v-bind="field('name')" label="Name" autocomplete="off" />
      <v-select v-model="form.kind" label="Show as" :items="kinds" />
      <v-select v-model="form.moves" label="Months" :items="windows" />
      <p v-if="scope.length > 0" class="quiet">Only {{ subject }}.</p>
    </template>
    <template v-else>
      <p role="status">This is the address. It is shown only once:</p>
      <code data-address>{{ address }}</code>
    </template>
    <template v-if="address" #more>
      <a :href="address" target="_blank" rel="noreferrer">Open it</a>
    </template>
  </FormDialog>
</template>

<style scoped>
code {
  font-size: 11.5px;
  overflow-wrap: anywhere;
}
</style>
