<script setup lang="ts">
import { budgetOperations, momentShape, type Brought, type Version } from '@dravex/contract';
import {
  FILLED_MEASURES,
  isWithinMonth,
  monthFrom,
  nameOfSource,
  sameSource,
  VERSION_CODES,
  versionSource,
  type VersionMeasure,
} from '@dravex/core';
import { computed, ref } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { dayInWords, whenInWords } from '../format/moments.ts';
import { spanInWords } from '../format/periods.ts';
import { WORDS } from '../format/words.ts';
import FiguresGrid from '../grid/FiguresGrid.vue';
import RowsChoice from '../grid/RowsChoice.vue';
import { measureInWords } from '../grid/table-rows.ts';
import { usePlanner } from '../people/use-planner.ts';
import { amountInWords } from '../forecast/headline.ts';
import LedgerDialog from '../ledger/LedgerDialog.vue';
import FilledFileDialog from '../plan/FilledFileDialog.vue';
import TypedQuestion from '../plan/TypedQuestion.vue';
import { DIVISIONS, SPREAD_BASES } from '../plan/planned-words.ts';
import { usePlan } from '../plan/use-plan.ts';
import { alone, measureOf, useFigures } from '../forecast/use-tables.ts';
import Choice from '../kit/Choice.vue';
import EmptyFilter from '../shell/EmptyFilter.vue';
import EmptyState from '../kit/EmptyState.vue';
import { addressOf, callWithFile } from '../shell/client.ts';
import FileItem from '../shell/FileItem.vue';
import FileItems from '../shell/FileItems.vue';
import WhyField from '../journal/WhyField.vue';
import { useAnswer } from '../plan/use-answer.ts';
import RoomPage from '../shell/RoomPage.vue';
import { useFrame } from '../shell/use-frame.ts';
import { useWriting } from '../writing/use-writing.ts';
import AddLineDialog from './AddLineDialog.vue';
import CopyDialog from './CopyDialog.vue';
import KeepDialog from './KeepDialog.vue';
import MomentDialog from './MomentDialog.vue';
import NeededDialog from './NeededDialog.vue';
import PlanFileDialog from './PlanFileDialog.vue';
import { TEXTS } from './texts.ts';
import { useEntries } from './use-entries.ts';
import ThreadDialog from '../threads/ThreadDialog.vue';
import ThreadsDialog from '../threads/ThreadsDialog.vue';
import { commentsInWords, useThreads } from '../threads/use-threads.ts';
import { useWarnings } from './use-warnings.ts';
import VersionsDialog from './VersionsDialog.vue';
import WarningsDialog from './WarningsDialog.vue';

const plan = usePlan();
const { version, versions, versionMeasure, formats, unit, span, subjectOf, set, setSpan } =
  useFrame();
/** The moment as of which the version is read; now without one. */
const route = useRoute();
const router = useRouter();
const moment = computed(() => momentShape.at.safeParse(route.query['at']).data);
const momentInWords = computed(() =>
  moment.value === undefined ? '' : whenInWords(moment.value, plan.locale),
);
const source = computed(() => version.value && versionSource(version.value.id, moment.value));
const {
  data: answered,
  failure,
  settled,
} = useFigures(() => source.value, {
  measures: computed(() => [versionMeasure.value]),
  days: true,
});
/** The answer for the version in force; one of the version before it is no answer. */
const data = computed(() =>
  sameSource(answered.value?.source, source.value) ? answered.value : undefined,
);
const entries = useEntries(() => version.value, settled);
const { keeps, message: typedMessage, failed, refused, waiting, doubts, journal, spread } = entries;

const planner = usePlanner();
const keeping = ref(false);
const copying = ref(false);
const choosingMoment = ref(false);
const addingLine = ref(false);
const byAccount = ref(false);
/** It takes what is entered: open, and shown as it is now. */
const open = computed(() => version.value?.state === 'open' && moment.value === undefined);
/** The measure of the numbers in sight, which may be overtaken by the one that is asked. */
const shown = computed<VersionMeasure>(
  () =>
    VERSION_CODES.find((code) => data.value?.query.measures.includes(code)) ?? versionMeasure.value,
);
/** Which numbers of the table have entries below them. */
const touched = useAnswer([data], async () => {
  const answer = data.value;
  const id = version.value?.id;
  if (!answer || id === undefined || moment.value !== undefined) return undefined;
  return plan.compute().entriesTable(id, alone(answer.query, measureOf(answer.query)), shown.value);
});
/** What stays when a total that is a price times a number is entered. */
const KEEPS = {
  revenue: [
    { value: 'units', name: TEXTS.unitsStayPriceChanges },
    { value: 'price', name: TEXTS.priceStaysUnitsChange },
  ],
  recurringRevenue: [
    { value: 'units', name: TEXTS.newSubscribersStayPriceChanges },
    { value: 'price', name: TEXTS.priceStaysNewSubscribersChange },
  ],
} as const;
const choices = computed(() => {
  const { value } = versionMeasure;
  return value === 'revenue' || value === 'recurringRevenue' ? KEEPS[value] : undefined;
});

const { failure: problem, write } = useWriting();
const at = (kept: Version) => ({ versionId: kept.id });
const seal = (kept: Version) =>
  write(
    () => plan.ask(budgetOperations.sealVersion, at(kept)),
    () => (plan.said = { text: TEXTS.isLocked(kept.name), undo: 'budget' }),
  );
const remove = (kept: Version) =>
  write(
    () => plan.ask(budgetOperations.deleteVersion, at(kept)),
    () => {
      plan.said = { text: WORDS.deleted(kept.name), undo: 'budget' };
      return set({ version: undefined });
    },
  );
/** A version that was just made; it is looked at when that is wanted, since all rooms follow. */
const made = ref<{ readonly id: number; readonly said: string }>();
const madeVersion = computed(() => plan.versions.find(({ id }) => id === made.value?.id));
async function show({ id, from, to }: Version): Promise<void> {
  made.value = undefined;
  const covers = monthFrom(from) <= span.value.to && span.value.from <= monthFrom(to);
  await set({ version: String(id), ...(covers ? {} : { from, to }) });
}
/** Whoever copies goes on in the copy, over its months. */
async function copied(id: number): Promise<void> {
  const copy = plan.versions.find((candidate) => candidate.id === id);
  if (copy) await set({ version: String(id), from: copy.from, to: copy.to });
}
/** The version as it is now, against itself as it was. */
function compareWithNow(): Promise<unknown> {
  const id = version.value?.id ?? 0;
  const sides = { of: `version:${id}`, against: `version:${id}@${moment.value ?? ''}` };
  return router.push({
    name: 'comparison',
    query: { ...route.query, at: undefined, ...sides },
  });
}
const listing = ref(false);
const needing = ref(false);
const comments = useThreads('budget', () => {
  const source = version.value && nameOfSource(versionSource(version.value.id));
  return source === undefined ? undefined : { source, against: null };
});
const { looked, listing: listingComments, lookAt } = comments;
const warnings = useWarnings(
  () => version.value,
  () => comments.threads.value,
);
const toCheck = warnings.openCount;
const checking = ref(false);

/** Months are planned; weeks and days are read. */
const ofMonths = computed(() => !isWithinMonth(data.value?.query.grain ?? 'month'));

const covered = computed(() =>
  version.value
    ? { from: monthFrom(version.value.from), to: monthFrom(version.value.to) }
    : undefined,
);
/** There are versions, but none that is in use. */
const archived = computed(() => version.value === undefined && plan.versions.length > 0);
const headline = computed(() => {
  const kept = version.value;
  const answer = data.value;
  if (!kept) return archived.value ? TEXTS.everyVersionIsArchived : TEXTS.noBudgetIsSavedYet;
  const value = answer?.table.totals[0]?.total.value;
  if (!answer || value === undefined) return kept.name;
  if (value === null || answer.table.rows.length === 0) return TEXTS.hasNoValuesInThis(kept.name);
  const { scope: asked } = answer.query;
  const where = asked.length > 0 ? TEXTS.for(subjectOf(asked)) : '';
  const amount = amountInWords(value, shown.value, formats.value);
  return TEXTS.plans(kept.name, moment.value !== undefined, amount, where);
});
const state = computed(() => {
  const kept = version.value;
  const answer = data.value;
  if (!kept || !answer || !covered.value) return '';
  const day = dayInWords(kept.createdAt, plan.locale);
  return TEXTS.savedBy(
    measureInWords(shown.value, unit.value, formats.value),
    spanInWords(answer.query.span),
    ofMonths.value,
    day,
    kept.createdBy,
    kept.state === 'open',
    momentInWords.value === '',
    momentInWords.value,
    kept.note ? `, “${kept.note}”` : '',
  );
});
/** Part of the window lies outside the version: its columns are empty, and that is said. */
const outside = computed(() => {
  const months = covered.value;
  if (!months) return false;
  return span.value.from < months.from || span.value.to > months.to;
});

/** What is shown as a table by line and month that can be filled in. */
const filledAs = computed(() => {
  const [of, answer] = [version.value, data.value];
  const measure = FILLED_MEASURES.find((code) => code === shown.value);
  if (!of || !answer || !measure) return undefined;
  const { rows, scope } = answer.query;
  const asked = { measure, rows: rows.join(','), scope: scope.join(',') };
  return (format: 'csv' | 'xlsx'): string => {
    const { workspaceId } = plan;
    const inputs = { workspaceId, versionId: of.id, format, ...asked };
    return `/api${addressOf(budgetOperations.saveFilled, inputs)}`;
  };
});
const bringing = ref(false);
const importing = ref(false);
const bring = (file: File, how: Brought) =>
  callWithFile(
    budgetOperations.bringFilled,
    { workspaceId: plan.workspaceId, versionId: version.value?.id ?? 0, ...how },
    file,
  );
function taken(text: string): void {
  plan.said = { text, undo: 'budget' };
}

/** The version in force stays; without any the new one is it. */
function kept(id: number, missing: number): void {
  const without = missing > 0 ? TEXTS.withoutCellsInWhichInput(missing) : '';
  made.value = { id, said: TEXTS.savedOf(without) };
}
</script>

<template>
  <RoomPage
    :heading="headline"
    :state="state"
    :failure="failure || problem"
    :shows="['versionMeasure', 'days', 'unit']"
  >
    <template #shown>
      <Choice
        v-if="version"
        :about="WORDS.version"
        :label="version.name"
        :options="versions.map(({ id, name }) => ({ value: id, name }))"
        :chosen="version.id"
        @choose="set({ version: String($event) })"
      />
      <RowsChoice with-columns />
    </template>
    <template #actions>
      <template v-if="planner">
        <v-btn v-if="version && open" color="primary" variant="flat" @click="seal(version)">
          {{ TEXTS.lockBudget }}
        </v-btn>
        <v-btn color="primary" @click="copying = true">{{ TEXTS.copyWithUplift }}</v-btn>
        <v-btn color="primary" @click="keeping = true">{{ TEXTS.saveForecastAsVersion }}</v-btn>
      </template>
    </template>
    <template #menu>
      <template v-if="version">
        <FileItems
          v-if="data"
          :query="data.query"
          name="table/measured"
          :version="version.id"
          :at="moment"
        />
        <template v-if="filledAs">
          <FileItem :title="TEXTS.saveAsWorkbookToFill" :address="filledAs('xlsx')" />
          <FileItem :title="TEXTS.saveAsCsvToFill" :address="filledAs('csv')" />
        </template>
        <v-list-item
          v-if="planner && open"
          role="menuitem"
          :title="TEXTS.addLine"
          @click="addingLine = true"
        />
        <v-list-item
          v-if="planner && open"
          role="menuitem"
          :title="TEXTS.importFilledInFile"
          @click="bringing = true"
        />
        <v-list-item
          v-if="planner && open"
          role="menuitem"
          :title="TEXTS.importPlanFromFile"
          @click="importing = true"
        />
        <v-list-item
          role="menuitem"
          :title="TEXTS.revenueNeededForProfit"
          @click="needing = true"
        />
        <v-list-item
          role="menuitem"
          :title="TEXTS.budgetByLedgerAccount"
          @click="byAccount = true"
        />
        <v-list-item
          role="menuitem"
          :title="TEXTS.asOfEarlierTime"
          @click="choosingMoment = true"
        />
        <v-list-item role="menuitem" :title="TEXTS.allVersions" @click="listing = true" />
        <v-list-item
          role="menuitem"
          :title="WORDS.budgetSheets"
          :to="{ name: 'sheets', query: $route.query }"
        />
        <v-list-item
          role="menuitem"
          :title="toCheck > 0 ? TEXTS.whatToCheckOf(toCheck) : TEXTS.whatToCheck"
          @click="checking = true"
        />
        <v-list-item
          role="menuitem"
          :title="commentsInWords(comments.openCount.value)"
          @click="listingComments = true"
        />
        <v-list-item
          v-if="planner"
          role="menuitem"
          :title="TEXTS.deleteOf(version.name)"
          @click="remove(version)"
        />
      </template>
    </template>
    <p v-if="made" class="quiet" role="status">
      {{ made.said }}
      <v-btn
        v-if="madeVersion && madeVersion.id !== version?.id"
        variant="plain"
        @click="show(madeVersion)"
      >
        {{ TEXTS.showInAllRoomsOf(madeVersion.name) }}
      </v-btn>
    </p>
    <div v-if="planner && version && !moment" class="controls typing no-print">
      <p v-if="version.state !== 'open'" class="quiet">{{ TEXTS.lockedCopyItToMake }}</p>
      <p v-else-if="open && !ofMonths" class="quiet">
        {{ TEXTS.weeksAndDaysAreRead }}
      </p>
      <Choice
        v-if="open && ofMonths && choices"
        :about="TEXTS.whenRevenueIsEntered"
        :label="
          TEXTS.whenRevenueIsEnteredOf(choices.find(({ value }) => value === keeps)?.name ?? '')
        "
        :options="choices"
        :chosen="keeps"
        @choose="keeps = $event"
      />
      <p v-if="open && spread" role="status" data-spread>
        {{ TEXTS.spreadOverCells(spread.cells) }}
        <template v-for="(basis, place) in SPREAD_BASES" :key="basis">
          <span v-if="place > 0" aria-hidden="true"> · </span>
          <b v-if="basis === spread.basis">{{ DIVISIONS[basis] }}</b>
          <v-btn v-else variant="plain" @click="entries.respread(basis)">{{
            DIVISIONS[basis]
          }}</v-btn>
        </template>
      </p>
      <p
        v-if="typedMessage"
        :class="failed ? 'failure' : 'quiet'"
        :role="failed ? 'alert' : 'status'"
      >
        {{ typedMessage }}
      </p>
      <WhyField v-if="open" :journal="journal" />
    </div>
    <p v-if="moment && version" class="waits" role="status">
      {{ TEXTS.asItWasOn(version.name, momentInWords) }}
      <v-btn variant="plain" @click="set({ at: undefined })">{{ TEXTS.showCurrentNumbers }}</v-btn>
      <span aria-hidden="true"> · </span>
      <v-btn variant="plain" @click="compareWithNow">{{ TEXTS.whatHasChangedSince }}</v-btn>
    </p>
    <TypedQuestion :doubts="doubts" @settle="entries.settle" />
    <p v-if="outside && covered && data?.table.rows.length" class="waits">
      {{ TEXTS.coversOnly(version?.name ?? '', spanInWords(covered)) }}
      <v-btn variant="plain" @click="setSpan(covered.from, covered.to)">{{
        TEXTS.showTheseMonths
      }}</v-btn>
    </p>
    <EmptyState v-if="archived" :heading="TEXTS.restoreOrSaveAnother">
      <v-btn color="primary" variant="flat" @click="listing = true">{{ TEXTS.allVersions }}</v-btn>
    </EmptyState>
    <EmptyState v-else-if="!version" :heading="TEXTS.saveForecastAsBudget">
      <p>{{ TEXTS.versionKeepsNumbersAsThey }}</p>
      <v-btn v-if="planner" color="primary" variant="flat" @click="keeping = true">
        {{ TEXTS.saveForecastAsVersion }}
      </v-btn>
    </EmptyState>
    <EmptyFilter
      v-else-if="data && data.table.rows.length === 0"
      :heading="TEXTS.hasNoValuesHere(version.name)"
    >
      <template v-if="covered && outside">
        <p>{{ TEXTS.itCovers(spanInWords(covered)) }}</p>
        <v-btn color="primary" @click="setSpan(covered.from, covered.to)">{{
          TEXTS.showTheseMonths
        }}</v-btn>
      </template>
    </EmptyFilter>
    <div v-else-if="data" class="grid-place" data-grid="budget">
      <FiguresGrid
        :label="WORDS.budget"
        :about="state"
        :table="data.table"
        :query="data.query"
        :source="data.source"
        :dress="version.state === 'open' ? 'kept' : 'locked'"
        :entries="touched.data.value"
        :editable="planner && open && ofMonths"
        :refused="refused"
        :waiting="waiting"
        :comments="ofMonths && !moment ? comments.on.value : undefined"
        :waits="warnings.rows.value"
        @edit="entries.edit"
      />
      <ThreadDialog v-model="looked" :thread="comments.thread.value" :whose="version?.name ?? ''" />
      <WarningsDialog
        v-model="checking"
        :checks="warnings.checks.value"
        :repeats="warnings.repeats.value"
        :dismiss="warnings.dismiss"
      />
      <ThreadsDialog v-model="listingComments" :threads="comments.threads.value" @look="lookAt" />
    </div>
    <KeepDialog v-model="keeping" @kept="kept" />
    <FilledFileDialog
      v-if="version"
      v-model="bringing"
      :from="TEXTS.inAnyOfItsArrangements(version.name)"
      :bring="bring"
      @taken="taken"
    />
    <PlanFileDialog v-if="version" v-model="importing" :version="version" @taken="taken" />
    <MomentDialog
      v-if="version"
      v-model="choosingMoment"
      :version="version"
      :at="moment"
      @choose="(at) => set({ at })"
    />
    <LedgerDialog v-if="version" v-model="byAccount" :version="version" :editable="planner" />
    <AddLineDialog v-if="version" v-model="addingLine" :version="version" />
    <NeededDialog v-if="version" v-model="needing" :version="version" :enters="planner && open" />
    <VersionsDialog v-model="listing" :version="version" @show="show" />
    <CopyDialog v-model="copying" :version="version" @copied="copied" />
  </RoomPage>
</template>

<style scoped>
.typing {
  min-height: 24px;
  gap: 14px;
}
.grid-place {
  flex: 1;
  min-height: 0;
}
</style>
