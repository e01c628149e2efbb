<script setup lang="ts">
import type { TargetNode } from '@dravex/contract';
import type { Month } from '@dravex/core';
import { useRights } from '../people/use-planner.ts';
import DealsPanel from './DealsPanel.vue';
import DividePanel from './DividePanel.vue';
import GapPanel from './GapPanel.vue';
import MonthsPanel from './MonthsPanel.vue';
import PossiblePanel from './PossiblePanel.vue';
import type { TargetSize } from './read-part.ts';
import type { PanelKind } from './use-node-actions.ts';
import type { useTargets } from './use-targets.ts';

/** What stands beside the table of targets for one of its nodes. */
defineProps<{
  kind: PanelKind;
  /** Undefined when it is gone. */
  node: TargetNode | undefined;
  nodes: readonly TargetNode[];
  size: TargetSize;
  /** The fiscal year's first month, and how many of its months are closed. */
  start: Month;
  closed: number;
  targets: ReturnType<typeof useTargets>;
}>();
const emit = defineEmits<{ close: [] }>();
const { divides } = useRights();
</script>

<template>
  <PossiblePanel v-if="kind === 'possible'" :nodes="nodes" @close="emit('close')" />
  <DividePanel
    v-else-if="node && (kind === 'divide' || kind === 'leave')"
    :key="`${kind} ${node.id}`"
    :node="node"
    :size="size"
    :leaving="kind === 'leave'"
    :propose="targets.propose"
    :take="targets.divide"
    @close="emit('close')"
  />
  <GapPanel
    v-else-if="node && kind === 'gap'"
    :node="node"
    :size="size"
    :gap="targets.gap"
    @close="emit('close')"
  />
  <MonthsPanel
    v-else-if="node && kind === 'months'"
    :node="node"
    :size="size"
    :start="start"
    :editable="divides"
    :set="targets.set"
    @close="emit('close')"
  />
  <DealsPanel
    v-else-if="node && kind === 'deals'"
    :key="node.id"
    :node="node"
    :nodes="nodes"
    :size="size"
    :start="start"
    :closed="closed"
    :editable="divides"
    :deals="targets.deals"
    :set="targets.set"
    @close="emit('close')"
  />
</template>
