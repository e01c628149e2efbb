<script setup lang="ts">
import { budgetOperations, type VersionEntries } from '@dravex/contract';
import {
  isSubscriberMeasure,
  monthText,
  MEASURES,
  type MeasuredCode,
  type Span,
} from '@dravex/core';
import { computed } from 'vue';
import { whenInWords } from '../format/moments.ts';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { TEXTS } from './texts.ts';

/** What a number of a version is made of: what was kept, and every entry since, with its reason. */
const props = defineProps<{
  version: number;
  /** The moment as of which it is asked, if it is not now. */
  at?: string | undefined;
  scope: readonly number[];
  span: Span;
  measure: MeasuredCode;
}>();

const plan = usePlan();
const { minor, formats } = useFrame();

const { data, failure } = useAnswer(
  [() => props.version, () => props.at, () => props.scope, () => props.span, () => plan.tick],
  () =>
    plan.ask(budgetOperations.listEntries, {
      versionId: props.version,
      scope: props.scope.join(),
      from: monthText(props.span.from),
      to: monthText(props.span.to),
      ...(props.at === undefined ? {} : { at: props.at }),
    }),
);

type Row = VersionEntries['base'];
/** What a saved value or an entry comes to; of recurring revenue also who begins. */
function amount(row: Row, signed = true): string {
  const { measure } = props;
  const show = signed ? formats.value.signed : formats.value.show;
  const money = (value: number): string => show(value / minor.value, 'price');
  const more = TEXTS.new(show(row.starters, 'units'));
  switch (measure) {
    case 'units':
      return show(row.units, 'units');
    case 'newSubscribers':
      return show(row.starters, 'units');
    case 'recurringRevenue':
      return signed && row.starters !== 0
        ? [more, ...(row.recurring === 0 ? [] : [money(row.recurring)])].join(', ')
        : money(row.recurring);
    default:
      return money(measure === 'cost' ? (row.cost ?? 0) : row.revenue);
  }
}
/** Subscriptions move by what was typed into them only; a cell that follows is none of theirs. */
const entries = computed(() =>
  (data.value?.entries ?? []).filter(
    ({ starters, recurring }) =>
      !isSubscriberMeasure(props.measure) || starters !== 0 || recurring !== 0,
  ),
);
const what = computed(() =>
  props.measure === 'averagePrice' ? 'revenue' : MEASURES[props.measure].name.toLowerCase(),
);
</script>

<template>
  <section :aria-label="TEXTS.entries">
    <h3>{{ TEXTS.savedValueAndEntriesSince }}</h3>
    <p v-if="failure" class="failure" role="alert">{{ failure }}</p>
    <ol v-if="data">
      <li>
        <div class="line">
          <span>{{ TEXTS.saved(what) }}</span>
          <b class="figures">{{ amount(data.base, false) }}</b>
        </div>
      </li>
      <li v-for="entry in entries" :key="entry.journal" data-entry>
        <div class="line">
          <span>{{ entry.by }}, {{ whenInWords(entry.at, plan.locale) }}</span>
          <b class="figures">{{ amount(entry) }}</b>
        </div>
        <p class="quiet">
          {{ entry.what
          }}<template v-if="entry.cells > 1">{{ TEXTS.overCells(entry.cells) }}</template>
        </p>
        <p v-if="entry.why" class="quiet">“{{ entry.why }}”</p>
      </li>
    </ol>
    <p v-if="data && entries.length === 0" class="quiet">{{ TEXTS.noEntries }}</p>
  </section>
</template>
