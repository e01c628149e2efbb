<script setup lang="ts">
import { sheetOperations, type Sheet } from '@dravex/contract';
import { computed, ref } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import EmptyState from '../kit/EmptyState.vue';
import { useRights } from '../people/use-planner.ts';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import RoomPage from '../shell/RoomPage.vue';
import { useFrame } from '../shell/use-frame.ts';
import FilledSheetPage from './FilledSheetPage.vue';
import { isLate } from './sheet-rows.ts';
import SheetDialog from './SheetDialog.vue';
import SheetList from './SheetList.vue';
import { TEXTS } from './texts.ts';

/** Budget sheets: those of all for planners, one's own for whoever fills them in. */
const plan = usePlan();
const route = useRoute();
const router = useRouter();
const { plans, readsAll } = useRights();
const { calendar } = useFrame();
/** While numbers are typed into one of them the list waits. */
const CALM_MS = 800;
const { data: sheets, failure } = useAnswer(
  [() => plan.tick, () => plan.savedAt],
  () => plan.ask(sheetOperations.listSheets, {}),
  CALM_MS,
);
/** The sheet of the address; whoever has one only is in it. */
const id = computed(() => {
  const named = route.params['id'];
  if (typeof named === 'string' && named !== '') return named;
  const [only, ...more] = sheets.value ?? [];
  return readsAll.value || more.length > 0 ? undefined : only?.id;
});
const adding = ref(false);
const list = computed(() => sheets.value ?? []);
const heading = computed(() => {
  const all = list.value;
  if (all.length === 0) return TEXTS.noBudgetSheetsYet;
  const count = (of: (sheet: Sheet) => boolean): number => all.filter(of).length;
  const late = count((sheet) => isLate(sheet, calendar.value.asOf));
  const parts = [
    [count(({ state }) => state === 'handedIn'), TEXTS.handedInLower],
    [count(({ state }) => state === 'agreed'), 'agreed'],
    [late, 'late'],
  ] as const;
  const said = parts.flatMap(([number, what]) => (number > 0 ? [`${number} ${what}`] : []));
  const total = TEXTS.budgetSheetsOf(all.length);
  return said.length > 0 ? `${total}, ${said.join(', ')}` : total;
});
const look = (sheet: Sheet) =>
  router.push({ name: 'sheets', params: { id: sheet.id }, query: route.query });
</script>

<template>
  <FilledSheetPage v-if="id" :id="id" :others="readsAll || list.length > 1" />
  <RoomPage v-else :heading="heading" :failure="failure">
    <template v-if="plans && list.length > 0" #actions>
      <v-btn color="primary" variant="flat" @click="adding = true">{{ TEXTS.addSheet }}</v-btn>
    </template>
    <SheetList v-if="list.length > 0" :sheets="list" :planner="readsAll" />
    <EmptyState v-else-if="sheets && readsAll" :heading="TEXTS.letPeopleFillInTheir">
      <p>
        {{ TEXTS.sheetGivesSomebodyPartOf }}
      </p>
      <v-btn v-if="plans" color="primary" variant="flat" @click="adding = true">{{
        TEXTS.addSheet
      }}</v-btn>
    </EmptyState>
    <EmptyState v-else-if="sheets" :heading="TEXTS.noBudgetSheetIsHanded">
      <p>{{ TEXTS.plannerHandsItOutIt }}</p>
    </EmptyState>
    <SheetDialog v-model="adding" @kept="look" />
  </RoomPage>
</template>
