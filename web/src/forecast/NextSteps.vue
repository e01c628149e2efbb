<script setup lang="ts">
import { computed } from 'vue';
import { RouterLink, useRoute } from 'vue-router';
import { usePlan } from '../plan/use-plan.ts';

/** What forecast lines still need before they have numbers, each with the place where it is set. */
const plan = usePlan();
const route = useRoute();

/** What one does about a driver that methods read; of the others, that they are set. */
const STEPS: Readonly<Record<string, string>> = {
  listPrice: 'set the price',
  grossUnits: 'set units, with a season',
  amount: 'set amounts, with a season',
  growth: 'set the growth',
  attachRate: 'set the attach rate',
  marketSize: 'set the market size',
  marketShare: 'set the share',
};
const SHOWN = 4;
const steps = computed(() => {
  const byDriver = new Map<string, number>();
  for (const { code, where } of plan.missing) {
    const driver = where['driver'];
    if (code !== 'missing-input' || typeof driver !== 'string') continue;
    byDriver.set(driver, (byDriver.get(driver) ?? 0) + 1);
  }
  return [...byDriver]
    .sort(([, few], [, many]) => many - few)
    .map(([driver, lines]) => {
      const name = plan.workspace?.plan.drivers.find(({ code }) => code === driver)?.name ?? driver;
      return {
        driver,
        lines: `${lines} forecast ${lines === 1 ? 'line lacks' : 'lines lack'} ${name.toLowerCase()}`,
        does: STEPS[driver] ?? `set ${name.toLowerCase()}`,
      };
    });
});
const placeOf = (driver: string): object => ({
  path: `/w/${plan.workspaceId}/drivers`,
  query: { ...route.query, driver },
});
</script>

<template>
  <ul v-if="steps.length > 0" class="steps waits no-print" aria-label="Next steps">
    <li v-for="step in steps.slice(0, SHOWN)" :key="step.driver">
      {{ step.lines }}: <RouterLink :to="placeOf(step.driver)">{{ step.does }}</RouterLink>
    </li>
    <li v-if="steps.length > SHOWN" class="quiet">and {{ steps.length - SHOWN }} more inputs</li>
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
