<script setup lang="ts">
import type { TargetNode } from '@dravex/contract';
import { fiscalYearSpan } from '@dravex/core';
import { computed, ref } from 'vue';
import { longMonth } from '../format/periods.ts';
import type { GridPlace } from '../grid/plan-grid.ts';
import PlanGrid from '../grid/PlanGrid.vue';
import { useFolding } from '../grid/use-folding.ts';
import { inOrder, useRowOrder } from '../grid/use-order.ts';
import { useSession } from '../people/use-session.ts';
import TypedQuestion from '../plan/TypedQuestion.vue';
import { usePlan } from '../plan/use-plan.ts';
import ScopeBar from '../shell/ScopeBar.vue';
import { useFrame } from '../shell/use-frame.ts';
import type { Asked } from '../trace/use-trace.ts';
import AddPart from './AddPart.vue';
import {
  explainActual,
  explainAttained,
  explainLastYear,
  explainNode,
  explainOutlook,
  explainRestOf,
  explainShareOf,
  type TargetTreeView,
} from './explain.ts';
import { readPart } from './read-part.ts';
import { linesOf, sizeIn, targetColumns, targetRow } from './target-rows.ts';
import { useTargets } from './use-targets.ts';

const plan = usePlan();
const session = useSession();
const { formats, unit, scope, setScope, calendar, books } = useFrame();
const { tree, failure, fiscalYear, minor, typed, setObjective, add, remove } = useTargets();
const { message, failed, refused, waiting, doubts } = typed;

const planner = computed(() => session.roleIn(plan.workspaceId) === 'planner');
const nodes = computed(() => tree.value?.nodes ?? []);
const top = computed(() => nodes.value[0]);
const refusal = ref('');
const objective = ref('');
const addingTo = ref<TargetNode>();

const unassigned = computed(() =>
  nodes.value.reduce((sum, node) => sum + (node.unassigned ?? 0), 0),
);
const over = computed(() => nodes.value.reduce((sum, node) => sum + (node.overAssigned ?? 0), 0));

function words(cents: number): string {
  return formats.value.inWords(cents / minor.value);
}

const headline = computed(() => {
  const node = top.value;
  if (!node) return `FY ${fiscalYear.value} has no objective yet`;
  if (over.value > 0)
    return `${words(over.value)} more than the target of ${words(node.amount)} is handed out`;
  if (unassigned.value === 0) return `All of ${words(node.amount)} is assigned`;
  return `${words(unassigned.value)} of ${words(node.amount)} are unassigned`;
});
const state = computed(
  () =>
    `Revenue target of FY ${fiscalYear.value}, in which the window ends, ${formats.value.unitName(unit.value)}; attainment to ${longMonth(plan.closedThrough)}, the tick is where the season says it should be${books.value ? '; books only' : ''}`,
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
    due: tree.value?.due ?? null,
  };
  return visible.value.map((line) => ({ ...targetRow(line, look), folded: line.folded }));
});
const byKey = computed(() => new Map(lines.value.map((line) => [line.key, line])));

async function begin(): Promise<void> {
  const read = readPart(objective.value, formats.value, minor.value);
  if ('reason' in read) refusal.value = read.reason;
  else if (read.part.kind === 'percent') refusal.value = 'The objective at the top is an amount';
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
  mark: explainAttained,
  attained: explainAttained,
} as const;
/** How a number of the table came about. */
function ask({ row, column }: GridPlace): Asked | undefined {
  const line = byKey.value.get(row);
  if (!line) return undefined;
  const node =
    line.kind === 'rest'
      ? explainRestOf(view.value, line.of)
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
    ...(mayRemove(node) ? [{ name: `Remove ${node.name}`, act: () => void remove(node) }] : []),
  ];
}
</script>

<template>
  <section class="room">
    <ScopeBar :shows="['books', 'unit']" />
    <header class="room-head">
      <h1>{{ headline }}</h1>
      <p class="state">{{ state }}</p>
    </header>
    <p v-if="scope.length > 0" class="quiet">
      Targets follow the sales organisation, so the scope does not narrow them.
      <button class="link" type="button" @click="setScope([])">Lift the scope</button>
    </p>
    <p v-if="refusal || failure" class="failure" role="alert">{{ refusal || failure }}</p>
    <div v-if="tree && !top" class="empty">
      <h2>What shall FY {{ fiscalYear }} bring?</h2>
      <p>
        Set the year’s revenue objective in {{ formats.currency }}; then divide it to areas and
        people.
      </p>
      <form v-if="planner" class="controls" @submit.prevent="begin">
        <label for="objective">Objective</label>
        <input id="objective" v-model="objective" autocomplete="off" />
        <button class="primary" type="submit">Set it</button>
      </form>
      <p v-else class="quiet">Planners set it.</p>
    </div>
    <template v-else-if="tree">
      <div v-if="planner" class="controls acts no-print">
        <p v-if="message" :class="failed ? 'failure' : 'quiet'" :role="failed ? 'alert' : 'status'">
          {{ message }}
        </p>
        <span class="push" />
        <v-btn size="small" variant="outlined" :disabled="!mayAdd(here)" @click="addingTo = here">{{
          mayAdd(here) ? `Add below ${here?.name}` : 'Add a part'
        }}</v-btn>
        <v-btn
          size="small"
          variant="outlined"
          :disabled="!mayRemove(here)"
          @click="here && remove(here)"
          >{{ mayRemove(here) ? `Remove ${here?.name}` : 'Remove' }}</v-btn
        >
      </div>
      <TypedQuestion :doubts="doubts" @settle="typed.settle" />
      <div class="grid-place" data-grid="targets">
        <PlanGrid
          label="Targets"
          :about="state"
          saves
          heading="Who"
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
    <AddPart v-model="addingTo" :formats="formats" :minor="minor" @add="add" />
  </section>
</template>

<style scoped>
.grid-place {
  flex: 1;
  min-height: 0;
}
.acts {
  min-height: 28px;
}
form.controls {
  gap: 10px;
}
</style>
