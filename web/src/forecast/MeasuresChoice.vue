<script setup lang="ts">
import { mdiMenuDown } from '@mdi/js';
import { type MeasuredCode, MEASURES, MEASURED_CODES } from '@dravex/core';
import { computed } from 'vue';
import { WORDS } from '../format/words.ts';
import { TEXTS } from './texts.ts';
import { useArrangement } from './use-arrangement.ts';

/** Which measures the table shows, and whether they stand on its rows or its columns. */
const { measures, across, order, setMeasures, setAcross, setOrder } = useArrangement();

const label = computed(() => {
  const [first = 'revenue', ...more] = measures.value;
  const { name } = MEASURES[first];
  return more.length === 0 ? name : TEXTS.andMore(name, more.length);
});

const AXES = [
  { value: false, name: TEXTS.rowsByTime },
  { value: true, name: TEXTS.columnsForPeriod },
];
/** What rows can be put in order by: the measures where they are columns, else the total. */
const orders = computed(() => {
  const columns = across.value
    ? measures.value.map((code) => ({ key: code as string, name: MEASURES[code].name }))
    : [{ key: 'total', name: WORDS.total }];
  return [
    { value: '', name: TEXTS.standardOrder },
    ...columns.flatMap(({ key, name }) => [
      { value: `${key}|down`, name: TEXTS.largestFirst(name) },
      { value: `${key}|up`, name: TEXTS.smallestFirst(name) },
    ]),
  ];
});
const ordered = computed(() => {
  const now = order.value;
  return now ? `${now.column}|${now.descending ? 'down' : 'up'}` : '';
});
function putInOrder(wanted: string): void {
  const [column = '', way] = wanted.split('|');
  void setOrder(column === '' ? undefined : { column, descending: way === 'down' });
}

function toggle(code: MeasuredCode): void {
  const there = measures.value.includes(code);
  setMeasures(there ? measures.value.filter((one) => one !== code) : [...measures.value, code]);
}
</script>

<template>
  <v-menu :close-on-content-click="false">
    <template #activator="{ props: activator }">
      <v-btn v-bind="activator" :append-icon="mdiMenuDown" :aria-label="TEXTS.measure(label)">
        {{ label }}
      </v-btn>
    </template>
    <div class="menu-sheet measures" role="group" :aria-label="WORDS.measures">
      <div v-for="code in MEASURED_CODES" :key="code" class="measure">
        <v-checkbox
          :model-value="measures.includes(code)"
          :label="MEASURES[code].name"
          :disabled="measures.length === 1 && measures.includes(code)"
          @update:model-value="toggle(code)"
        />
        <v-btn
          variant="plain"
          :aria-label="TEXTS.onlyOf(MEASURES[code].name)"
          @click="setMeasures([code])"
        >
          {{ TEXTS.only }}
        </v-btn>
      </div>
      <v-select
        :label="TEXTS.measuresIn"
        :model-value="across"
        :items="AXES"
        @update:model-value="(yes: boolean) => setAcross(yes)"
      />
      <v-select
        :label="TEXTS.sortRows"
        :model-value="ordered"
        :items="orders"
        @update:model-value="putInOrder"
      />
    </div>
  </v-menu>
</template>

<style scoped>
.measures {
  padding: 8px 12px 12px;
  min-width: 260px;
}
.measure {
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 8px;
}
</style>
