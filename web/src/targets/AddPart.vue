<script setup lang="ts">
import { newTargetNodeSchema, type NewTargetNode, type TargetNode } from '@dravex/contract';
import { computed } from 'vue';
import FormDialog from '../kit/FormDialog.vue';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { useForm } from '../writing/use-form.ts';
import { readPart } from './read-part.ts';

/** Adds a team or a person below a node. */
const parent = defineModel<TargetNode | undefined>({ required: true });
/** Adds it; refused in the server's words, which the form shows. */
const props = defineProps<{ add: (node: NewTargetNode) => Promise<unknown> }>();

const plan = usePlan();
const { formats, minor } = useFrame();
const KINDS = [
  { value: 'area', name: 'Team or area' },
  { value: 'person', name: 'Person' },
];
const shown = computed({
  get: () => parent.value !== undefined,
  set: (open) => {
    if (!open) parent.value = undefined;
  },
});
const members = computed(() => [
  { id: null, name: 'Same as above; of a team, what its parts sell' },
  ...(plan.workspace?.plan.dimensions ?? []).flatMap((dimension) =>
    plan.tree
      .inOrder(dimension)
      .map(({ id, name }) => ({ id, name: `${dimension.name}: ${name}` })),
  ),
]);
const { form, field, wrong, submit, failure } = useForm({
  of: () => String(parent.value?.id),
  fresh: () => ({
    kind: (parent.value?.kind === 'company' ? 'area' : 'person') as 'area' | 'person',
    name: '',
    seller: '',
    member: null as number | null,
    until: '',
    part: '',
  }),
  schema: newTargetNodeSchema,
  body: ({ kind, name, seller, member, until, part }) => {
    const read = readPart(part, formats.value, minor.value);
    return {
      parent: parent.value?.id ?? 0,
      name,
      kind,
      scope: member === null ? [] : [member],
      seller: kind === 'person' && seller.trim() !== '' ? seller.trim() : null,
      until: kind === 'person' && until !== '' ? until : null,
      // What cannot be read is no part; the field says why.
      part: 'part' in read ? read.part : { kind: 'amount' as const, amount: Number.NaN },
    };
  },
  send: async (node) => {
    await props.add(newTargetNodeSchema.parse(node));
    parent.value = undefined;
  },
});
/** Why the part cannot be read, in its own words. */
const unread = computed(() => {
  if (wrong('part.amount').length === 0) return wrong('part');
  const read = readPart(form.value.part, formats.value, minor.value);
  return 'reason' in read ? [read.reason] : wrong('part.amount');
});
</script>

<template>
  <FormDialog
    v-model="shown"
    :title="`Add below ${parent?.name ?? ''}`"
    action="Add"
    :failure="failure"
    :width="380"
    @submit="submit"
  >
    <v-select v-model="form.kind" label="Kind" :items="KINDS" />
    <v-text-field v-bind="field('name')" label="Name" autocomplete="off" />
    <v-text-field
      v-if="form.kind === 'person'"
      v-bind="field('seller')"
      label="Seller code"
      hint="As in the sales lines"
      persistent-hint
      autocomplete="off"
    />
    <v-text-field
      v-if="form.kind === 'person'"
      v-bind="field('until')"
      type="month"
      label="Last month, if leaving (optional)"
      hint="Nothing is forecast of them after it"
      persistent-hint
    />
    <v-autocomplete v-model="form.member" label="Sales of" :items="members" item-value="id" />
    <v-text-field
      v-model="form.part"
      label="Target: an amount, or a percentage of the target above"
      placeholder="25%"
      autocomplete="off"
      :error-messages="unread"
    />
  </FormDialog>
</template>
