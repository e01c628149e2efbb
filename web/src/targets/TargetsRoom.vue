<script setup lang="ts">
import { mdiMenuDown } from '@mdi/js';
import type { TargetNode } from '@dravex/contract';
import { fiscalYearSpan, meaningOf } from '@dravex/core';
import { computed, ref, watch } from 'vue';
import { useRoute } from 'vue-router';
import { longMonth } from '../format/periods.ts';
import type { GridPlace } from '../grid/plan-grid.ts';
import PlanGrid from '../grid/PlanGrid.vue';
import { unitInWords } from '../grid/table-rows.ts';
import { useFolding } from '../grid/use-folding.ts';
import { inOrder, useRowOrder } from '../grid/use-order.ts';
import Choice from '../kit/Choice.vue';
import EmptyState from '../kit/EmptyState.vue';
import { usePlanner } from '../people/use-planner.ts';
import TypedQuestion from '../plan/TypedQuestion.vue';
import { usePlan } from '../plan/use-plan.ts';
import { inWords } from '../shell/api.ts';
import RoomPage from '../shell/RoomPage.vue';
import { useFrame } from '../shell/use-frame.ts';
import type { Asked } from '../trace/use-trace.ts';
import DealsPanel from './DealsPanel.vue';
import DividePanel from './DividePanel.vue';
import GapPanel from './GapPanel.vue';
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
import MonthsPanel from './MonthsPanel.vue';
import NodeDialog, { type NodeSubject } from './NodeDialog.vue';
import ObjectiveDialog from './ObjectiveDialog.vue';
import PossiblePanel from './PossiblePanel.vue';
import { readPart } from './read-part.ts';
import ReasonDialog, { type AskedWords } from './ReasonDialog.vue';
import {
  gapOf,
  isDivided,
  linesOf,
  rankedLines,
  sizeIn,
  targetColumns,
  targetRow,
} from './target-rows.ts';
import { useTargets } from './use-targets.ts';

const plan = usePlan();
const { formats, scope, setScope, calendar, books, set } = useFrame();
const targets = useTargets();
const { tree, measure, size, failure, fiscalYear, reasonFor, offer, typed } = targets;
const { message, failed, refused, waiting, doubts } = typed;

const planner = usePlanner();
const nodes = computed(() => tree.value?.nodes ?? []);
const top = computed(() => nodes.value[0]);
const refusal = ref('');
const objective = ref('');
const subject = ref<NodeSubject>();
const addingObjective = ref(false);
const asked = ref<AskedWords>();
/** Something agreed is changed: why is asked for. */
watch(reasonFor, (now) => {
  if (!now) return;
  asked.value = {
    ...{ title: 'Change what is agreed', about: now.why, label: 'Reason', action: 'Change' },
    done: (reason) => now.again(reason),
  };
});
watch(asked, (now) => {
  if (!now) reasonFor.value = undefined;
});

function words(amount: number): string {
  return size.value.display === 'money'
    ? formats.value.inWords(amount / size.value.wholes)
    : formats.value.full(amount / size.value.wholes, size.value.display);
}

/** The objective that is shown, and the others of the year. */
const NEW = -1;
const objectives = computed(() => tree.value?.objectives ?? []);
const options = computed(() => [
  ...objectives.value.map(({ id, name }) => ({ value: id, name })),
  ...(planner.value ? [{ value: NEW, name: 'Add objective…' }] : []),
]);
function chooseObjective(id: number): void {
  if (id === NEW) addingObjective.value = true;
  else void targets.choose(id);
}
const RANKED = 'ranked';
const VIEWS = [
  { value: 'tree', name: 'Tree' },
  { value: RANKED, name: 'Ranked' },
];
const route = useRoute();
const view = computed(() => (route.query['view'] === RANKED ? RANKED : 'tree'));
const setView = (to: string) => set({ view: to === RANKED ? RANKED : undefined });

const headline = computed(() => targetHeadline(nodes.value, fiscalYear.value, words));
const state = computed(() => {
  const of = tree.value?.objective;
  const name = of?.name ?? 'Revenue';
  const what = meaningOf(measure.value).name;
  const called =
    name.toLowerCase() === what.toLowerCase()
      ? `${what} target`
      : `${name}: ${what.toLowerCase()} target`;
  const unitName = unitInWords(size.value.display, size.value.unit, formats.value);
  return `${called}, FY ${fiscalYear.value}, ${unitName}; closed through ${longMonth(plan.closedThrough)}; tick: target to date by its own season${books.value ? '; books only' : ''}`;
});

const { order, turnOrder, arrowOf } = useRowOrder();
const lines = computed(() => {
  if (view.value === RANKED) {
    const flat = rankedLines(nodes.value).map((line) => ({ ...line, level: 0, parent: false }));
    return inOrder(flat, order.value ?? BY_TO_DATE, sizeIn);
  }
  const placed = linesOf(nodes.value).map((line) =>
    line.kind === 'node'
      ? { ...line, level: line.node.level, parent: isDivided(line.node) }
      : { ...line, level: line.of.level + 1, parent: false },
  );
  return inOrder(placed, order.value, sizeIn);
});
/** Ranked, whoever is furthest behind stands first. */
const BY_TO_DATE = { column: 'toDate', descending: false } as const;
/** Everybody is in sight until a part is folded. */
const DEEPEST = 99;
const { visible, toggle, unfold } = useFolding(lines, DEEPEST, 'targets');
const findable = computed(() =>
  lines.value.flatMap((line) =>
    line.kind === 'node' ? [{ key: line.key, label: line.node.name }] : [],
  ),
);
const capacity = computed(() => nodes.value.some((node) => node.capacity !== null));
const columns = computed(() =>
  targetColumns(planner.value, capacity.value).map((column) => ({
    ...column,
    ...arrowOf(column.key),
  })),
);
const rows = computed(() => {
  const look = {
    ...size.value,
    formats: formats.value,
    capacity: capacity.value,
  };
  const flat = view.value === RANKED ? { level: 0, parent: false, strong: false } : {};
  return visible.value.map((line) => ({
    ...targetRow(line, look),
    ...flat,
    ...(view.value === RANKED && line.kind === 'node' ? { label: apart(line.node) } : {}),
    folded: line.folded,
  }));
});
/** Without the tree around them, teams of one name are told apart by what is above. */
function apart({ name, kind, parent }: TargetNode): string {
  const above = nodes.value.find(({ id }) => id === parent);
  return kind === 'person' || !above ? name : `${name}, ${above.name}`;
}
const byKey = computed(() => new Map(lines.value.map((line) => [line.key, line])));

const minorDigits = computed(() => plan.workspace?.plan.currency.minorDigits ?? 2);
async function begin(): Promise<void> {
  const read = readPart(objective.value, formats.value, 10 ** minorDigits.value);
  if ('reason' in read) refusal.value = read.reason;
  else if (read.part.kind === 'percent')
    refusal.value = 'The target of the whole company is an amount';
  else {
    refusal.value = '';
    await targets.setObjective(read.part.amount);
  }
}

const year = computed(() => fiscalYearSpan(fiscalYear.value, calendar.value.fiscalStart));
const treeView = computed<TargetTreeView>(() => {
  const { fiscalStart } = calendar.value;
  const { from, to } = year.value;
  return {
    nodes: nodes.value,
    measure: measure.value,
    wholes: size.value.wholes,
    year: year.value,
    closed: { from, to: Math.min(to, plan.closedThrough) },
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
        ? explainOthers(treeView.value, line.of, column)
        : explainRestOf(treeView.value, line.of)
      : EXPLAINED[column as keyof typeof EXPLAINED]?.(treeView.value, line.node);
  if (!node) return undefined;
  return { kind: 'node', node, about: state.value.split(';')[0] ?? '' };
}

/** The row that somebody was in last: what can be done with it is offered above the table. */
const visited = ref('');
const here = computed(() => {
  const line = byKey.value.get(visited.value);
  // Until somebody is in a row, it is the whole.
  return line?.kind === 'node' ? line.node : (line?.of ?? top.value);
});
/** What stands beside the table, and for which node. */
const panel = ref<{ readonly kind: PanelKind; readonly node: number }>();
type PanelKind = 'divide' | 'leave' | 'months' | 'deals' | 'possible' | 'gap';
const inPanel = computed(() => nodes.value.find(({ id }) => id === panel.value?.node));
const show = (kind: PanelKind, node: TargetNode): void =>
  void (panel.value = { kind, node: node.id });
const close = (): void => void (panel.value = undefined);
const closedMonths = computed(() =>
  Math.min(12, Math.max(0, plan.closedThrough - year.value.from + 1)),
);

interface RowAction {
  readonly name: string;
  readonly act: () => unknown;
}
/** What can be done with a node, in the order in which one does it. */
function actionsOf(node: TargetNode): RowAction[] {
  const { name } = node;
  const reads: RowAction[] = [
    ...(gapOf(node) === null
      ? []
      : [{ name: `Why ${name} is ahead or behind`, act: () => show('gap', node) }]),
    { name: 'Is it possible?', act: () => show('possible', node) },
    ...(node.months ? [{ name: `Months of ${name}`, act: () => show('months', node) }] : []),
    { name: `Deal plan of ${name}`, act: () => show('deals', node) },
  ];
  if (!planner.value) return reads;
  const person = node.kind === 'person';
  const adds = meaningOf(measure.value).adds;
  return [
    { name: `Add below ${name}`, act: () => (subject.value = { kind: 'add', below: node }) },
    ...(isDivided(node) && adds
      ? [{ name: `Divide ${name}`, act: () => show('divide', node) }]
      : []),
    { name: `Edit ${name}`, act: () => (subject.value = { kind: 'edit', node }) },
    ...reads,
    ...(node.parent === null
      ? []
      : [
          {
            name: node.locked ? `Unlock ${name}` : `Lock ${name}`,
            act: () => targets.set(node, { locked: !node.locked }),
          },
        ]),
    ...(person && adds ? [{ name: `${name} leaves`, act: () => show('leave', node) }] : []),
    ...statesOf(node),
    ...(node.parent !== null && !isDivided(node)
      ? [{ name: `Remove ${name}`, act: () => targets.remove(node) }]
      : []),
  ];
}
/** Handing out, agreeing and questioning. */
function statesOf(node: TargetNode): RowAction[] {
  const { name, state } = node;
  const become = (to: TargetNode['state'], comment = '') =>
    targets.set(node, { state: to, comment });
  const agree = { name: `Agree the target of ${name}`, act: () => become('agreed') };
  const question = {
    name: `Question the target of ${name}`,
    act: () =>
      (asked.value = {
        ...{ title: `Question the target of ${name}`, label: 'Question', action: 'Save' },
        begins: node.comment ?? '',
        done: (comment: string) => become('questioned', comment),
      }),
  };
  const back = { name: `Take ${name} back into draft`, act: () => become('draft') };
  switch (state) {
    case 'draft':
      return [{ name: `Hand out ${name}`, act: () => targets.handOut(node) }];
    case 'handedOut':
      return [agree, question, back];
    case 'questioned':
      return [agree, { name: `Hand out ${name} again`, act: () => become('handedOut') }];
    case 'agreed':
      return [question, back];
  }
}
function rowActions(row: string): RowAction[] {
  const line = byKey.value.get(row);
  const node = line?.kind === 'node' ? line.node : line?.of;
  return node ? actionsOf(node) : [];
}
const hereActions = computed(() => (here.value ? actionsOf(here.value) : []));
/** What one does most stands beside the heading, in short: the menu beside it says of whom. */
const FIRST = ['Divide', 'Add below'];
const firstActions = computed(() =>
  FIRST.flatMap((short) => {
    const action = hereActions.value.find(({ name }) => name.startsWith(`${short} `));
    return action ? [{ ...action, short }] : [];
  }),
);
/** What was said of the node that somebody is in. */
const comment = computed(() =>
  here.value?.comment ? `${here.value.name}: ${here.value.comment}` : '',
);
function renameObjective(): void {
  const of = tree.value?.objective;
  if (!of) return;
  asked.value = {
    ...{ title: `Rename ${of.name}`, label: 'Name', action: 'Rename', begins: of.name },
    done: (name) =>
      targets.renameObjective(of.id, name).catch((error: unknown) => {
        refusal.value = inWords(error);
      }),
  };
}
</script>

<template>
  <RoomPage
    :heading="headline"
    :state="state"
    :failure="refusal || failure"
    :shows="['books', 'unit']"
  >
    <template #shown>
      <Choice
        v-if="options.length > 0 && tree?.objective"
        about="Objective"
        :label="tree.objective.name"
        :options="options"
        :chosen="tree.objective.id"
        @choose="chooseObjective"
      />
      <Choice
        v-if="top"
        about="Arranged"
        :label="view === RANKED ? 'Ranked' : 'Tree'"
        :options="VIEWS"
        :chosen="view"
        @choose="setView"
      />
    </template>
    <template v-if="top" #actions>
      <v-btn
        v-for="(action, place) in firstActions"
        :key="action.name"
        color="primary"
        :variant="place === 0 ? 'flat' : 'outlined'"
        :aria-label="action.name"
        @click="action.act()"
      >
        {{ action.short }}
      </v-btn>
      <v-menu v-if="hereActions.length > 0">
        <template #activator="{ props: activator }">
          <v-btn v-bind="activator" color="primary" :append-icon="mdiMenuDown">
            {{ here?.name }}
          </v-btn>
        </template>
        <v-list role="menu" :aria-label="`Actions for ${here?.name ?? ''}`">
          <v-list-item
            v-for="action in hereActions"
            :key="action.name"
            role="menuitem"
            :title="action.name"
            @click="action.act()"
          />
        </v-list>
      </v-menu>
    </template>
    <template v-if="top" #menu>
      <v-list-item
        role="menuitem"
        title="Is it possible?"
        @click="panel = { kind: 'possible', node: top.id }"
      />
      <template v-if="planner && tree?.objective">
        <v-list-item
          role="menuitem"
          :title="`Add objective to FY ${fiscalYear}`"
          @click="addingObjective = true"
        />
        <v-list-item
          role="menuitem"
          :title="`Rename objective ${tree.objective.name}`"
          @click="renameObjective"
        />
        <v-list-item
          role="menuitem"
          :title="`Remove objective ${tree.objective.name}`"
          @click="targets.removeObjective(tree.objective.id)"
        />
      </template>
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
        <v-btn color="primary" @click="addingObjective = true">Another objective</v-btn>
      </form>
      <p v-else class="quiet">A planner can set it.</p>
    </EmptyState>
    <template v-else-if="tree">
      <p v-if="message" :class="failed ? 'failure' : 'quiet'" :role="failed ? 'alert' : 'status'">
        {{ message }}
      </p>
      <p v-if="offer && planner" class="controls" role="status">
        {{ offer.node.name }} is {{ words(offer.becomes) }} now; parts that are amounts stay as they
        are.
        <v-btn size="small" color="primary" @click="targets.passDown">
          Pass down in proportion
        </v-btn>
        <v-btn size="small" variant="plain" @click="offer = undefined">Leave them</v-btn>
      </p>
      <p v-if="comment" class="quiet">{{ comment }}</p>
      <TypedQuestion :doubts="doubts" @settle="typed.settle" />
      <div class="beside">
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
        <PossiblePanel v-if="panel?.kind === 'possible'" :nodes="nodes" @close="close" />
        <DividePanel
          v-else-if="inPanel && (panel?.kind === 'divide' || panel?.kind === 'leave')"
          :key="`${panel.kind} ${inPanel.id}`"
          :node="inPanel"
          :size="size"
          :leaving="panel.kind === 'leave'"
          :propose="targets.propose"
          :take="targets.divide"
          @close="close"
        />
        <GapPanel
          v-else-if="inPanel && panel?.kind === 'gap'"
          :node="inPanel"
          :size="size"
          :gap="targets.gap"
          @close="close"
        />
        <MonthsPanel
          v-else-if="inPanel && panel?.kind === 'months'"
          :node="inPanel"
          :size="size"
          :start="year.from"
          :editable="planner"
          :set="targets.set"
          @close="close"
        />
        <DealsPanel
          v-else-if="inPanel && panel?.kind === 'deals'"
          :key="inPanel.id"
          :node="inPanel"
          :size="size"
          :start="year.from"
          :closed="closedMonths"
          :editable="planner"
          :deals="targets.deals"
          :set="targets.set"
          @close="close"
        />
      </div>
    </template>
    <NodeDialog
      v-model="subject"
      :size="size"
      :nodes="nodes"
      :add="targets.add"
      :edit="targets.edit"
    />
    <ObjectiveDialog
      v-model="addingObjective"
      :fiscal-year="fiscalYear"
      :objectives="objectives"
      :add="targets.addObjective"
    />
    <ReasonDialog v-model="asked" />
  </RoomPage>
</template>

<style scoped>
.beside {
  flex: 1;
  display: flex;
  gap: 14px;
  min-height: 0;
}
.grid-place {
  flex: 1;
  min-width: 0;
  min-height: 0;
}
form.controls {
  align-items: flex-end;
}
</style>
