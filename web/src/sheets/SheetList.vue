<script setup lang="ts">
import type { Sheet } from '@dravex/contract';
import { dayInWords, whenInWords } from '../format/moments.ts';
import { WORDS } from '../format/words.ts';
import SheetTable from '../kit/SheetTable.vue';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { isLate, STATES } from './sheet-rows.ts';
import { TEXTS } from './texts.ts';

/** Who is where: the sheets with whose they are, when they are due and how far they are. */
defineProps<{ sheets: readonly Sheet[]; planner: boolean }>();
const plan = usePlan();
const { calendar } = useFrame();
const lastWord = ({ steps }: Sheet): string => {
  const last = steps.at(-1);
  if (!last) return '';
  const said = last.text === '' ? '' : `: ${last.text}`;
  return `${last.by}, ${whenInWords(last.at, plan.locale)}${said}`;
};
</script>

<template>
  <SheetTable :about="WORDS.budgetSheets">
    <thead>
      <tr>
        <th scope="col">{{ TEXTS.sheet }}</th>
        <th v-if="planner" scope="col" class="words">{{ TEXTS.for }}</th>
        <th scope="col" class="words">{{ TEXTS.fillsIn }}</th>
        <th scope="col" class="words">{{ TEXTS.due }}</th>
        <th scope="col" class="words">{{ TEXTS.state }}</th>
        <th scope="col" class="words">{{ TEXTS.lastStep }}</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="sheet in sheets" :key="sheet.id">
        <th scope="row">
          <RouterLink :to="{ name: 'sheets', params: { id: sheet.id }, query: $route.query }">
            {{ sheet.title }}
          </RouterLink>
        </th>
        <td v-if="planner" class="words">{{ sheet.personName }}</td>
        <td class="words">{{ sheet.versionName }}</td>
        <td class="words" :class="{ waits: isLate(sheet, calendar.asOf) }">
          {{ sheet.due ? dayInWords(sheet.due, plan.locale) : '–'
          }}{{ isLate(sheet, calendar.asOf) ? TEXTS.late : '' }}
        </td>
        <td class="words">{{ STATES[sheet.state] }}</td>
        <td class="words said">{{ lastWord(sheet) }}</td>
      </tr>
    </tbody>
  </SheetTable>
</template>

<style scoped>
.waits {
  color: var(--ember-ink);
}
.said {
  white-space: normal;
  overflow-wrap: anywhere;
}
</style>
