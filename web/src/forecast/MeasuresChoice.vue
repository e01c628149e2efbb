<script setup lang="ts">
import { type MeasuredCode, MEASURES, MEASURED_CODES } from '@dravex/core';
import { computed } from 'vue';
import { useArrangement } from './use-arrangement.ts';

/** Which measures the table shows, and whether they stand on its rows or its columns. */
const { measures, across, order, setMeasures, setAcross, setOrder } = useArrangement();

/** Costs of a forecast are not known yet. */
const OFFERED = MEASURED_CODES;
const label = computed(() => {
  const [first = 'revenue', ...more] = measures.value;
  const { name } = MEASURES[first];
  return more.length === 0 ? name : `${name} and ${more.length} more`;
});

/** What rows can be put in order by: the measures where they are columns, else the total. */
const columns = computed(() =>
  across.value
    ? measures.value.map((code) => ({ key: code as string, name: MEASURES[code].name }))
    : [{ key: 'total', name: 'by the total' }],
);
const ordered = computed(() => {
  const now = order.value;
  return now ? `${now.column}|${now.descending ? 'down' : 'up'}` : '';
});
function putInOrder(event: Event): void {
  const [column = '', way] = (event.target as HTMLSelectElement).value.split('|');
  void setOrder(column === '' ? undefined : { column, descending: way === 'down' });
}

function toggle(code: MeasuredCode, event: Event): void {
  const box = event.target as HTMLInputElement;
  const next = box.checked
    ? [...measures.value, code]
    : measures.value.filter((one) => one !== code);
  // A table shows at least one measure: the last one stays.
  if (next.length === 0) box.checked = true;
  else setMeasures(next);
}
</script>

<template>
  <v-menu location="bottom start" :offset="4" :close-on-content-click="false">
    <template #activator="{ props: activator }">
      <button v-bind="activator" type="button" class="chip" :aria-label="`Measure: ${label}`">
        {{ label }} <span class="caret" aria-hidden="true">▾</span>
      </button>
    </template>
    <div class="menu-sheet measures" role="group" aria-label="Measures">
      <div v-for="code in OFFERED" :key="code" class="measure">
        <input
          :id="`measure-${code}`"
          type="checkbox"
          :checked="measures.includes(code)"
          :aria-label="MEASURES[code].name"
          @change="toggle(code, $event)"
        />
        <label :for="`measure-${code}`">{{ MEASURES[code].name }}</label>
        <button
          type="button"
          class="link only"
          :aria-label="`Only ${MEASURES[code].name}`"
          @click="setMeasures([code])"
        >
          only
        </button>
      </div>
      <div class="group">They stand on</div>
      <label class="measure"
        ><input type="radio" name="across" :checked="!across" @change="setAcross(false)" /> rows,
        beside time</label
      >
      <label class="measure"
        ><input type="radio" name="across" :checked="across" @change="setAcross(true)" /> columns,
        over the window</label
      >
      <label class="group" for="rows-order">Rows in order</label>
      <select id="rows-order" :value="ordered" @change="putInOrder">
        <option value="">as the members stand</option>
        <template v-for="one in columns" :key="one.key">
          <option :value="`${one.key}|down`">{{ one.name }}, falling</option>
          <option :value="`${one.key}|up`">{{ one.name }}, rising</option>
        </template>
      </select>
    </div>
  </v-menu>
</template>

<style scoped>
.measures {
  padding: 8px 12px;
  min-width: 260px;
}
.measure {
  display: flex;
  align-items: center;
  gap: 8px;
  min-height: 28px;
  font-size: 13px;
}
.only {
  margin-left: auto;
  font-size: 12px;
}
.caret {
  color: var(--ink-quiet);
  font-size: 9px;
}
</style>
