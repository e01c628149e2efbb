<script setup lang="ts">
import { METHODS, type Driver, type DriverUse } from '@dravex/core';
import { computed } from 'vue';
import { useFrame } from '../shell/use-frame.ts';
import type { SaidOfDriver } from '../computation/driver-answers.ts';
import { boundsOf, showValue, unitOf } from './driver-format.ts';
import { TEXTS } from './texts.ts';

/** What is known of a driver in one line: its unit and bounds, what it feeds, what sales say. */
const props = defineProps<{
  driver: Driver;
  use: DriverUse | undefined;
  said: SaidOfDriver | undefined;
  drivers: readonly Driver[];
}>();
const { formats, subject } = useFrame();

const show = (value: number | null): string => showValue(props.driver, value, formats.value);
const feeds = computed(() => {
  const { use, driver } = props;
  if (!use) return '';
  const methods = Object.values(METHODS)
    .filter((method) =>
      use.streams > 0
        ? use.methods.includes(method.code)
        : method.inputs({ id: 0, combination: 0, method: method.code }).includes(driver.code),
    )
    .map(({ name }) => name.toLowerCase());
  const formulas = use.formulas.map(
    (code) => props.drivers.find((other) => other.code === code)?.name ?? code,
  );
  const by = [...methods, ...formulas.map((name) => TEXTS.theFormulaOf(name))].join(', ');
  if (use.streams === 0) {
    return use.assumptions > 0 ? TEXTS.notUsedInputsHaveNo(use.assumptions) : TEXTS.notUsedOf(by);
  }
  return TEXTS.usedByForecastLines(use.streams, by ? `: ${by}` : '');
});
/** Where its closed months are read from. */
const from = computed(() => {
  const { history } = props.driver;
  if (!history) return TEXTS.actualsOf;
  return TEXTS.measuredAsFor(history.measure.toLowerCase(), history.per?.toLowerCase() ?? '');
});
const chosenByNobody = computed(() => {
  const { use, driver } = props;
  if (!use || use.byDefault === 0) return '';
  return TEXTS.forecastLinesUseDefaultOf(use.byDefault, show(driver.default));
});
</script>

<template>
  <div class="facts">
    <p>
      <span class="quiet"
        >{{ unitOf(driver, formats.currency)
        }}{{ boundsOf(driver, formats) ? `, ${boundsOf(driver, formats)}` : '' }}.</span
      >
      {{ feeds }}.
      <span v-if="chosenByNobody" class="waits">{{ chosenByNobody }}.</span>
    </p>
    <p v-if="driver.formula" class="quiet">
      = <code>{{ driver.formula }}</code>
    </p>
    <p v-if="said?.reference">
      <span class="quiet">{{ TEXTS.last12Months(from, subject) }}</span>
      <b>{{ show(said.reference.lastYear) }}</b>
      <span class="quiet">{{ TEXTS.previous12 }}</span>
      <b>{{ show(said.reference.yearBefore) }}</b>
      <span class="quiet">{{ TEXTS.last3 }}</span>
      <b>{{ show(said.reference.lastThree) }}</b>
    </p>
  </div>
</template>

<style scoped>
.facts {
  font-size: 12px;
  display: grid;
  gap: 1px;
}
b {
  margin: 0 6px 0 3px;
  font-weight: 620;
  font-variant-numeric: tabular-nums;
}
</style>
