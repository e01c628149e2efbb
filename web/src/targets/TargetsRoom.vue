<script setup lang="ts">
import { mdiMenuDown } from '@mdi/js';
import { targetOperations, type TargetNode } from '@dravex/contract';
import { fiscalYearSpan, meaningOf } from '@dravex/core';
import { computed, ref, watch } from 'vue';
import { useRoute } from 'vue-router';
import { longMonth } from '../format/periods.ts';
import { WORDS } from '../format/words.ts';
import type { GridPlace } from '../grid/plan-grid.ts';
import PlanGrid from '../grid/PlanGrid.vue';
import { unitInWords } from '../grid/table-rows.ts';
import { useFolding } from '../grid/use-folding.ts';
import { inOrder, useRowOrder } from '../grid/use-order.ts';
import Choice from '../kit/Choice.vue';
import EmptyState from '../kit/EmptyState.vue';
import { useRights } from '../people/use-planner.ts';
import TypedQuestion from '../plan/TypedQuestion.vue';
import { usePlan } from '../plan/use-plan.ts';
import { inWords } from '../shell/api.ts';
import { addressOf } from '../shell/client.ts';
import FileItem from '../shell/FileItem.vue';
import RoomPage from '../shell/RoomPage.vue';
import { useFrame } from '../shell/use-frame.ts';
import type { Asked } from '../trace/use-trace.ts';
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
import BroughtDialog from './BroughtDialog.vue';
import LettersView from './LettersView.vue';
import MoveDialog from './MoveDialog.vue';
import NodeDialog from './NodeDialog.vue';
import NodePanel from './NodePanel.vue';
import ObjectiveDialog from './ObjectiveDialog.vue';
import { readPart } from './read-part.ts';
import WordsDialog, { type AskedWords } from '../kit/WordsDialog.vue';
import {
  isDivided,
  linesOf,
  rankedLines,
  sizeIn,
  targetColumns,
  targetRow,
} from './target-rows.ts';
import { TEXTS } from './texts.ts';
import { useNodeActions, type NodeAction } from './use-node-actions.ts';
import { useTargets } from './use-targets.ts';

const plan = usePlan();
const { formats, scope, setScope, calendar, books, set } = useFrame();
const targets = useTargets();
const { tree, measure, size, year, closedMonths, failure, fiscalYear, reasonFor, offer, typed } =
  targets;
const { message, failed, refused, waiting, doubts } = typed;

const { plans: planner, divides, readsAll } = useRights();
const nodes = computed(() => tree.value?.nodes ?? []);
const top = computed(() => nodes.value[0]);
const refusal = ref('');
const objective = ref('');
const addingObjective = ref(false);
const bringing = ref(false);
const fileAs = (format: 'csv' | 'xlsx'): string => {
  const { workspaceId } = plan;
  const of = tree.value?.objective?.id;
  const inputs = { workspaceId, format, fiscalYear: fiscalYear.value };
  const asked = of === undefined ? inputs : { ...inputs, objective: of };
  return `/api${addressOf(targetOperations.saveTargets, asked)}`;
};
const asked = ref<AskedWords>();
/** Something agreed is changed: why is asked for. */
watch(reasonFor, (now) => {
  if (!now) return;
  asked.value = {
    ...{
      title: TEXTS.changeWhatIsAgreed,
      about: now.why,
      label: WORDS.reason,
      action: WORDS.change,
    },
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
  ...(planner.value ? [{ value: NEW, name: TEXTS.addObjective }] : []),
]);
function chooseObjective(id: number): void {
  if (id === NEW) addingObjective.value = true;
  else void targets.choose(id);
}
const RANKED = 'ranked';
const LETTERS = 'letters';
const VIEWS = [
  { value: 'tree', name: TEXTS.tree },
  { value: RANKED, name: TEXTS.ranked },
  { value: LETTERS, name: TEXTS.letters },
];
const route = useRoute();
const view = computed(() => {
  const asked = VIEWS.find(({ value }) => value === route.query['view']);
  return asked?.value ?? 'tree';
});
/** A link leads to somebody's row. */
const rowOfAddress = computed(() => {
  const { row } = route.query;
  return typeof row === 'string' && row !== '' ? row : undefined;
});
const setView = (to: string) => set({ view: to === 'tree' ? undefined : to });

const headline = computed(() => targetHeadline(nodes.value, fiscalYear.value, words));
const state = computed(() => {
  const of = tree.value?.objective;
  const name = of?.name ?? WORDS.revenue;
  const what = meaningOf(measure.value).name;
  const called =
    name.toLowerCase() === what.toLowerCase()
      ? TEXTS.targetOf(what)
      : TEXTS.targetWith(name, what.toLowerCase());
  const unitName = unitInWords(size.value.display, size.value.unit, formats.value);
  return TEXTS.fyClosedThroughTickTarget(
    called,
    fiscalYear.value,
    unitName,
    longMonth(plan.closedThrough),
    books.value,
  );
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
  targetColumns(divides.value, capacity.value).map((column) => ({
    ...column,
    ...arrowOf(column.key),
  })),
);
const rows = computed(() => {
  const look = {
    ...size.value,
    formats: formats.value,
    capacity: capacity.value,
    setsTop: planner.value,
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
  else if (read.part.kind === 'percent') refusal.value = TEXTS.targetOfWholeCompanyIs;
  else {
    refusal.value = '';
    await targets.setObjective(read.part.amount);
  }
}

const treeView = computed<TargetTreeView>(() => {
  const { fiscalStart } = calendar.value;
  const { from, to } = year.value;
  return {
    nodes: nodes.value,
    measure: measure.value,
    wholes: size.value.wholes,
    fiscalYear: fiscalYear.value,
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
const { subject, panel, inPanel, moving, close, actionsOf, canMove, move } = useNodeActions(
  targets,
  nodes,
  asked,
);
/** Rows of nodes are taken by their names and dropped on others. */
function canMoveRow(row: string): boolean {
  const line = byKey.value.get(row);
  return line?.kind === 'node' && canMove(line.node);
}
function rowActions(row: string): NodeAction[] {
  const line = byKey.value.get(row);
  const node = line?.kind === 'node' ? line.node : line?.of;
  return node ? actionsOf(node) : [];
}
const hereActions = computed(() => (here.value ? actionsOf(here.value) : []));
/** What one does most stands beside the heading, in short: the menu beside it says of whom. */
const FIRST = [TEXTS.divide, TEXTS.addBelow];
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
    ...{ title: TEXTS.renameOf(of.name), label: WORDS.name, action: TEXTS.rename, begins: of.name },
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
        :about="TEXTS.objective"
        :label="tree.objective.name"
        :options="options"
        :chosen="tree.objective.id"
        @choose="chooseObjective"
      />
      <Choice
        v-if="top"
        :about="TEXTS.arranged"
        :label="VIEWS.find(({ value }) => value === view)?.name ?? ''"
        :options="VIEWS"
        :chosen="view"
        @choose="setView"
      />
    </template>
    <template #actions>
      <template v-if="top">
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
          <v-list role="menu" :aria-label="TEXTS.actionsFor(here?.name ?? '')">
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
    </template>
    <template #menu>
      <template v-if="top">
        <v-list-item
          role="menuitem"
          :title="TEXTS.isItPossible"
          @click="panel = { kind: 'possible', node: top.id }"
        />
        <template v-if="readsAll">
          <FileItem :title="TEXTS.saveAllTargetsAsCsv" :address="fileAs('csv')" />
          <FileItem :title="TEXTS.saveAllTargetsAsWorkbook" :address="fileAs('xlsx')" />
        </template>
        <template v-if="planner && tree?.objective">
          <v-list-item role="menuitem" :title="TEXTS.importTargets" @click="bringing = true" />
          <v-list-item
            role="menuitem"
            :title="TEXTS.addObjectiveToFy(fiscalYear)"
            @click="addingObjective = true"
          />
          <v-list-item
            role="menuitem"
            :title="TEXTS.renameObjective(tree.objective.name)"
            @click="renameObjective"
          />
          <v-list-item
            role="menuitem"
            :title="TEXTS.removeObjective(tree.objective.name)"
            @click="targets.removeObjective(tree.objective.id)"
          />
        </template>
      </template>
    </template>
    <p v-if="scope.length > 0" class="quiet">
      {{ TEXTS.targetsFollowSalesOrganisationFilter }}
      <v-btn variant="plain" @click="setScope([])">{{ TEXTS.removeFilter }}</v-btn>
    </p>
    <EmptyState v-if="tree && !top && !readsAll" :heading="TEXTS.noTargetOfFyIs(fiscalYear)">
      <p>{{ TEXTS.ownerOfWorkspaceCanGive }}</p>
    </EmptyState>
    <EmptyState v-else-if="tree && !top" :heading="TEXTS.setTargetOfFy(fiscalYear)">
      <p>
        {{ TEXTS.enterRevenueTargetOfYear(formats.currency) }}
      </p>
      <form v-if="planner" class="controls" @submit.prevent="begin">
        <v-text-field
          v-model="objective"
          :label="TEXTS.revenueTarget"
          width="180"
          autocomplete="off"
        />
        <v-btn color="primary" variant="flat" type="submit">{{ TEXTS.setTarget }}</v-btn>
        <v-btn color="primary" @click="addingObjective = true">{{ TEXTS.anotherObjective }}</v-btn>
      </form>
      <p v-else class="quiet">{{ TEXTS.plannerCanSetIt }}</p>
    </EmptyState>
    <template v-else-if="tree">
      <p v-if="message" :class="failed ? 'failure' : 'quiet'" :role="failed ? 'alert' : 'status'">
        {{ message }}
      </p>
      <p v-if="offer && divides" class="controls" role="status">
        {{ TEXTS.isNowPartsThatAre(offer.node.name, words(offer.becomes)) }}
        <v-btn size="small" color="primary" @click="targets.passDown">
          {{ TEXTS.passDownInProportion }}
        </v-btn>
        <v-btn size="small" variant="plain" @click="offer = undefined">{{ TEXTS.leaveThem }}</v-btn>
      </p>
      <p v-if="comment" class="quiet">{{ comment }}</p>
      <TypedQuestion :doubts="doubts" @settle="typed.settle" />
      <LettersView
        v-if="view === LETTERS"
        :nodes="nodes"
        :size="size"
        :objective="tree.objective?.name ?? ''"
        :fiscal-year="fiscalYear"
        :start="year.from"
      />
      <div v-else class="beside">
        <div class="grid-place" data-grid="targets">
          <PlanGrid
            :label="WORDS.targets"
            :about="state"
            saves
            :heading="TEXTS.teamPerson"
            :columns="columns"
            :rows="rows"
            :editable="divides"
            :refused="refused"
            :waiting="waiting"
            sortable
            :ask="ask"
            :row-actions="rowActions"
            :moves="canMoveRow"
            :findable="findable"
            :at="rowOfAddress"
            @toggle="toggle"
            @unfold="unfold"
            @place="visited = $event.row"
            @edit="typed.edit"
            @move="(row, onto) => move(Number(row), Number(onto))"
            @order="turnOrder"
          />
        </div>
        <NodePanel
          v-if="panel"
          :kind="panel.kind"
          :node="inPanel"
          :nodes="nodes"
          :size="size"
          :start="year.from"
          :closed="closedMonths"
          :targets="targets"
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
    <MoveDialog v-model="moving" :nodes="nodes" :size="size" :set-parts="targets.setParts" />
    <WordsDialog v-model="asked" />
    <BroughtDialog
      v-model="bringing"
      :fiscal-year="fiscalYear"
      :objective="tree?.objective?.id"
      :done="targets.load"
    />
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
