<script setup lang="ts">
import { monthFrom, monthText, type Month } from '@dravex/core';
import { computed } from 'vue';
import { RouterLink, useRoute } from 'vue-router';
import { longMonth } from '../format/periods.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { TEXTS } from './texts.ts';

/** What forecast lines still need before they have numbers, each with the place where it is set. */
const plan = usePlan();
const route = useRoute();
const { calendar, span } = useFrame();

/** What one does about a driver that methods read; of the others, that they are set. */
const STEPS: Readonly<Record<string, string>> = {
  listPrice: TEXTS.setThePrice,
  grossUnits: TEXTS.setUnitsWithSeason,
  amount: TEXTS.setAmountsWithSeason,
  growth: TEXTS.setTheGrowth,
  attachRate: TEXTS.setAttachRate,
  marketSize: TEXTS.setMarketSize,
  marketShare: TEXTS.setTheShare,
};
const SHOWN = 4;
const steps = computed(() => {
  const byDriver = new Map<string, { lines: number; from: string }>();
  for (const { code, where } of plan.missing) {
    const { driver, month } = where;
    if (code !== 'missing-input' || typeof driver !== 'string') continue;
    const { lines, from } = byDriver.get(driver) ?? { lines: 0, from: '9999-12' };
    const first = String(month);
    byDriver.set(driver, { lines: lines + 1, from: first < from ? first : from });
  }
  return [...byDriver]
    .sort(([, few], [, many]) => many.lines - few.lines)
    .map(([driver, { lines, from }]) => {
      const name = plan.workspace?.plan.drivers.find(({ code }) => code === driver)?.name ?? driver;
      const month = monthFrom(from);
      // What lacks from the first open month on lacks altogether.
      const since = month > plan.closedThrough + 1 ? TEXTS.fromOn(longMonth(month)) : '';
      return {
        driver,
        month,
        lines: TEXTS.forecastLinesLack(lines, name.toLowerCase(), since),
        does: STEPS[driver] ?? TEXTS.set(name.toLowerCase()),
      };
    });
});
/** Where a driver is set, in a period that has the months in which it lacks. */
const placeOf = ({ driver, month }: { driver: string; month: Month }): object => ({
  path: `/w/${plan.workspaceId}/drivers`,
  query: { ...route.query, ...(month > span.value.to ? periodAt(month) : {}), driver },
});
function periodAt(month: Month): { from: string; to: string } {
  const last = monthFrom(calendar.value.last);
  return { from: monthText(month), to: monthText(Math.min(last, month + 11)) };
}
</script>

<template>
  <ul v-if="steps.length > 0" class="steps waits no-print" :aria-label="TEXTS.nextSteps">
    <li v-for="step in steps.slice(0, SHOWN)" :key="step.driver">
      {{ step.lines }}: <RouterLink :to="placeOf(step)">{{ step.does }}</RouterLink>
    </li>
    <li v-if="steps.length > SHOWN" class="quiet">
      {{ TEXTS.andMoreInputs(steps.length - SHOWN) }}
    </li>
  </ul>
</template>

<style scoped>
.steps {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 18px;
  margin: 0;
  padding: 0;
  list-style: none;
}
</style>
