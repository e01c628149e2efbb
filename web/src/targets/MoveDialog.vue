<script setup lang="ts">
import type { TargetNode } from '@dravex/contract';
import type { TargetPart } from '@dravex/core';
import { computed } from 'vue';
import FormDialog from '../kit/FormDialog.vue';
import { unitOf } from '../format/numbers.ts';
import { unitInWords } from '../grid/table-rows.ts';
import { useFrame } from '../shell/use-frame.ts';
import { useForm } from '../writing/use-form.ts';
import type { TargetSize } from './read-part.ts';
import { TEXTS } from './texts.ts';

/** Moves some of one target to another one beside it, after a look at what both become. */
export interface Moving {
  readonly from: TargetNode;
  /** Undefined until it is chosen. */
  readonly to: TargetNode | undefined;
}
const moving = defineModel<Moving | undefined>({ required: true });
const props = defineProps<{
  nodes: readonly TargetNode[];
  size: TargetSize;
  setParts: (parts: { node: number; part: TargetPart; saw: TargetPart }[]) => unknown;
}>();
const { formats } = useFrame();

const shown = computed({
  get: () => moving.value !== undefined,
  set: (open) => {
    if (!open) moving.value = undefined;
  },
});
const from = computed(() => moving.value?.from);
const beside = computed(() =>
  props.nodes
    .filter(({ parent, id }) => parent === from.value?.parent && id !== from.value.id)
    .map(({ id, name, locked }) => ({
      value: id,
      name: locked ? TEXTS.lockedOf(name) : name,
      props: { disabled: locked },
    })),
);
const unit = computed(() => unitOf(props.size.display, props.size.unit) * props.size.wholes);
const words = (amount: number): string =>
  `${formats.value.full(amount / unit.value, props.size.display)} ${unitInWords(props.size.display, props.size.unit, formats.value)}`;

const { form, field, dialog } = useForm({
  of: () => `${from.value?.id ?? ''} ${moving.value?.to?.id ?? ''}`,
  fresh: () => ({ to: moving.value?.to?.id ?? null, amount: '' }),
  body: ({ to, amount }: { to: number | null; amount: string }) => ({ to, amount }),
  send: async () => {
    const now = after.value;
    if ('wrong' in now) throw new Error(now.wrong);
    await props.setParts(now.parts);
  },
  done: () => (moving.value = undefined),
});
/** What both become; amounts from here on, since a share of the target above has no cents. */
const after = computed(() => {
  const one = from.value;
  const other = props.nodes.find(({ id }) => id === form.value.to);
  if (!one || !other) return { wrong: TEXTS.chooseWhoseTargetBecomesLarger };
  const typed = formats.value.read(form.value.amount, false);
  if (typed === undefined || !Number.isFinite(typed)) return { wrong: TEXTS.enterHowMuchIsMoved };
  const moved = Math.round(typed * unit.value);
  if (moved <= 0) return { wrong: TEXTS.enterAmountAboveZero };
  if (moved > one.amount) return { wrong: TEXTS.has(one.name, words(one.amount)) };
  const part = (node: TargetNode, amount: number) => ({
    ...{ node: node.id, saw: node.part },
    part: { kind: 'amount' as const, amount },
  });
  return {
    says: `${one.name} ${words(one.amount - moved)}, ${other.name} ${words(other.amount + moved)}`,
    parts: [part(one, one.amount - moved), part(other, other.amount + moved)],
  };
});
</script>

<template>
  <FormDialog
    v-model="shown"
    :title="TEXTS.moveSomeOfTargetOf(from?.name ?? '')"
    :action="TEXTS.move"
    :disabled="'wrong' in after"
    :width="420"
    v-bind="dialog"
  >
    <v-select v-bind="field('to')" :label="TEXTS.to" :items="beside" />
    <v-text-field
      v-bind="field('amount')"
      :label="TEXTS.amount(unitInWords(size.display, size.unit, formats))"
      autocomplete="off"
      autofocus
    />
    <p class="quiet" role="status">{{ 'wrong' in after ? after.wrong : after.says }}.</p>
  </FormDialog>
</template>
