<script setup lang="ts">
import type { WorkspaceProposal } from '@dravex/contract';
import { fiscalYearOf, monthFrom } from '@dravex/core';
import { computed, ref } from 'vue';
import { formatsFor } from '../format/numbers.ts';
import { longMonth, monthName } from '../format/periods.ts';
import { WORDS } from '../format/words.ts';
import SheetTable from '../kit/SheetTable.vue';
import { currencies, HORIZONS, locales } from './lists.ts';
import { TEXTS } from './texts.ts';
import type { Company } from './use-first-file.ts';
import { useFirstFocus } from '../kit/use-first-focus.ts';

/** What a first file comes to, by month and by dimension, and what it does not say of the company. */
const props = defineProps<{ proposal: WorkspaceProposal; busy: boolean }>();
const emit = defineEmits<{ make: [company: Company]; back: [] }>();

const MONTHS = Array.from({ length: 12 }, (_, index) => ({
  value: index + 1,
  name: monthName(index + 1),
}));
const name = ref('');
const currency = ref('EUR');
const fiscalStart = ref(props.proposal.calendar.fiscalStart);
const own = navigator.language;
const locale = ref(own);
const years = ref(3);
const LOCALES = locales(own);
const CURRENCIES = currencies();

const calendar = computed(() => props.proposal.calendar);
const year = computed(() =>
  fiscalYearOf(monthFrom(calendar.value.closedThrough), fiscalStart.value),
);
const formats = computed(() => formatsFor(locale.value, currency.value));
type Month = WorkspaceProposal['months'][number];
const FIGURES = [
  { key: 'units', name: TEXTS.quantity },
  { key: 'revenue', name: WORDS.revenue },
  { key: 'cost', name: TEXTS.cost },
] as const;
const held = computed(() =>
  FIGURES.filter(({ key }) => props.proposal.months.some((month) => month[key] !== null)),
);
const months = computed(() => props.proposal.months);
const lines = computed(() => months.value.reduce((sum, month) => sum + month.lines, 0));
const all = (key: (typeof FIGURES)[number]['key']): number =>
  months.value.reduce((sum: number, month: Month) => sum + (month[key] ?? 0), 0);
const shown = (value: number | null): string => formats.value.show(value, 'units');
const dimensions = computed(() => {
  const { length } = props.proposal.dimensions;
  return TEXTS.dimensions(length);
});
/** So many members are named. */
const NAMED = 6;
const left = computed(() => {
  const { totals, faulty } = props.proposal;
  return [
    ...(totals > 0 ? [TEXTS.rowsAreTotals(totals)] : []),
    ...(faulty > 0 ? [TEXTS.rowsLackDateNumberOr(faulty)] : []),
  ].join(', ');
});
useFirstFocus('firstField');
</script>

<template>
  <section class="sheet">
    <h1>
      {{
        proposal.rows > 0
          ? TEXTS.salesLinesWith(lines.toLocaleString('en'), dimensions)
          : TEXTS.aPlanBy(dimensions)
      }}
    </h1>
    <p v-if="left" class="waits">{{ TEXTS.leftOut(left) }}</p>
    <SheetTable :about="TEXTS.dimensionsFound">
      <thead>
        <tr>
          <th scope="col" class="words">{{ TEXTS.dimension }}</th>
          <th scope="col">{{ TEXTS.members }}</th>
          <th scope="col" class="words">{{ TEXTS.forExample }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="dimension in proposal.dimensions" :key="dimension.code">
          <td class="words">{{ dimension.name }}</td>
          <td>{{ dimension.members.length }}</td>
          <td class="words quiet">
            {{
              dimension.members
                .slice(0, NAMED)
                .map((member) => member.name)
                .join(', ')
            }}
          </td>
        </tr>
      </tbody>
    </SheetTable>
    <div v-if="months.length > 0" class="months" tabindex="0">
      <SheetTable :about="TEXTS.sumsByMonth">
        <thead>
          <tr>
            <th scope="col" class="words">{{ WORDS.month }}</th>
            <th scope="col">{{ TEXTS.lines }}</th>
            <th v-for="figure in held" :key="figure.key" scope="col">{{ figure.name }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="month in months" :key="month.month">
            <td class="words">{{ longMonth(monthFrom(month.month)) }}</td>
            <td>{{ month.lines }}</td>
            <td v-for="figure in held" :key="figure.key">{{ shown(month[figure.key]) }}</td>
          </tr>
        </tbody>
        <tfoot>
          <tr>
            <td class="words">{{ TEXTS.allMonths }}</td>
            <td>{{ lines }}</td>
            <td v-for="figure in held" :key="figure.key">{{ shown(all(figure.key)) }}</td>
          </tr>
        </tfoot>
      </SheetTable>
    </div>
    <p v-if="months.length > 0" class="quiet">
      {{
        TEXTS.toAreClosedInFy(
          longMonth(monthFrom(calendar.first)),
          longMonth(monthFrom(calendar.closedThrough)),
          year,
        )
      }}
    </p>
    <form
      class="form"
      @submit.prevent="emit('make', { name, currency, fiscalStart, locale, years })"
    >
      <v-text-field
        ref="firstField"
        v-model="name"
        :label="TEXTS.companyName"
        autocomplete="organization"
        required
      />
      <v-autocomplete v-model="currency" :label="TEXTS.currency" :items="CURRENCIES" />
      <v-select v-model="fiscalStart" :label="TEXTS.fiscalYearStartsIn" :items="MONTHS" />
      <v-autocomplete v-model="locale" :label="TEXTS.numberAndDateFormat" :items="LOCALES" />
      <v-select v-model="years" :label="TEXTS.planAhead" :items="HORIZONS" />
      <p class="controls">
        <v-btn color="primary" variant="flat" type="submit" :disabled="busy || name.trim() === ''">
          {{ TEXTS.createWorkspace }}
        </v-btn>
        <v-btn color="primary" @click="emit('back')">{{ TEXTS.backToColumns }}</v-btn>
      </p>
    </form>
  </section>
</template>

<style scoped>
.sheet {
  display: grid;
  gap: 12px;
  max-width: 720px;
  background: var(--surface);
  border-top: 2px solid var(--ink);
  padding: 26px 28px;
}
.months {
  max-height: 330px;
  overflow: auto;
}
/* However many months there are, their sum is in sight. */
.months tfoot td {
  position: sticky;
  bottom: 0;
  font-weight: 620;
  background: var(--surface);
  border-top: 1px solid var(--ink);
}
.form {
  display: grid;
  gap: 5px;
  max-width: 340px;
}
.form .controls {
  margin-top: 10px;
}
</style>
