<script setup lang="ts">
import { METHODS, type Driver, type DriverUse } from '@dravex/core';
import { computed } from 'vue';
import { useFrame } from '../shell/use-frame.ts';
import type { SaidOfDriver } from '../computation/driver-answers.ts';
import { boundsOf, showValue, unitOf } from './driver-format.ts';

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
  const by = [...methods, ...formulas.map((name) => `the formula of ${name}`)].join(', ');
  if (use.streams === 0) {
    return use.assumptions > 0
      ? `Not used: ${use.assumptions} inputs have no effect`
      : `Not used${by ? `; ${by} could use it` : ''}`;
  }
  return `Used by ${use.streams} ${use.streams === 1 ? 'forecast line' : 'forecast lines'}${by ? `: ${by}` : ''}`;
});
/** Where its closed months are read from. */
const from = computed(() => {
  const { history } = props.driver;
  if (!history) return 'Actuals of';
  return `Measured as ${history.measure.toLowerCase()}${history.per ? ` over ${history.per.toLowerCase()}` : ''}, for`;
});
const chosenByNobody = computed(() => {
  const { use, driver } = props;
  if (!use || use.byDefault === 0) return '';
  return `${use.byDefault} forecast lines use the default of ${show(driver.default)}`;
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
      <span class="quiet">{{ `${from} ${subject}: last 12 months ` }}</span>
      <b>{{ show(said.reference.lastYear) }}</b>
      <span class="quiet">{{ ' previous 12 ' }}</span>
      <b>{{ show(said.reference.yearBefore) }}</b>
      <span class="quiet">{{ ' last 3 ' }}</span>
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
