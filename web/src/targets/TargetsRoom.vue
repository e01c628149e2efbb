<script setup lang="ts">
import type { TargetNode } from '@dravex/contract';
import { fiscalYearSpan } from '@dravex/core';
import { computed, ref } from 'vue';
import { longMonth } from '../format/periods.ts';
import type { GridPlace } from '../grid/plan-grid.ts';
import PlanGrid from '../grid/PlanGrid.vue';
import { useFolding } from '../grid/use-folding.ts';
import { inOrder, useRowOrder } from '../grid/use-order.ts';
import { usePlanner } from '../people/use-planner.ts';
import TypedQuestion from '../plan/TypedQuestion.vue';
import { usePlan } from '../plan/use-plan.ts';
import EmptyState from '../kit/EmptyState.vue';
import RoomPage from '../shell/RoomPage.vue';
import { useFrame } from '../shell/use-frame.ts';
import type { Asked } from '../trace/use-trace.ts';
import AddPart from './AddPart.vue';
import LeaveDialog from './LeaveDialog.vue';
import {
  explainActual,
  explainAttained,
  explainLastYear,
  explainNode,
  explainOthers,
  explainOutlook,
  explainRestOf,
  explainShareOf,
  explainToDate,
  type TargetTreeView,
} from './explain.ts';
import { targetHeadline } from './headline.ts';
import { readPart } from './read-part.ts';
import { linesOf, sizeIn, targetColumns, targetRow } from './target-rows.ts';
import { useTargets } from './use-targets.ts';

const plan = usePlan();
const { formats, unit, scope, setScope, calendar, books } = useFrame();
const { tree, failure, fiscalYear, minor, typed, setObjective, add, remove, setUntil } =
  useTargets();
const { message, failed, refused, waiting, doubts } = typed;

const planner = usePlanner();
const nodes = computed(() => tree.value?.nodes ?? []);
const top = computed(() => nodes.value[0]);
const refusal = ref('');
const objective = ref('');
const addingTo = ref<TargetNode>();
/** Who is asked about the last month of. */
const leaving = ref<TargetNode>();

function words(cents: number): string {
  return formats.value.inWords(cents / minor.value);
}

const headline = computed(() => targetHeadline(nodes.value, fiscalYear.value, words));
const state = computed(
  () =>
    `Revenue target, FY ${fiscalYear.value} (the fiscal year of the period), ${formats.value.unitName(unit.value)}; attainment through ${longMonth(plan.closedThrough)}, the tick marks each target to date by its own season${books.value ? '; books only' : ''}`,
);

const { order, turnOrder, arrowOf } = useRowOrder();
const lines = computed(() => {
  const placed = linesOf(nodes.value).map((line) =>
    line.kind === 'node'
      ? { ...line, level: line.node.level, parent: line.node.unassigned !== null }
      : { ...line, level: line.of.level + 1, parent: false },
  );
  return inOrder(placed, order.value, sizeIn);
});
/** Everybody is in sight until a part is folded. */
const DEEPEST = 99;
const { visible, toggle, unfold } = useFolding(lines, DEEPEST, 'targets');
const findable = computed(() =>
  lines.value.flatMap((line) =>
    line.kind === 'node' ? [{ key: line.key, label: line.node.name }] : [],
  ),
);
const columns = computed(() =>
  targetColumns(planner.value).map((column) => ({ ...column, ...arrowOf(column.key) })),
);
const rows = computed(() => {
  const look = {
    formats: formats.value,
    unit: unit.value,
    minor: minor.value,
  };
  return visible.value.map((line) => ({ ...targetRow(line, look), folded: line.folded }));
});
const byKey = computed(() => new Map(lines.value.map((line) => [line.key, line])));

async function begin(): Promise<void> {
  const read = readPart(objective.value, formats.value, minor.value);
  if ('reason' in read) refusal.value = read.reason;
  else if (read.part.kind === 'percent')
    refusal.value = 'The target of the whole company is an amount';
  else {
    refusal.value = '';
    await setObjective(read.part.amount);
  }
}

const view = computed<TargetTreeView>(() => {
  const { fiscalStart } = calendar.value;
  const year = fiscalYearSpan(fiscalYear.value, fiscalStart);
  return {
    nodes: nodes.value,
    minor: minor.value,
    year,
    closed: { from: year.from, to: Math.min(year.to, plan.closedThrough) },
    before: fiscalYearSpan(fiscalYear.value - 1, fiscalStart),
    books: books.value,
  };
});
const EXPLAINED = {
  target: explainNode,
  share: explainShareOf,
  lastYear: explainLastYear,
  outlook: explainOutlook,
  actual: explainActual,
  mark: explainToDate,
  attained: explainAttained,
  toDate: explainToDate,
} as const;
/** How a number of the table came about. */
function ask({ row, column }: GridPlace): Asked | undefined {
  const line = byKey.value.get(row);
  if (!line) return undefined;
  const node =
    line.kind === 'rest'
      ? column === 'lastYear' || column === 'actual' || column === 'outlook'
        ? explainOthers(view.value, line.of, column)
        : explainRestOf(view.value, line.of)
      : EXPLAINED[column as keyof typeof EXPLAINED](view.value, line.node);
  return {
    kind: 'node',
    node,
    about: `Revenue, ${formats.value.currency}, FY ${fiscalYear.value}`,
  };
}

/** The row that somebody was in last: what can be done with it is offered above the table. */
const visited = ref('');
const here = computed(() => {
  const line = byKey.value.get(visited.value);
  return line?.kind === 'node' ? line.node : line?.of;
});
const mayAdd = (node: TargetNode | undefined): boolean =>
  planner.value && node !== undefined && node.kind !== 'person';
const mayRemove = (node: TargetNode | undefined): boolean =>
  planner.value && node !== undefined && node.parent !== null && node.unassigned === null;
function rowActions(row: string) {
  const line = byKey.value.get(row);
  const node = line?.kind === 'node' ? line.node : line?.of;
  if (!node) return [];
  return [
    ...(mayAdd(node)
      ? [{ name: `Add below ${node.name}`, act: () => void (addingTo.value = node) }]
      : []),
    ...(planner.value && node.kind === 'person'
      ? [{ name: `Last month of ${node.name}`, act: () => void (leaving.value = node) }]
      : []),
    ...(mayRemove(node) ? [{ name: `Remove ${node.name}`, act: () => void remove(node) }] : []),
  ];
}
</script>

<template>
  <RoomPage
    :heading="headline"
    :state="state"
    :failure="refusal || failure"
    :shows="['books', 'unit']"
  >
    <template v-if="planner && top" #actions>
      <v-btn color="primary" variant="flat" :disabled="!mayAdd(here)" @click="addingTo = here">
        {{ mayAdd(here) ? `Add below ${here?.name}` : 'Add team or person' }}
      </v-btn>
      <v-btn color="primary" :disabled="!mayRemove(here)" @click="here && remove(here)">
        {{ mayRemove(here) ? `Remove ${here?.name}` : 'Remove' }}
      </v-btn>
    </template>
    <p v-if="scope.length > 0" class="quiet">
      Targets follow the sales organisation; the filter does not apply to them.
      <v-btn variant="plain" @click="setScope([])">Remove filter</v-btn>
    </p>
    <EmptyState v-if="tree && !top" :heading="`Set the target of FY ${fiscalYear}`">
      <p>
        Enter the revenue target of the year in {{ formats.currency }}; then divide it among teams
        and people.
      </p>
      <form v-if="planner" class="controls" @submit.prevent="begin">
        <v-text-field v-model="objective" label="Revenue target" width="180" autocomplete="off" />
        <v-btn color="primary" variant="flat" type="submit">Set target</v-btn>
      </form>
      <p v-else class="quiet">A planner can set it.</p>
    </EmptyState>
    <template v-else-if="tree">
      <p v-if="message" :class="failed ? 'failure' : 'quiet'" :role="failed ? 'alert' : 'status'">
        {{ message }}
      </p>
      <TypedQuestion :doubts="doubts" @settle="typed.settle" />
      <div class="grid-place" data-grid="targets">
        <PlanGrid
          label="Targets"
          :about="state"
          saves
          heading="Team, person"
          :columns="columns"
          :rows="rows"
          :editable="planner"
          :refused="refused"
          :waiting="waiting"
          sortable
          :ask="ask"
          :row-actions="rowActions"
          :findable="findable"
          @toggle="toggle"
          @unfold="unfold"
          @place="visited = $event.row"
          @edit="typed.edit"
          @order="turnOrder"
        />
      </div>
    </template>
    <AddPart v-model="addingTo" :add="add" />
    <LeaveDialog v-model="leaving" :set="setUntil" />
  </RoomPage>
</template>

<style scoped>
.grid-place {
  flex: 1;
  min-height: 0;
}
form.controls {
  align-items: flex-end;
}
</style>
