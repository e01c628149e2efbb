<script setup lang="ts">
import { MEASURE_CODES, MEASURES } from '@dravex/core';
import { computed, ref } from 'vue';
import { useRoute } from 'vue-router';
import { longMonth, monthsInWords, spanInWords } from '../format/periods.ts';
import { WORDS } from '../format/words.ts';
import { saveLines } from '../grid/grid-file.ts';
import RowsChoice from '../grid/RowsChoice.vue';
import { displayOf, measureInWords } from '../grid/table-rows.ts';
import Choice from '../kit/Choice.vue';
import SeveralChoice from '../kit/SeveralChoice.vue';
import { usePlan } from '../plan/use-plan.ts';
import { usePlanner } from '../people/use-planner.ts';
import EmbedDialog from '../reporting/EmbedDialog.vue';
import { inWords } from '../shell/api.ts';
import EmptyFilter from '../shell/EmptyFilter.vue';
import FileItems from '../shell/FileItems.vue';
import RoomPage from '../shell/RoomPage.vue';
import { useFrame } from '../shell/use-frame.ts';
import BridgeTable from './BridgeTable.vue';
import ThreadDialog from '../threads/ThreadDialog.vue';
import ThreadsDialog from '../threads/ThreadsDialog.vue';
import { commentsInWords, useThreads } from '../threads/use-threads.ts';
import AcrossTable from './AcrossTable.vue';
import ComparisonTable from './ComparisonTable.vue';
import { comparisonHeadline } from './headline.ts';
import LargestDifferences from './LargestDifferences.vue';
import MaterialityChoice from './MaterialityChoice.vue';
import { TEXTS } from './texts.ts';
import { useMateriality } from './use-materiality.ts';
import { ACROSS_OFFERED, MEASURES_OFFERED, useAcross } from './use-across.ts';
import { useComparison } from './use-comparison.ts';
import { TARGET, useSides } from './use-sides.ts';

/** Any source beside any other one: where they differ, and of revenue why. */
const plan = usePlan();
const {
  versionMeasure: measure,
  rowsInWords,
  books,
  unit,
  formats,
  fiscalYear,
  subjectOf,
  set,
} = useFrame();
const { of, against, beside, ofOffered, againstOffered, besideOffered, ...sides } = useSides();
const { compare, hold, putBeside } = sides;
const { least } = useMateriality();
const planner = usePlanner();
const embedding = ref(false);
const comments = useThreads('comparison', () => ({
  source: of.value.value,
  against: against.value.value,
}));
const { looked, listing, lookAt } = comments;

const route = useRoute();
/** Of sales, why they differ is asked of items or of drivers; the address says which. */
const byDriver = computed(() => route.query['why'] === 'driver');
const { across, measures, stand, turnMeasure } = useAcross();
const { data, failure, byPeople, unknown, targetMissing } = useComparison({
  ...{ of, against, beside, ...sides },
  ...{ across, measures, byDriver },
});

const peopleOnRows = computed(() =>
  byPeople.value && data.value ? rowsInWords(data.value.query.rows) : undefined,
);
/** What was sold, against the year before. */
const againstSales = (): Promise<unknown> =>
  set({ of: undefined, against: 'lastYear', beside: undefined });
const display = computed(() => displayOf(data.value?.query.measure ?? 'revenue'));
/** Both sides as other pages show them: sources as they are now. */
const embedded = computed(() => {
  const { of: held, against } = data.value?.sides ?? {};
  const named = [held, against].every(
    (side) => side && side.value !== TARGET && !side.value.includes('@'),
  );
  return held && against && named ? { held: held.value, against: against.value } : undefined;
});
const measuresInWords = computed(() => {
  const [first, ...more] = measures.value;
  const name = first ? MEASURES[first].name : '';
  return more.length === 0 ? name : TEXTS.andMore(name, more.length);
});
/** Other pages show what is sold; of subscriptions nothing is embedded. */
const embeds = computed(() =>
  byPeople.value ? undefined : MEASURE_CODES.find((code) => code === data.value?.query.measure),
);
const headline = computed(() => {
  const answer = data.value;
  if (!answer) return WORDS.comparison;
  const { comparison, query, sides } = answer;
  const found = comparisonHeadline(comparison, query.measure, formats.value, {
    of: sides.of.value === 'actual' ? undefined : sides.of.said,
    against: sides.against.said,
  });
  return query.scope.length > 0 && comparison.total?.variance
    ? `${subjectOf(query.scope)}: ${found.charAt(0).toLowerCase()}${found.slice(1)}`
    : found;
});
/** Which months of the window are left out because one of them does not have them. */
const cutInWords = computed(() => {
  const { comparison, query } = data.value ?? {};
  const found = comparison?.span;
  if (!found || !query) return '';
  const ends = [
    ...(found.from > query.span.from ? [TEXTS.from(longMonth(found.from))] : []),
    ...(found.to < query.span.to ? [TEXTS.through(longMonth(found.to))] : []),
  ];
  const all = data.value?.others.length ? 'all' : 'both';
  return ends.length > 0 ? `; ${all} ${ends.join(' ')}` : '';
});
const state = computed(() => {
  const answer = data.value;
  if (!answer) return '';
  const { comparison, query, sides } = answer;
  const months = spanInWords(comparison.span ?? query.span);
  const without = answer.noTarget ? TEXTS.fyHasNoTargetInIt(fiscalYear.value) : '';
  return TEXTS.lessOf(
    measureInWords(query.measure, unit.value, formats.value),
    months,
    sides.of.said,
    books.value,
    sides.against.said,
    cutInWords.value,
    without,
  );
});
/** Nothing of the window is compared: sales are not there yet, or the sides have no month in common. */
const nothing = computed(() => {
  const { sides, query, others = [] } = data.value ?? {};
  if (sides?.of.value === 'actual' && (query?.span.from ?? 0) > plan.closedThrough) {
    return TEXTS.noClosedMonthsInThis;
  }
  const names = [sides?.of.name, sides?.against.said, ...others.map(({ said }) => said)];
  return TEXTS.haveNoMonthOfThis(names.join(' and '));
});
const WHYS = [
  { value: 'item', name: TEXTS.byItemVolumeMixPrice },
  { value: 'driver', name: TEXTS.byDriverUnitsConversionChurn },
] as const;
const bridge = computed(() => {
  const { bridge: byItem, drivers } = data.value?.comparison ?? {};
  return (byDriver.value ? drivers : null) ?? byItem;
});
const steps = ref<InstanceType<typeof BridgeTable>>();
async function saveSteps(format: 'csv' | 'xlsx'): Promise<void> {
  const about = [plan.workspace?.name ?? '', headline.value, state.value];
  try {
    await saveLines(format, WORDS.steps, about, steps.value?.lines() ?? []);
  } catch (error) {
    plan.said = { text: inWords(error) };
  }
}
const besideInWords = computed(() => {
  const [first, ...more] = beside.value;
  if (!first) return 'and …';
  return more.length > 0 ? TEXTS.andOthers(more.length + 1) : TEXTS.and(first.said);
});
/** What is left of the plan of the year, beside the best month there was. */
const toGo = computed(() => {
  const { toGo: found, sides, query } = data.value ?? {};
  if (!found || !sides || !query) return '';
  const show = (value: number): string => formats.value.show(value, display.value, unit.value);
  const year = `FY ${fiscalYear.value}`;
  if (found.left <= 0)
    return TEXTS.whatHasForIsReached(sides.against.said, year, show(-found.left));
  const months =
    found.months === 1
      ? TEXTS.inMonthThatIsLeft
      : TEXTS.aMonthFor(show(found.each), monthsInWords(found.months));
  const best = found.best
    ? TEXTS.bestMonthSoFarWas(show(found.best.value), longMonth(found.best.month))
    : '';
  return TEXTS.toReachInStillTo(sides.against.said, year, show(found.left), months, best);
});
const picture = computed(() => {
  const { sides } = data.value ?? {};
  if (sides?.of.value !== 'actual') return WORDS.difference;
  return sides.against.value.startsWith('version:') ? TEXTS.budgetActual : TEXTS.beforeActual;
});
</script>

<template>
  <RoomPage
    :heading="headline"
    :state="state"
    :failure="failure"
    :shows="across === 'measures' ? ['books', 'unit'] : ['books', 'versionMeasure', 'unit']"
  >
    <template #shown>
      <RowsChoice people />
      <Choice
        :about="TEXTS.compared"
        :label="of.name"
        :options="ofOffered"
        :chosen="of.value"
        @choose="compare"
      />
      <Choice
        :about="WORDS.version"
        :label="TEXTS.against(against.said)"
        :options="againstOffered"
        :chosen="against.value"
        @choose="hold"
      />
      <Choice
        :about="WORDS.columns"
        :label="ACROSS_OFFERED.find(({ value }) => value === (across ?? 'none'))?.name ?? ''"
        :options="ACROSS_OFFERED"
        :chosen="across ?? 'none'"
        @choose="stand"
      />
      <SeveralChoice
        v-if="across === 'measures'"
        :about="WORDS.measures"
        :label="measuresInWords"
        :options="MEASURES_OFFERED"
        :chosen="measures"
        @turn="turnMeasure"
      />
      <SeveralChoice
        :about="TEXTS.beside"
        :label="besideInWords"
        :options="besideOffered"
        :chosen="beside.map(({ value }) => value)"
        @turn="putBeside"
      />
      <MaterialityChoice />
    </template>
    <template #menu>
      <template v-if="data">
        <FileItems
          :query="data.query"
          name="comparison"
          :sides="{
            of: data.sides.of.value,
            against: data.sides.against.value,
            ...(data.others.length > 0
              ? { beside: data.others.map(({ value }) => value).join(',') }
              : {}),
            ...(across ? { across } : {}),
            ...(across === 'measures' ? { measures: measures.join(',') } : {}),
          }"
        />
        <template v-if="bridge">
          <v-list-item role="menuitem" :title="TEXTS.saveStepsAsCsv" @click="saveSteps('csv')" />
          <v-list-item
            role="menuitem"
            :title="TEXTS.saveStepsAsWorkbook"
            @click="saveSteps('xlsx')"
          />
        </template>
        <v-list-item
          role="menuitem"
          :title="commentsInWords(comments.openCount.value)"
          @click="listing = true"
        />
        <v-list-item
          v-if="planner && embeds && embedded"
          role="menuitem"
          :title="WORDS.embedInAnotherPage"
          @click="embedding = true"
        />
      </template>
    </template>
    <EmptyFilter v-if="unknown" :heading="TEXTS.whoSoldAndWhoBought(unknown.said)">
      <p>{{ TEXTS.compareSalesWithEarlierYear }}</p>
      <v-btn color="primary" @click="againstSales">{{ TEXTS.againstLastYear }}</v-btn>
    </EmptyFilter>
    <EmptyFilter
      v-else-if="targetMissing"
      :heading="TEXTS.fyHasNoTargetIn(fiscalYear, MEASURES[measure].name.toLowerCase())"
    >
      <p>{{ TEXTS.setOneInTargetsOr }}</p>
    </EmptyFilter>
    <EmptyFilter
      v-else-if="data && !data.comparison.span"
      :heading="nothing"
      :instead="data.sides.of.value === 'actual' ? 'To date' : 'This year'"
    >
      <p v-if="data.sides.of.value === 'actual'">
        {{ TEXTS.salesAreComparedUpTo(longMonth(plan.closedThrough)) }}
      </p>
    </EmptyFilter>
    <EmptyFilter
      v-else-if="data && data.comparison.rows.length === 0"
      :heading="TEXTS.noSalesAndNoPlan"
    />
    <template v-else-if="data">
      <div v-if="toGo || data.comparison.drivers" class="controls causes">
        <p class="quiet">{{ toGo }}</p>
        <Choice
          v-if="data.comparison.drivers"
          :about="TEXTS.why"
          :label="byDriver ? TEXTS.whyByDriver : TEXTS.whyByItem"
          :options="WHYS"
          :chosen="byDriver ? 'driver' : 'item'"
          @choose="(by) => set({ why: by === 'driver' ? 'driver' : undefined })"
        />
      </div>
      <BridgeTable
        v-if="bridge"
        ref="steps"
        :bridge="bridge"
        :actual="data.sides.of.name"
        :plan="data.sides.against.name"
      />
      <div class="beside">
        <div class="grid-place" data-grid="comparison">
          <AcrossTable
            v-if="data.across"
            :about="state"
            :across="data.across"
            :scope="data.query.scope"
            :actual="{ name: data.sides.of.name, is: data.actual }"
            :planned="{ name: data.sides.against.name, is: data.planned }"
            :beside="data.others"
            :least="least"
            :by-people="peopleOnRows"
          />
          <ComparisonTable
            v-else
            :label="WORDS.comparison"
            place="comparison"
            :picture="picture"
            :about="state"
            :comparison="data.comparison"
            :query="data.query"
            :actual="data.actual"
            :actual-name="data.sides.of.name"
            :against="data.planned"
            :against-name="data.sides.against.name"
            :beside="data.others"
            :by-hand="data.byHand"
            :least="least"
            :comments="comments.on.value"
            :by-people="peopleOnRows"
          />
        </div>
        <!-- More columns need the place; each of them names its own differences. -->
        <LargestDifferences
          v-if="data.others.length === 0 && !data.across"
          :rows="data.comparison.rows"
          :scope="data.query.scope"
          :measure="data.query.measure"
          :least="least"
        />
      </div>
      <ThreadDialog
        v-model="looked"
        :thread="comments.thread.value"
        :whose="TEXTS.less(data.sides.of.name, data.sides.against.name)"
      />
      <ThreadsDialog v-model="listing" :threads="comments.threads.value" @look="lookAt" />
      <EmbedDialog
        v-if="embeds && embedded"
        v-model="embedding"
        :measured="MEASURES[data.query.measure].name"
        :against="data.sides.against.said"
        :query="{
          of: 'comparison',
          origin: books ? 'books' : 'all',
          measure: embeds,
          rows: [...data.query.rows],
          ...embedded,
        }"
      />
    </template>
  </RoomPage>
</template>

<style scoped>
.causes {
  justify-content: space-between;
}
.beside {
  flex: 1;
  display: flex;
  gap: 18px;
  min-height: 0;
}
.grid-place {
  flex: 1;
  min-width: 0;
  min-height: 0;
}
</style>
