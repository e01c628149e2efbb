<script setup lang="ts">
import {
  newTargetNodeSchema,
  targetNodeChangeSchema,
  type NewTargetNode,
  type TargetNode,
  type TargetNodeChange,
} from '@dravex/contract';
import { computed } from 'vue';
import { WORDS } from '../format/words.ts';
import FormDialog from '../kit/FormDialog.vue';
import { useMembers } from '../plan/use-members.ts';
import { useFrame } from '../shell/use-frame.ts';
import { useForm } from '../writing/use-form.ts';
import { changesOf, formOf, newNodeOf, placesFor } from './node-form.ts';
import { readPart, type TargetSize } from './read-part.ts';
import { TEXTS } from './texts.ts';

/** What is edited, or below what something is added. */
export type NodeSubject =
  | { readonly kind: 'add'; readonly below: TargetNode }
  | { readonly kind: 'edit'; readonly node: TargetNode };

/** Adds a team, a person or a part below a node, or changes one. */
const subject = defineModel<NodeSubject | undefined>({ required: true });
/** Both are refused in the server's words, which the form shows. */
const props = defineProps<{
  size: TargetSize;
  /** The nodes of the tree, for what is above. */
  nodes: readonly TargetNode[];
  add: (node: NewTargetNode) => Promise<unknown>;
  edit: (node: TargetNode, change: TargetNodeChange) => Promise<unknown>;
}>();

const { formats } = useFrame();
const shown = computed({
  get: () => subject.value !== undefined,
  set: (open) => {
    if (!open) subject.value = undefined;
  },
});
const node = computed(() => (subject.value?.kind === 'edit' ? subject.value.node : undefined));
const above = computed(() =>
  subject.value?.kind === 'add'
    ? subject.value.below
    : props.nodes.find(({ id }) => id === node.value?.parent),
);
/** Below a person, a part is told by account, product or both. */
const ofPerson = computed(() => (above.value?.counts?.seller ?? null) !== null);
const KINDS = [
  { value: 'area', name: TEXTS.teamOrArea },
  { value: 'person', name: TEXTS.person },
];
const members = useMembers();
const adding = computed(() => subject.value?.kind === 'add');
const { form, field, wrong, submit, failure } = useForm<
  ReturnType<typeof formOf>,
  NewTargetNode | TargetNodeChange
>({
  of: () => JSON.stringify([subject.value?.kind, node.value?.id ?? above.value?.id]),
  fresh: () => {
    const made = formOf(node.value, above.value, formats.value, props.size);
    return ofPerson.value ? { ...made, kind: 'area' as const } : made;
  },
  body: (typed) =>
    node.value
      ? changesOf(typed, node.value, formats.value, props.size)
      : newNodeOf(typed, above.value?.id ?? 0, formats.value, props.size),
  send: async (body) => {
    if (node.value) {
      if (Object.keys(body).length > 0) {
        await props.edit(node.value, targetNodeChangeSchema.parse(body));
      }
    } else await props.add(newTargetNodeSchema.parse(body));
    subject.value = undefined;
  },
  schema: {
    safeParse: (body: unknown) =>
      Object.keys(body as object).length === 0
        ? { success: true, data: body }
        : (adding.value ? newTargetNodeSchema : targetNodeChangeSchema).safeParse(body),
  } as never,
});
/** Where it can be moved: teams and people, told apart by what is above them. */
const places = computed(() => {
  const of = node.value;
  if (!of || of.parent === null) return [];
  return placesFor(of, props.nodes).map(({ id, name, parent }) => {
    const above = props.nodes.find((one) => one.id === parent);
    return { id, name: above && above.parent !== null ? `${above.name}: ${name}` : name };
  });
});
const person = computed(() => form.value.kind === 'person');
const isTop = computed(() => node.value?.parent === null);
/** Why the part cannot be read, in its own words. */
const unread = computed(() => {
  if (wrong('part.amount').length === 0) return wrong('part');
  const read = readPart(form.value.part, formats.value, props.size.wholes);
  return 'reason' in read ? [read.reason] : wrong('part.amount');
});
</script>

<template>
  <FormDialog
    v-model="shown"
    :title="adding ? TEXTS.addBelowOf(above?.name ?? '') : (node?.name ?? '')"
    :action="adding ? WORDS.add : WORDS.save"
    :failure="failure"
    :width="440"
    @submit="submit"
  >
    <v-select v-if="adding && !ofPerson" v-model="form.kind" :label="TEXTS.kind" :items="KINDS" />
    <v-text-field v-bind="field('name')" :label="WORDS.name" autocomplete="off" />
    <v-autocomplete
      v-if="places.length > 1"
      v-model="form.parent"
      :label="TEXTS.below"
      :items="places"
      item-value="id"
      :error-messages="wrong('parent')"
    />
    <template v-if="!isTop">
      <v-text-field
        v-if="person"
        v-bind="field('seller')"
        :label="TEXTS.sellerCode"
        :hint="TEXTS.asInSalesLines"
        persistent-hint
        autocomplete="off"
      />
      <v-text-field
        v-if="ofPerson"
        v-bind="field('account')"
        :label="TEXTS.accountOptional"
        :hint="TEXTS.customerAsInSalesLines"
        persistent-hint
        autocomplete="off"
      />
      <v-text-field
        v-if="!person && !ofPerson"
        v-bind="field('manager')"
        :label="TEXTS.managerOptional"
        autocomplete="off"
      />
      <v-autocomplete
        v-model="form.scope"
        :label="TEXTS.salesOfEmptyAsAbove"
        :items="members"
        item-value="id"
        multiple
        chips
        closable-chips
        :error-messages="wrong('scope')"
      />
    </template>
    <template v-if="person">
      <div class="two">
        <v-text-field v-bind="field('from')" type="month" :label="TEXTS.firstMonthIfJoining" />
        <v-text-field v-bind="field('until')" type="month" :label="TEXTS.lastMonthIfLeaving" />
      </div>
      <div class="two">
        <v-text-field v-bind="field('full')" :label="TEXTS.fullCapacityMonth" autocomplete="off" />
        <v-text-field
          v-bind="field('ramp')"
          :label="TEXTS.rampUpByMonthPercent"
          placeholder="25; 50; 75"
          autocomplete="off"
        />
      </div>
    </template>
    <v-text-field
      v-if="!ofPerson"
      v-bind="field('cushion')"
      :label="TEXTS.cushionPercentMayBeHanded"
      autocomplete="off"
    />
    <v-text-field
      v-if="adding"
      v-model="form.part"
      :label="TEXTS.targetAmountOrPercentageOf"
      placeholder="25%"
      autocomplete="off"
      :error-messages="unread"
    />
  </FormDialog>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px;
}
</style>
