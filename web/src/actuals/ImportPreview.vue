<script setup lang="ts">
import type { ImportPreview, Repair } from '@dravex/contract';
import { monthFrom, type Dimension } from '@dravex/core';
import { computed } from 'vue';
import type { Formats } from '../format/numbers.ts';
import { dayInWords, longMonth } from '../format/periods.ts';
import { signsOf, withoutInWords, rowsInWords } from './problem-words.ts';
import ProblemGroups from './ProblemGroups.vue';

/** What a file would change, before it counts: what is wrong and can be repaired, and sums by month. */
const props = defineProps<{
  preview: ImportPreview;
  formats: Formats;
  minor: number;
  dimensions: readonly Dimension[];
  busy: boolean;
  planner: boolean;
  /** Where the rows that were left out can be had. */
  leftOutPath: string;
  /** Whether the file is still at hand, so that it can be read differently. */
  fileAtHand: boolean;
}>();
const emit = defineEmits<{
  apply: [];
  discard: [];
  close: [];
  takeBack: [];
  changeReading: [];
  repair: [wanted: Repair];
  create: [dimension: string, value: string];
}>();
const applied = computed(() => props.preview.state === 'applied');

const title = computed(() => {
  const { good, faulty, rows } = props.preview;
  if (applied.value) return `${good} rows of this file count`;
  if (good === 0) return `None of the ${rows} rows can be taken in`;
  if (faulty === 0) return `All ${rows} rows are good`;
  return `${good} of ${rows} rows are good, ${faulty} ${faulty === 1 ? 'is' : 'are'} left out`;
});
const money = (cents: number): string => props.formats.show(cents / props.minor, 'price');
const signs = computed(() =>
  props.preview.notes ? signsOf(props.preview.notes) : { turn: [], credits: '' },
);
const notes = computed(() => {
  const { notes: found, replace, sameAs, reading } = props.preview;
  const list: string[] = [];
  if (sameAs) {
    const what = sameAs.state === 'applied' ? 'applied' : 'brought in and not applied';
    list.push(
      `This very file was ${what} before, as ${sameAs.fileName} on ${dayInWords(sameAs.createdAt.slice(0, 10))}.`,
    );
  }
  if (found) {
    if (found.closed > 0) {
      list.push(
        `${found.closed} ${found.closed === 1 ? 'row lies' : 'rows lie'} in closed months and ${found.closed === 1 ? 'changes' : 'change'} them.`,
      );
    }
    list.push(signs.value.credits, withoutInWords(found));
    if (found.turned.length > 0) list.push(`The sign of ${found.turned.join(' and ')} is turned.`);
    if (found.remembered > 0) {
      list.push(`${found.remembered} values were read as remembered from earlier files.`);
    }
  }
  for (const { field, from, to } of replace) {
    list.push(`${field}: “${from || 'nothing'}” is read as “${to}”.`);
  }
  if (reading?.shape === 'wide') list.push(`Months stand across; below them ${reading.values}.`);
  return list.filter((text) => text !== '');
});
const units = computed(() => props.preview.months.reduce((total, month) => total + month.units, 0));
const sum = computed(() => props.preview.months.reduce((total, { revenue }) => total + revenue, 0));
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
      <template v-if="planner">
        <button
          v-if="applied"
          class="primary"
          type="button"
          :disabled="busy"
          @click="emit('takeBack')"
        >
          Take back {{ preview.good }} rows
        </button>
        <button
          v-else
          class="primary"
          type="button"
          :disabled="busy || preview.good === 0"
          @click="emit('apply')"
        >
          Apply {{ rowsInWords(preview.good) }}
        </button>
      </template>
      <button class="plain" type="button" :disabled="busy" @click="emit('close')">
        {{ applied ? 'Leave it' : 'Decide later' }}
      </button>
      <template v-if="planner && !applied">
        <button
          v-if="fileAtHand"
          class="plain"
          type="button"
          :disabled="busy"
          @click="emit('changeReading')"
        >
          Change how it is read
        </button>
        <button class="plain" type="button" :disabled="busy" @click="emit('discard')">
          Put the file away
        </button>
      </template>
      <a v-if="preview.faulty > 0" class="chip" :href="leftOutPath" download>
        Save the {{ preview.faulty }} left out
      </a>
    </div>
    <p v-if="preview.job && preview.job.message !== '' && !applied" class="waits" role="status">
      {{ preview.job.message }}
    </p>
    <div v-if="notes.length > 0 || signs.turn.length > 0" class="notes">
      <p
        v-for="proposal in planner && !applied ? signs.turn : []"
        :key="proposal.field"
        class="waits"
      >
        {{ proposal.text }}.
        <button
          type="button"
          class="chip"
          :disabled="busy"
          @click="emit('repair', { turn: [proposal.field] })"
        >
          Turn the sign of {{ proposal.field }}
        </button>
      </p>
      <p v-for="note in notes" :key="note" class="quiet">{{ note }}</p>
    </div>
    <div class="halves" :class="{ whole: preview.groups.length === 0 }">
      <ProblemGroups
        :preview="preview"
        :dimensions="dimensions"
        :busy="busy"
        :open="planner && !applied"
        @repair="(wanted) => emit('repair', wanted)"
        @create="(dimension, value) => emit('create', dimension, value)"
      />
      <section v-if="preview.months.length > 0" class="adds" aria-label="What it adds">
        <h2>{{ applied ? 'What they make' : 'What the good rows add' }}</h2>
        <div class="scroll" tabindex="0">
          <table class="sheet-table">
            <thead>
              <tr>
                <th scope="col">Month</th>
                <th scope="col">Rows</th>
                <th scope="col">Units</th>
                <th scope="col">{{ applied ? 'Without it' : 'Revenue now' }}</th>
                <th scope="col">This file</th>
                <th scope="col">{{ applied ? 'Revenue now' : 'After' }}</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="month in preview.months" :key="month.month">
                <td>{{ longMonth(monthFrom(month.month)) }}</td>
                <td>{{ month.lines }}</td>
                <td>{{ formats.show(month.units, 'units') }}</td>
                <td>{{ money(applied ? month.revenueNow - month.revenue : month.revenueNow) }}</td>
                <td>{{ money(month.revenue) }}</td>
                <td>
                  <b>{{ money(applied ? month.revenueNow : month.revenueNow + month.revenue) }}</b>
                </td>
              </tr>
            </tbody>
            <tfoot v-if="preview.months.length > 1">
              <tr>
                <td>All months</td>
                <td>{{ preview.good }}</td>
                <td>{{ formats.show(units, 'units') }}</td>
                <td></td>
                <td>
                  <b>{{ money(sum) }}</b>
                </td>
                <td></td>
              </tr>
            </tfoot>
          </table>
        </div>
      </section>
    </div>
  </div>
</template>

<style scoped>
.preview {
  display: flex;
  flex-direction: column;
  gap: 10px;
  min-height: 0;
  flex: 1;
}
.controls {
  flex-wrap: wrap;
}
.notes {
  display: grid;
  gap: 3px;
  font-size: 12px;
}
.halves {
  display: grid;
  grid-template-columns: minmax(0, 3fr) minmax(0, 2fr);
  gap: 24px;
  min-height: 0;
  flex: 1;
}
.halves.whole {
  grid-template-columns: minmax(0, 620px);
}
.adds {
  display: flex;
  flex-direction: column;
  gap: 6px;
  min-height: 0;
}
.scroll {
  overflow: auto;
}
.state {
  font-size: 12px;
}
</style>
