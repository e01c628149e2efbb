<script setup lang="ts">
import { headsFor, type SubscriptionTable } from '@dravex/core';
import { computed } from 'vue';
import { useRoute } from 'vue-router';
import { WORDS } from '../format/words.ts';
import SheetTable from '../kit/SheetTable.vue';
import { useFrame } from '../shell/use-frame.ts';
import { TEXTS } from './texts.ts';
import { worthLines } from './worth-lines.ts';

/** What a new subscriber is worth and how each figure is made; churn and retention; people needed. */
const props = defineProps<{ table: SubscriptionTable; headings: readonly string[] }>();
const { formats, set } = useFrame();
const route = useRoute();
const MOST = 1_000_000;
/** So many subscribers one person, or one machine, can serve; it stands in the address. */
const perHead = computed(() => {
  const said = Number(route.query['perHead']);
  return said > 0 && said <= MOST ? said : null;
});
function setPerHead(typed: string): void {
  const value = formats.value.read(typed, false);
  set({ perHead: value !== undefined && value > 0 && value <= MOST ? String(value) : undefined });
}
const figures = computed(() =>
  props.table.worth ? worthLines(props.table.worth, formats.value) : [],
);
const active = computed(() => props.table.lines.find(({ code }) => code === 'active'));
const heads = (count: number | null): string =>
  count === null || perHead.value === null
    ? ''
    : formats.value.show(headsFor(count, perHead.value), 'units', 1);
</script>

<template>
  <SheetTable class="dense" :about="TEXTS.whatNewSubscriberIsWorth">
    <thead>
      <tr>
        <th scope="col" class="words">{{ TEXTS.aNewSubscriber }}</th>
        <th scope="col"></th>
        <th scope="col" class="words">{{ TEXTS.howItIsCalculated }}</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="figure in figures" :key="figure.name">
        <th scope="row" class="words">
          {{ figure.name }}
        </th>
        <td class="value">{{ figure.value }}</td>
        <td class="words quiet">{{ figure.how }}</td>
      </tr>
    </tbody>
  </SheetTable>
  <SheetTable class="dense" :about="TEXTS.churnRetentionAndPeopleNeeded">
    <thead>
      <tr>
        <th scope="col" class="words">{{ TEXTS.keptAndLost }}</th>
        <th scope="col">{{ WORDS.total }}</th>
        <th v-for="heading in headings" :key="heading" scope="col">{{ heading }}</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="line in table.rates" :key="line.code">
        <th scope="row" class="words">{{ line.name }}</th>
        <td class="value">{{ formats.show(line.total, 'percent') }}</td>
        <td v-for="(value, place) in line.values" :key="place">
          {{ formats.show(value, 'percent') }}
        </td>
      </tr>
      <tr>
        <th scope="row" class="words">
          <label class="heads">
            {{ TEXTS.peopleNeededOneFor }}
            <v-text-field
              width="84"
              inputmode="numeric"
              :aria-label="TEXTS.subscribersThatOnePersonServes"
              :model-value="perHead === null ? '' : formats.typed(perHead, false)"
              @change="setPerHead(($event.target as HTMLInputElement).value)"
            />
            {{ TEXTS.subscribersLower }}
          </label>
        </th>
        <td class="value">{{ heads(active?.total ?? null) }}</td>
        <td v-for="(value, place) in active?.values ?? []" :key="place">{{ heads(value) }}</td>
      </tr>
    </tbody>
  </SheetTable>
</template>

<style scoped>
.value {
  font-weight: 620;
}
.heads {
  display: flex;
  align-items: center;
  gap: 6px;
  color: var(--ink);
}
</style>
