<script setup lang="ts">
import {
  dealPlanSchema,
  type DealPlanOf,
  type MadeDeals,
  type TargetNode,
  type TargetNodeChange,
} from '@dravex/contract';
import {
  bandsFromDeals,
  dealHints,
  dealPlan,
  dealsBySplit,
  dealsInBands,
  divide,
  fewestDeals,
  latestStart,
  type DealHint,
  type Month,
} from '@dravex/core';
import { mdiMinus, mdiPlus } from '@mdi/js';
import { computed, ref, watch } from 'vue';
import { shortMonth } from '../format/periods.ts';
import { WORDS } from '../format/words.ts';
import { unitInWords } from '../grid/table-rows.ts';
import SheetTable from '../kit/SheetTable.vue';
import Term from '../kit/Term.vue';
import { inWords } from '../shell/api.ts';
import SidePanel from '../shell/SidePanel.vue';
import { useFrame } from '../shell/use-frame.ts';
import type { TargetSize } from './read-part.ts';
import { peopleOf } from './target-rows.ts';
import { TEXTS } from './texts.ts';

/** A target as deals: how many of which size, what they come to, and when they are to begin. */
const props = defineProps<{
  node: TargetNode;
  /** All nodes in sight, by which the sellers of a team are counted. */
  nodes: readonly TargetNode[];
  size: TargetSize;
  start: Month;
  /** Months of the year that are closed. */
  closed: number;
  editable: boolean;
  deals: (node: TargetNode) => Promise<MadeDeals>;
  set: (node: TargetNode, change: TargetNodeChange) => Promise<unknown>;
}>();
const emit = defineEmits<{ close: [] }>();
const { formats } = useFrame();

const YEAR = 12;
const QUARTERS = 4;
const SIZES = [TEXTS.large, TEXTS.medium, TEXTS.small];
const EMPTY: DealPlanOf = {
  bands: SIZES.map((name) => ({ name, from: 0, value: 1, count: 0, winRate: 0.3, months: 3 })),
  sellers: 1,
  handles: 100,
};
const copy = (of: DealPlanOf): DealPlanOf => JSON.parse(JSON.stringify(of)) as DealPlanOf;
const draft = ref<DealPlanOf>(copy(EMPTY));
const made = ref<MadeDeals>();
const failure = ref('');
const busy = ref(false);

watch(
  () => props.node.id,
  async () => {
    draft.value = copy(props.node.deals ?? EMPTY);
    made.value = undefined;
    failure.value = '';
    try {
      made.value = await props.deals(props.node);
      if (!props.node.deals) begin();
    } catch (error) {
      failure.value = inWords(error);
    }
  },
  { immediate: true },
);

/** A plan that is begun: those who sell there, what they closed last year, and in which sizes. */
function begin(): void {
  const people = peopleOf(props.node, props.nodes).length;
  draft.value.sellers = Math.max(1, people);
  const closed = made.value?.lastYear.length ?? 0;
  if (closed > 0) draft.value.handles = Math.ceil(closed / draft.value.sellers);
  fromSales();
}

/** Bands and their averages from last year's sales documents; counts as they were. */
function fromSales(): void {
  const known = made.value?.lastYear.length ? made.value.lastYear : (made.value?.thisYear ?? []);
  const bands = bandsFromDeals(known);
  if (bands.length === 0) return;
  const names = bands.length === 3 ? SIZES : bands.map((_, place) => TEXTS.sizeOf(place + 1));
  draft.value.bands = bands.map((band, place) => ({
    ...{ winRate: 0.3, months: 3 },
    ...draft.value.bands[place],
    ...band,
    name: names[place] ?? '',
  }));
}

const handled = computed(() => draft.value.sellers * draft.value.handles);
const answer = computed(() =>
  dealPlan({
    objective: props.node.amount,
    tiers: draft.value.bands.map((band) => ({ ...band, count: Math.max(0, band.count || 0) })),
    periods: QUARTERS,
    sellers: draft.value.sellers,
  }),
);
const actual = computed(() => dealsInBands(made.value?.thisYear ?? [], draft.value.bands));
const hints = computed(() =>
  dealHints(draft.value.bands, { handled: handled.value, left: YEAR - props.closed }),
);
/** Whole deals a seller, adding up. */
const bySeller = computed(() => {
  const { deals } = answer.value;
  const { sellers } = draft.value;
  if (!Number.isInteger(deals) || !(sellers >= 1) || sellers > 500) return [];
  return divide(
    deals,
    Array.from({ length: sellers }, () => 1),
  );
});
const valid = computed(() => dealPlanSchema.safeParse(draft.value));
const problem = computed(() => valid.value.error?.issues[0]?.message ?? '');
const same = computed(() => JSON.stringify(draft.value) === JSON.stringify(props.node.deals));

function step(place: number, by: number): void {
  const band = draft.value.bands[place];
  if (band) band.count = Math.max(0, (band.count || 0) + by);
}
/** Whole deals by the split by value that stands, or that of the averages where nothing does. */
function bySplit(): void {
  const { bands } = draft.value;
  const standing = bands.map(({ value, count }) => value * count);
  const split = standing.some((value) => value > 0) ? standing : bands.map(() => 1);
  setCounts(dealsBySplit(props.node.amount, bands, split));
}
const notReached = ref(false);
function fewest(): void {
  const { counts, reached } = fewestDeals(props.node.amount, draft.value.bands, handled.value);
  setCounts(counts);
  notReached.value = !reached;
}
function setCounts(counts: readonly number[]): void {
  notReached.value = false;
  draft.value.bands.forEach((band, place) => (band.count = counts[place] ?? 0));
}
const money = (value: number): string =>
  formats.value.show(value / props.size.wholes, props.size.display, props.size.unit);
const average = (text: string, place: number): void => {
  const value = formats.value.read(text, false);
  const band = draft.value.bands[place];
  if (band && value !== undefined) band.value = Math.round(value * props.size.wholes);
};
const whole = (value: number | null): string =>
  value === null ? '–' : Math.ceil(value - 1e-9).toLocaleString();
const one = (value: number | null): string =>
  value === null ? '–' : formats.value.show(value, 'score');
function hintInWords(hint: DealHint): string {
  switch (hint.kind) {
    case 'few-large':
      return TEXTS.ofYearHangsOnDeals(
        formats.value.show(hint.share, 'percent'),
        hint.count,
        hint.band.toLowerCase(),
      );
    case 'too-many':
      return TEXTS.dealsAreMoreThanThat(hint.deals, hint.handled);
    case 'too-late':
      return TEXTS.dealsTakeMonthsAreLeft(hint.band, hint.months, hint.left);
  }
}
async function save(deals: DealPlanOf | null): Promise<void> {
  busy.value = true;
  try {
    await props.set(props.node, { deals });
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <SidePanel :heading="TEXTS.dealPlanOf(node.name)" :width="480" @close="emit('close')">
    <p>
      <b>{{ money(answer.revenue) }}</b>
      {{ TEXTS.of(money(node.amount), unitInWords(size.display, size.unit, formats)) }}
      <span :class="answer.gap < 0 ? 'waits' : 'good'">
        {{ money(Math.abs(answer.gap)) }}
        {{ answer.gap < 0 ? TEXTS.missing : TEXTS.moreThanTargetLower }}
      </span>
    </p>
    <SheetTable :about="TEXTS.dealsBySize">
      <thead>
        <tr>
          <th scope="col">{{ TEXTS.size }}</th>
          <th scope="col">{{ TEXTS.average }}</th>
          <th scope="col">{{ TEXTS.deals }}</th>
          <th scope="col">{{ TEXTS.soFar }}</th>
          <th scope="col">
            <Term of="winRate">{{ TEXTS.win }}</Term>
          </th>
          <th scope="col">{{ WORDS.months }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(band, place) in draft.bands" :key="place">
          <td>{{ band.name }}</td>
          <td class="average">
            <v-text-field
              :model-value="formats.typed(band.value / size.wholes, false)"
              :aria-label="TEXTS.averageValue(band.name)"
              :readonly="!editable"
              hide-details
              density="compact"
              @change="average(($event.target as HTMLInputElement).value, place)"
            />
          </td>
          <td class="count">
            <div>
              <v-btn
                v-if="editable"
                :icon="mdiMinus"
                size="x-small"
                variant="text"
                :aria-label="TEXTS.oneDealLess(band.name)"
                @click="step(place, -1)"
              />
              <v-text-field
                v-model.number="band.count"
                :aria-label="TEXTS.dealsOf(band.name)"
                :readonly="!editable"
                hide-details
                density="compact"
              />
              <v-btn
                v-if="editable"
                :icon="mdiPlus"
                size="x-small"
                variant="text"
                :aria-label="TEXTS.oneDealMore(band.name)"
                @click="step(place, 1)"
              />
            </div>
          </td>
          <td :title="money(actual[place]?.value ?? 0)">
            {{ actual[place]?.count ?? 0 }}
          </td>
          <td>
            <v-text-field
              :model-value="Math.round(band.winRate * 1000) / 10"
              :aria-label="TEXTS.winRateInPercent(band.name)"
              :readonly="!editable"
              hide-details
              density="compact"
              @update:model-value="band.winRate = Number($event) / 100"
            />
          </td>
          <td>
            <v-text-field
              v-model.number="band.months"
              :aria-label="TEXTS.monthsToClose(band.name)"
              :readonly="!editable"
              hide-details
              density="compact"
            />
          </td>
        </tr>
      </tbody>
    </SheetTable>
    <div class="two">
      <v-text-field
        v-model.number="draft.sellers"
        :label="TEXTS.sellers"
        :readonly="!editable"
        hide-details
      />
      <v-text-field
        v-model.number="draft.handles"
        :label="TEXTS.dealsSellerCanHandleYear"
        :readonly="!editable"
        hide-details
      />
    </div>
    <p v-if="failure || problem" class="failure" role="alert">{{ failure || problem }}</p>
    <ul v-if="hints.length > 0 || notReached" class="hints" :aria-label="TEXTS.hints">
      <li v-if="notReached">{{ TEXTS.allDealsThatCanBe }}</li>
      <li v-for="hint in hints" :key="hintInWords(hint)">{{ hintInWords(hint) }}</li>
    </ul>
    <SheetTable :about="TEXTS.whatPlanAsksFor">
      <thead>
        <tr>
          <th scope="col">{{ TEXTS.size }}</th>
          <th scope="col">{{ TEXTS.opportunities }}</th>
          <th scope="col">{{ TEXTS.latestStart }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(band, place) in draft.bands" :key="place">
          <td>{{ band.name }}</td>
          <td>{{ whole(answer.opportunities[place] ?? null) }}</td>
          <td>{{ shortMonth(start + latestStart(band, YEAR - 1), true) }}</td>
        </tr>
      </tbody>
    </SheetTable>
    <p class="quiet">
      {{
        TEXTS.dealsByQuarterBySeller(
          answer.deals,
          answer.wholeDealsByPeriod.join(', '),
          bySeller.length > 0 && bySeller.length <= 8 ? bySeller.join(', ') : '',
          one(answer.dealsPerSellerPerPeriod),
        )
      }}
    </p>
    <div v-if="editable" class="buttons">
      <v-btn
        color="primary"
        variant="flat"
        :disabled="problem !== '' || same"
        :loading="busy"
        @click="save(draft)"
      >
        {{ TEXTS.saveDealPlan }}
      </v-btn>
      <v-btn color="primary" @click="bySplit">{{ TEXTS.reachTheTarget }}</v-btn>
      <v-btn color="primary" @click="fewest">{{ TEXTS.fewestDeals }}</v-btn>
      <v-btn v-if="made?.lastYear.length" variant="plain" @click="fromSales">
        {{ TEXTS.sizesFromLastYear }}
      </v-btn>
      <v-btn v-if="node.deals" variant="plain" @click="save(null)">{{ TEXTS.removePlan }}</v-btn>
    </div>
  </SidePanel>
</template>

<style scoped>
p {
  margin: 0;
}
td :deep(.v-field) {
  --v-field-padding-start: 5px;
  --v-field-padding-end: 5px;
}
td :deep(input) {
  text-align: right;
  padding-inline: 4px;
}
.average {
  width: 88px;
}
.count {
  width: 146px;
}
.count > div {
  display: flex;
  align-items: center;
}
.count :deep(.v-input) {
  flex: 1;
}
td {
  padding-inline: 3px !important;
}
.waits,
.hints {
  color: var(--ember-ink);
}
.good {
  color: var(--good);
}
.hints {
  list-style: none;
  margin: 0;
  padding: 0;
}
.two {
  display: grid;
  grid-template-columns: 90px 1fr;
  gap: 12px;
}
.buttons {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
</style>
