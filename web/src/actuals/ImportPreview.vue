<script setup lang="ts">
import type { ImportPreview, RowProblem } from '@dravex/contract';
import { monthFrom } from '@dravex/core';
import { computed } from 'vue';
import type { Formats } from '../format/numbers.ts';
import { longMonth } from '../format/periods.ts';

/** What a file would change, before it counts: faulty rows with the reason, and sums by month. */
const props = defineProps<{
  preview: ImportPreview;
  formats: Formats;
  minor: number;
  busy: boolean;
}>();
const emit = defineEmits<{ apply: []; discard: []; close: []; takeBack: [] }>();
const applied = computed(() => props.preview.state === 'applied');

const KINDS: Record<RowProblem['code'], string> = {
  'unknown-code': 'unknown code',
  'not-a-leaf': 'a group in place of a member',
  'missing-value': 'missing value',
  'impossible-date': 'impossible date',
  'outside-calendar': 'date outside the calendar',
  'not-a-number': 'not a number',
  'too-large': 'too large',
  'repeated-line': 'repeated document line',
  'already-there': 'taken in before',
  'wrong-columns': 'wrong number of columns',
};
const kinds = computed(() =>
  Object.entries(props.preview.problemCounts).map(([code, count]) => ({
    name: KINDS[code as RowProblem['code']],
    count,
  })),
);
const title = computed(() => {
  const { good, faulty, rows } = props.preview;
  if (applied.value) return `${good} sales lines of this file count`;
  if (good === 0) return `None of the ${rows} rows can be taken in`;
  if (faulty === 0) return `All ${rows} rows are good`;
  return `${good} of ${rows} rows are good, ${faulty} are faulty`;
});
function money(cents: number): string {
  return props.formats.show(cents / props.minor, 'price');
}
</script>

<template>
  <div class="preview">
    <header>
      <h1>{{ title }}</h1>
      <p class="state quiet">
        {{ preview.fileName }},
        {{
          applied
            ? 'applied: taking it back takes these amounts out'
            : 'checked and not applied: nothing has changed yet'
        }}. Amounts in {{ formats.currency }}.
      </p>
    </header>
    <div class="controls">
      <button
        v-if="applied"
        class="primary"
        type="button"
        :disabled="busy"
        @click="emit('takeBack')"
      >
        Take back {{ preview.good }} sales lines
      </button>
      <button
        v-else
        class="primary"
        type="button"
        :disabled="busy || preview.good === 0"
        @click="emit('apply')"
      >
        Apply {{ preview.good }} sales lines
      </button>
      <button class="plain" type="button" :disabled="busy" @click="emit('close')">
        {{ applied ? 'Leave it' : 'Decide later' }}
      </button>
      <button v-if="!applied" class="plain" type="button" :disabled="busy" @click="emit('discard')">
        Put the file away
      </button>
    </div>
    <div class="halves">
      <section v-if="preview.problems.length > 0" class="faulty" aria-label="Faulty rows">
        <h2>
          Faulty rows<span v-for="kind in kinds" :key="kind.name" class="kind">
            {{ kind.count }} {{ kind.name }}</span
          >
        </h2>
        <div class="scroll">
          <table class="sheet-table">
            <thead>
              <tr>
                <th scope="col">Row</th>
                <th scope="col" class="words">Column</th>
                <th scope="col" class="words">What is wrong</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="(problem, index) in preview.problems" :key="index">
                <td>{{ problem.row }}</td>
                <td class="words">{{ problem.field }}</td>
                <td class="words wide">{{ problem.message }}</td>
              </tr>
            </tbody>
          </table>
        </div>
        <p v-if="preview.faulty > preview.problems.length" class="quiet">
          The first {{ preview.problems.length }} are shown.
        </p>
      </section>
      <section v-if="preview.months.length > 0" class="adds" aria-label="What it adds">
        <h2>{{ applied ? 'What they make' : 'What the good rows add' }}</h2>
        <table class="sheet-table">
          <thead>
            <tr>
              <th scope="col">Month</th>
              <th scope="col">Lines</th>
              <th scope="col">{{ applied ? 'Without it' : 'Revenue now' }}</th>
              <th scope="col">This file</th>
              <th scope="col">{{ applied ? 'Revenue now' : 'After' }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="month in preview.months" :key="month.month">
              <td>{{ longMonth(monthFrom(month.month)) }}</td>
              <td>{{ month.lines }}</td>
              <td>{{ money(applied ? month.revenueNow - month.revenue : month.revenueNow) }}</td>
              <td>{{ money(month.revenue) }}</td>
              <td>
                <b>{{ money(applied ? month.revenueNow : month.revenueNow + month.revenue) }}</b>
              </td>
            </tr>
          </tbody>
        </table>
      </section>
    </div>
  </div>
</template>

<style scoped>
.preview {
  display: grid;
  gap: 10px;
  grid-template-rows: auto auto minmax(0, 1fr);
  min-height: 0;
  flex: 1;
}
.halves {
  display: grid;
  grid-template-columns: minmax(0, 3fr) minmax(0, 2fr);
  gap: 24px;
  min-height: 0;
}
.halves > section {
  display: flex;
  flex-direction: column;
  gap: 6px;
  min-height: 0;
}
.kind {
  font-weight: 400;
  font-size: 12px;
  color: var(--ember);
  margin-left: 12px;
}
.wide {
  white-space: normal !important;
}
.state {
  font-size: 12px;
}
</style>
