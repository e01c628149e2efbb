<script setup lang="ts">
import { mdiMagnify } from '@mdi/js';
import { METHODS, monthFrom } from '@dravex/core';
import { computed, ref } from 'vue';
import { spanInWords } from '../format/periods.ts';
import type { StreamLine } from '../computation/forecast-answers.ts';
import { TEXTS } from './texts.ts';

/** Forecast lines to be chosen, with their methods and what is missing. */
const chosen = defineModel<number[]>({ required: true });
const props = defineProps<{ lines: readonly StreamLine[] }>();
const find = ref('');
const shown = computed(() => {
  const wanted = (find.value ?? '').trim().toLowerCase();
  return props.lines.filter(({ label }) => label.toLowerCase().includes(wanted));
});
/** `Volume x price, November 2026 to January 2027 reforecast` */
function methodInWords({ stream }: StreamLine): string {
  const { name } = METHODS[stream.method];
  const anew = (stream.settings?.anew ?? []).map(({ from, to }) =>
    spanInWords({ from: monthFrom(from), to: monthFrom(to) }),
  );
  return anew.length === 0 ? name : TEXTS.reforecastWith(name, anew.join(', '));
}
const all = computed({
  get: () =>
    shown.value.length > 0 && shown.value.every(({ stream }) => chosen.value.includes(stream.id)),
  set: (every: boolean) => (chosen.value = every ? shown.value.map(({ stream }) => stream.id) : []),
});
</script>

<template>
  <div class="pick">
    <v-text-field
      v-model="find"
      type="search"
      clearable
      :prepend-inner-icon="mdiMagnify"
      :placeholder="TEXTS.findForecastLine"
      :aria-label="TEXTS.findForecastLine"
    />
    <v-checkbox v-model="all" :label="TEXTS.all(shown.length)" />
  </div>
  <ul class="streams" tabindex="0" :aria-label="TEXTS.forecastLines">
    <li v-for="line in shown" :key="line.stream.id">
      <v-checkbox v-model="chosen" :value="line.stream.id">
        <template #label>
          {{ line.label }}&nbsp;<span class="quiet">{{ methodInWords(line) }}</span>
          <span v-if="line.problems.length > 0" class="waits" :title="line.problems.join('; ')"
            >&nbsp;{{ TEXTS.missing(line.problems.length) }}</span
          >
        </template>
      </v-checkbox>
    </li>
    <li v-if="shown.length === 0" class="quiet none">{{ TEXTS.noForecastLineContains(find) }}</li>
  </ul>
</template>

<style scoped>
.pick {
  display: flex;
  align-items: center;
  gap: 8px;
}
.pick .v-text-field {
  flex: 1;
}
.streams {
  margin: 0;
  padding: 0 4px;
  list-style: none;
  height: 132px;
  overflow: auto;
  border: 1px solid var(--line);
  background: var(--surface);
}
.none {
  padding: 4px;
}
</style>
