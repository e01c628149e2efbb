<script setup lang="ts">
import { factOperations } from '@dravex/contract';
import type { PeriodValues, SourceLine, SubscriptionLine } from '@dravex/core';
import { computed, ref } from 'vue';
import PlateauChart from '../charts/PlateauChart.vue';
import { columnHeading, spanInWords } from '../format/periods.ts';
import { WORDS } from '../format/words.ts';
import { saveLines } from '../grid/grid-file.ts';
import GroupedTable, { type GroupedLine, type LineGroup } from '../kit/GroupedTable.vue';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { useWriting } from '../writing/use-writing.ts';
import AgainstVersion from './AgainstVersion.vue';
import { bridgeFileLines, type Against } from './bridge-lines.ts';
import { byAge } from './cohort-row.ts';
import CohortTable from './CohortTable.vue';
import { plateauInWords } from './plateau-words.ts';
import { cohortLines, movementLines, sourceFileLines } from './subscription-file.ts';
import WorthTable from './WorthTable.vue';
import { TEXTS } from './texts.ts';

/** The subscriptions of the scope: how subscribers and revenue move, cohorts, and where it leads. */
const plan = usePlan();
const { formats, unit, calendar, scope, span, grain, subject, version } = useFrame();
const { data, failure } = useAnswer([scope, span, grain, () => plan.tick], async () => ({
  span: { ...span.value },
  table: await plan.compute().subscriptions([...scope.value], { ...span.value }, grain.value),
}));
const table = computed(() => data.value?.table);
const VIEWS = [
  { value: 'movement', name: TEXTS.movement },
  { value: 'cohorts', name: TEXTS.cohorts },
  { value: 'kept', name: TEXTS.percentKept },
  { value: 'paid', name: TEXTS.cohortRevenue },
  { value: 'sources', name: TEXTS.sources },
  { value: 'worth', name: TEXTS.worth },
  { value: 'curve', name: TEXTS.curve },
  { value: 'against', name: TEXTS.againstVersion },
] as const;
/** Cohorts as their records have them; what is forecast goes on from there. */
const LONGEST = 1500;
const whose = computed(() => table.value?.combinations.join() ?? '');
const { data: records } = useAnswer([whose, () => plan.savedAt], async () =>
  whose.value === ''
    ? undefined
    : plan.ask(
        factOperations.readCohorts,
        // An address has an end; beyond it, the scope says nearly the same.
        whose.value.length < LONGEST
          ? { combinations: whose.value }
          : { scope: scope.value.join() },
      ),
);
const shown = ref<(typeof VIEWS)[number]['value']>('movement');
/** How the forecast differs from the version in force; asked for when it is looked at. */
const { data: against } = useAnswer(
  [scope, span, grain, version, shown, () => plan.tick],
  async (): Promise<Against | undefined> => {
    const chosen = version.value;
    if (!chosen || shown.value !== 'against') return undefined;
    await plan.loadVersion(chosen.id);
    const bridge = await plan
      .compute()
      .subscriptionBridge(chosen.id, [...scope.value], { ...span.value }, grain.value);
    return { name: chosen.name, bridge };
  },
);
const headings = computed(() =>
  (table.value?.periods ?? []).map((period) =>
    columnHeading(
      { key: period.key, label: period.key, period },
      data.value?.span ?? span.value,
      calendar.value.fiscalStart,
    ),
  ),
);
const BILLING: ReadonlySet<string> = new Set(['billed', 'earned', 'deferred']);
const STOCKS: ReadonlySet<string> = new Set(['active', 'revenueClosing', 'deferred']);
const show = (display: SubscriptionLine['display'] | 'price', value: number | null): string =>
  formats.value.show(value, display, display === 'money' ? unit.value : 1);
/** A line of the tables, as it is shown. */
const shownLine = (
  name: string,
  display: SubscriptionLine['display'] | 'price',
  { values, total }: PeriodValues,
  key = name,
): GroupedLine => ({
  ...{ key, name, strong: STOCKS.has(key), total: show(display, total) },
  cells: values.map((value) => show(display, value)),
});
const groups = computed((): LineGroup[] => {
  const all = table.value?.lines ?? [];
  const money = formats.value.unitName(unit.value);
  // What is billed as it is earned says nothing more than recurring revenue.
  const ahead = all.some(({ code, total }) => code === 'deferred' && total !== 0);
  const group = (name: string, of: (line: SubscriptionLine) => boolean): LineGroup => ({
    name,
    lines: all.filter(of).map((line) => shownLine(line.name, line.display, line, line.code)),
  });
  return [
    group(TEXTS.subscribers, ({ display }) => display === 'units'),
    group(
      TEXTS.recurringRevenueOf(money),
      ({ code, display }) => display === 'money' && !BILLING.has(code),
    ),
    group(TEXTS.billedAhead(money), ({ code }) => ahead && BILLING.has(code)),
  ].filter(({ lines }) => lines.length > 0);
});
/** So many months after the start are shown: what is forecast of the oldest cohort. */
const oldest = computed(() => {
  const { cohorts = [], months = [] } = table.value ?? {};
  const last = months.at(-1) ?? plan.closedThrough;
  return Math.max(0, ...cohorts.map(({ start }) => last - start));
});
/** The youngest that there are now come first, those to come after them. */
const rows = computed(() => {
  const of = shown.value === 'paid' ? 'revenue' : 'active';
  return byAge(records.value, table.value, oldest.value, of).reverse();
});
const COHORTS: ReadonlySet<string> = new Set(['cohorts', 'kept', 'paid']);
const ages = computed(() => Array.from({ length: oldest.value + 1 }, (_, age) => String(age)));
/** New subscribers by source: how many, what they bring, what they cost. */
const bySource = computed((): LineGroup[] => {
  const money = formats.value.unitName(unit.value);
  const sources = table.value?.sources ?? [];
  const group = (
    name: string,
    display: 'units' | 'money' | 'price',
    pick: (line: SourceLine) => PeriodValues,
  ): LineGroup => ({
    name,
    lines: sources.map((line) => shownLine(line.name, display, pick(line))),
  });
  const spent = sources.some(({ cost }) => cost.total !== 0);
  return [
    group(WORDS.newSubscribers, 'units', ({ starters }) => starters),
    group(TEXTS.revenueOfThoseWhoCame(money), 'money', ({ revenue }) => revenue),
    ...(spent
      ? [
          group(TEXTS.spentOf(money), 'money', ({ cost }) => cost),
          group(TEXTS.spentForOne, 'price', ({ costOfOne }) => costOfOne),
        ]
      : []),
  ];
});
const active = computed(() => table.value?.lines.find(({ code }) => code === 'active'));
const plateau = computed(() => table.value?.leadsTo?.plateau ?? null);
const { failure: unsaved, write } = useWriting();
/** The table in sight as a file: numbers in full, whose they are above them. */
function save(format: 'csv' | 'xlsx'): Promise<unknown> {
  const made = table.value;
  if (!made) return Promise.resolve();
  const currency = plan.workspace?.plan.currency.code ?? '';
  const cohorts = COHORTS.has(shown.value);
  const lines = cohorts
    ? cohortLines(rows.value, ages.value, shown.value === 'kept', plan.closedThrough)
    : shown.value === 'sources'
      ? sourceFileLines(made, currency)
      : shown.value === 'against' && against.value
        ? bridgeFileLines(against.value, currency)
        : movementLines(made, currency);
  const name =
    shown.value === 'paid'
      ? TEXTS.cohortRevenueOf(currency)
      : cohorts
        ? TEXTS.cohorts
        : TEXTS.subscriptions;
  const about = [subject.value, spanInWords(data.value?.span ?? span.value)];
  return write(() => saveLines(format, name, about, lines));
}
const leads = computed(() =>
  table.value ? plateauInWords(table.value.leadsTo, formats.value) : '',
);
</script>

<template>
  <p v-if="failure" class="failure" role="alert">{{ failure }}</p>
  <p v-else-if="table && table.combinations.length === 0" class="quiet">
    {{ TEXTS.noForecastLineHereIs }}
  </p>
  <p v-else-if="table && table.periods.length === 0" class="quiet">
    {{ TEXTS.thisPeriodHasNoOpen }}
  </p>
  <template v-else-if="table">
    <div class="controls">
      <v-btn-toggle
        v-model="shown"
        mandatory
        density="compact"
        :aria-label="TEXTS.subscriptionsShownAs"
      >
        <v-btn v-for="view in VIEWS" :key="view.value" :value="view.value">{{ view.name }}</v-btn>
      </v-btn-toggle>
      <p role="status" class="leads">{{ leads }}</p>
      <v-btn variant="plain" @click="save('csv')">{{ WORDS.saveAsCsv }}</v-btn>
      <v-btn variant="plain" @click="save('xlsx')">{{ WORDS.saveAsWorkbook }}</v-btn>
    </div>
    <p v-if="table.withoutCohorts && COHORTS.has(shown)" class="quiet">
      {{ TEXTS.customersWhoLeaveWholeAre }}
    </p>
    <p v-if="unsaved" class="failure" role="alert">{{ unsaved }}</p>
    <div class="subscriptions" tabindex="0" role="region" :aria-label="TEXTS.subscriptions">
      <GroupedTable
        v-if="shown === 'movement'"
        :about="TEXTS.subscribersAndRecurringRevenueOpen"
        :headings="headings"
        :groups="groups"
      />
      <GroupedTable
        v-else-if="shown === 'sources'"
        :about="TEXTS.newSubscribersBySourceOpen"
        :headings="headings"
        :groups="bySource"
      />
      <AgainstVersion v-else-if="shown === 'against'" :against="against" :headings="headings" />
      <WorthTable v-else-if="shown === 'worth'" :table="table" :headings="headings" />
      <PlateauChart
        v-else-if="shown === 'curve' && active"
        :label="TEXTS.activeSubscribersAndLevelAt"
        :headings="headings"
        :values="active.values"
        :plateau="plateau"
        :plateau-name="TEXTS.levelsOffAt(formats.show(plateau, 'units', 1))"
        :show="(value: number) => formats.show(value, 'units', 1)"
      />
      <CohortTable
        v-else
        :about="
          shown === 'paid'
            ? TEXTS.recurringRevenueByMonthsAfter(formats.currency)
            : TEXTS.cohortsByMonthsAfterStart
        "
        :headings="ages"
        :rows="rows"
        :as="shown === 'kept' ? 'percent' : shown === 'paid' ? 'money' : 'count'"
      />
    </div>
  </template>
</template>

<style scoped>
.subscriptions {
  overflow: auto;
  height: clamp(150px, 34vh, 270px);
  flex: none;
  background: var(--surface);
  border-top: 1px solid var(--ink);
}
.leads {
  flex: 1;
  min-width: 0;
}
/* Beside the views there is no room for a sentence. */
@media (max-width: 1180px) {
  .controls {
    flex-wrap: wrap;
    row-gap: 2px;
  }
  .leads {
    order: 1;
    flex-basis: 100%;
  }
}
</style>
