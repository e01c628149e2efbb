<script setup lang="ts">
import { sheetOperations, type Brought, type SheetLine, type SheetState } from '@dravex/contract';
import { monthFrom } from '@dravex/core';
import { computed, ref } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { dayInWords } from '../format/moments.ts';
import { longMonth, spanInWords } from '../format/periods.ts';
import { WORDS } from '../format/words.ts';
import type { GridPlace } from '../grid/plan-grid.ts';
import PlanGrid from '../grid/PlanGrid.vue';
import { unitInWords } from '../grid/table-rows.ts';
import { useFolding } from '../grid/use-folding.ts';
import { inOrder, useRowOrder } from '../grid/use-order.ts';
import WordsDialog, { type AskedWords } from '../kit/WordsDialog.vue';
import { useRights } from '../people/use-planner.ts';
import FilledFileDialog from '../plan/FilledFileDialog.vue';
import TypedQuestion from '../plan/TypedQuestion.vue';
import { DIVISIONS, SPREAD_BASES } from '../plan/planned-words.ts';
import { usePlan } from '../plan/use-plan.ts';
import { addressOf, callWithFile } from '../shell/client.ts';
import FileItem from '../shell/FileItem.vue';
import RoomPage from '../shell/RoomPage.vue';
import type { Asked } from '../trace/use-trace.ts';
import { useWriting } from '../writing/use-writing.ts';
import SheetDialog from './SheetDialog.vue';
import { numberIn, sheetColumns, sheetHeadline, sheetRow, STATES, STEPS } from './sheet-rows.ts';
import { askLine } from './sheet-trace.ts';
import StepsDialog from './StepsDialog.vue';
import { TEXTS } from './texts.ts';
import { useSheet } from './use-sheet.ts';

/** One sheet: its lines, filled in as any table is, and the steps of its way. */
const props = defineProps<{
  id: string;
  /** Whether there are others to go back to. */
  others: boolean;
}>();
const plan = usePlan();
const route = useRoute();
const router = useRouter();
const { plans, readsAll } = useRights();
const { filled, look, failure, load, typed, say, step } = useSheet(() => props.id);
const { message, failed, refused, waiting, doubts } = typed;
const sheet = computed(() => filled.value?.sheet);

const headline = computed(() =>
  filled.value && look.value ? sheetHeadline(filled.value, look.value) : TEXTS.budgetSheet,
);
const state = computed(() => {
  const [now, shown] = [sheet.value, look.value];
  if (!now || !shown || !filled.value) return '';
  const months = spanInWords({ from: monthFrom(now.from), to: monthFrom(now.to) });
  const what = now.measure === 'revenue' ? WORDS.revenue : WORDS.units;
  const unit = unitInWords(shown.display, shown.unit, shown.formats);
  const due = now.due ? TEXTS.dueOf(dayInWords(now.due, plan.locale)) : '';
  const whose = readsAll.value ? TEXTS.forOf(now.personName) : TEXTS.yourSheet;
  return TEXTS.closedThrough(
    what,
    unit,
    now.versionName,
    months,
    whose,
    due,
    STATES[now.state],
    longMonth(monthFrom(filled.value.closedThrough)),
  );
});
/** What was said with the last step, as long as none follows. */
const said = computed(() => {
  const last = sheet.value?.steps.at(-1);
  if (!last || last.text === '') return undefined;
  const { by, at, text, state: to } = last;
  const what = TEXTS.byOf(STEPS[to], by, dayInWords(at, plan.locale), text);
  return { what, waits: to === 'questioned' };
});

/** How a number came about, for whoever reads all that it rests on. */
function ask({ row, column }: GridPlace): Asked | undefined {
  const [now, shown] = [filled.value, look.value];
  const line = now?.lines.find(({ key }) => key === row);
  if (!readsAll.value || !now || !shown || !line) return undefined;
  return askLine(now, line, column, shown, plan.workspace?.plan.calendar.fiscalStart ?? 1);
}

const { order, turnOrder, arrowOf } = useRowOrder();
const lines = computed(() =>
  inOrder(filled.value?.lines ?? [], order.value, (line, column) => numberIn(line, column)),
);
const DEEPEST = 99;
const { visible, toggle, unfold } = useFolding(lines, DEEPEST, 'sheet');
const columns = computed(() =>
  sheetColumns(TEXTS.plan).map((column) => ({ ...column, ...arrowOf(column.key) })),
);
const rows = computed(() => {
  const shown = look.value;
  if (!shown) return [];
  return visible.value.map((line) => ({
    ...sheetRow(line, columns.value, shown),
    folded: line.folded,
  }));
});
const findable = computed(() => lines.value.map(({ key, name }) => ({ key, label: name })));

const asked = ref<AskedWords>();
const lineOf = (key: string): SheetLine | undefined => lines.value.find((line) => line.key === key);
/** What can be said of a line, in the menu of its row. */
function rowActions(key: string) {
  const line = lineOf(key);
  if (!line || !sheet.value?.open) return [];
  const { name } = line;
  return [
    {
      name: TEXTS.commentOn(name),
      act: () =>
        (asked.value = {
          ...{ title: TEXTS.commentOn(name), label: WORDS.comment, action: WORDS.save },
          ...{ begins: line.comment, empties: true },
          done: (comment: string) => say(line, { comment }),
        }),
    },
    ...(line.parent
      ? []
      : [
          {
            name: line.locked ? TEXTS.unlock(name) : TEXTS.lock(name),
            act: () => say(line, { locked: !line.locked }),
          },
          ...SPREAD_BASES.filter((basis) => basis !== line.basis).map((basis) => ({
            name: TEXTS.divideOverMonths(name, DIVISIONS[basis]),
            act: () => say(line, { basis }),
          })),
        ]),
  ];
}

/** The steps that lead on from here for whoever looks, the one that is expected first. */
const steps = computed((): { name: string; act: () => unknown }[] => {
  const now = sheet.value;
  if (!now) return [];
  const go = (to: SheetState) => () => step(to);
  const back = {
    name: TEXTS.sendBack,
    act: () =>
      (asked.value = {
        ...{ title: TEXTS.sendBackOf(now.title), label: TEXTS.question, action: TEXTS.sendBack },
        done: (text: string) => step('questioned', text),
      }),
  };
  const hand = { name: TEXTS.handIn, act: go('handedIn') };
  if (!plans.value) return now.open ? [hand] : [];
  switch (now.state) {
    case 'draft':
      return [{ name: TEXTS.handOut, act: go('handedOut') }];
    case 'handedIn':
      return [{ name: TEXTS.agree, act: go('agreed') }, back];
    case 'agreed':
      return [back];
    default:
      return [{ name: TEXTS.takeBack, act: go('draft') }];
  }
});
const editing = ref(false);
const recording = ref(false);
const bringing = ref(false);
const fileAs = (format: 'csv' | 'xlsx'): string => {
  const { workspaceId } = plan;
  return `/api${addressOf(sheetOperations.saveSheet, { workspaceId, sheet: props.id, format })}`;
};
const bring = (file: File, how: Brought) =>
  callWithFile(
    sheetOperations.bringSheet,
    { workspaceId: plan.workspaceId, sheet: props.id, ...how },
    file,
  );
async function taken(text: string): Promise<void> {
  await load();
  plan.said = { text, undo: 'budget' };
}
const removing = useWriting();
const toAll = () => router.push({ name: 'sheets', query: route.query });
const remove = () =>
  removing.write(
    () => plan.ask(sheetOperations.removeSheet, { sheet: props.id }),
    () => {
      plan.said = { text: TEXTS.removed(sheet.value?.title ?? TEXTS.theSheet), undo: 'budget' };
      return toAll();
    },
  );
</script>

<template>
  <RoomPage
    :heading="headline"
    :state="state"
    :failure="failure || removing.failure.value"
    :shows="look?.display === 'money' ? ['unit'] : []"
    own-scope
  >
    <template v-if="steps.length > 0" #actions>
      <v-btn
        v-for="(one, place) in steps"
        :key="one.name"
        color="primary"
        :variant="place === 0 ? 'flat' : 'outlined'"
        @click="one.act()"
      >
        {{ one.name }}
      </v-btn>
    </template>
    <template #menu>
      <v-list-item v-if="others" role="menuitem" :title="TEXTS.allSheets" @click="toAll" />
      <FileItem :title="TEXTS.saveAsWorkbookToFill" :address="fileAs('xlsx')" />
      <FileItem :title="TEXTS.saveAsCsvToFill" :address="fileAs('csv')" />
      <v-list-item
        v-if="sheet?.open"
        role="menuitem"
        :title="TEXTS.importFilledInFile"
        @click="bringing = true"
      />
      <v-list-item role="menuitem" :title="TEXTS.stepsSoFar" @click="recording = true" />
      <template v-if="plans && sheet">
        <v-list-item role="menuitem" :title="TEXTS.editSheet" @click="editing = true" />
        <v-list-item role="menuitem" :title="TEXTS.removeSheet" @click="remove" />
      </template>
    </template>
    <p v-if="said" :class="said.waits ? 'waits' : 'quiet'">{{ said.what }}</p>
    <p v-if="message" :class="failed ? 'failure' : 'quiet'" :role="failed ? 'alert' : 'status'">
      {{ message }}
    </p>
    <TypedQuestion :doubts="doubts" @settle="typed.settle" />
    <div v-if="filled" class="grid-place" data-grid="sheet">
      <PlanGrid
        :label="TEXTS.budgetSheet"
        :about="state"
        :heading="TEXTS.line"
        :columns="columns"
        :rows="rows"
        :editable="filled.sheet.open"
        :refused="refused"
        :waiting="waiting"
        sortable
        :untraced="!readsAll"
        :ask="ask"
        :row-actions="rowActions"
        :findable="findable"
        @toggle="toggle"
        @unfold="unfold"
        @edit="typed.edit"
        @order="turnOrder"
      />
    </div>
    <WordsDialog v-model="asked" />
    <StepsDialog v-if="sheet" v-model="recording" :sheet="sheet" />
    <FilledFileDialog
      v-if="look"
      v-model="bringing"
      :from="TEXTS.thisSheet"
      :bring="bring"
      @taken="taken"
    />
    <SheetDialog v-if="plans && sheet" v-model="editing" :sheet="sheet" @kept="load" />
  </RoomPage>
</template>

<style scoped>
.grid-place {
  flex: 1;
  min-height: 0;
}
</style>
