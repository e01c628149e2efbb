<script setup lang="ts">
import { fiscalYearOf } from '@dravex/core';
import { computed } from 'vue';
import { usePlan } from '../plan/use-plan.ts';
import Foot from './Foot.vue';
import Horizon from './Horizon.vue';
import Rail from './Rail.vue';

const plan = usePlan();
const year = computed(() => {
  const { frame } = plan;
  return frame ? fiscalYearOf(plan.closedThrough, frame.plan.calendar.fiscalStart) : '';
});
</script>

<template>
  <div v-if="plan.frame" class="frame">
    <div class="mark no-print">
      <b>Dravex</b><span>{{ plan.frame.name }}, FY {{ year }}</span>
    </div>
    <Horizon class="no-print" />
    <Rail class="no-print" />
    <main class="place"><RouterView /></main>
    <Foot class="base" />
  </div>
</template>

<style scoped>
.frame {
  display: grid;
  grid-template: 60px minmax(0, 1fr) 28px / 136px minmax(0, 1fr);
  height: 100vh;
}
.mark {
  padding: 12px 0 0 16px;
  display: grid;
  align-content: start;
  border-bottom: 1px solid var(--line);
}
.mark b {
  font-size: 16px;
  line-height: 20px;
}
.mark span {
  font-size: 11.5px;
  color: var(--ink-quiet);
}
.frame > :nth-child(2) {
  border-bottom: 1px solid var(--line);
  padding-left: 16px;
}
.place {
  padding: 10px 18px 12px;
  min-height: 0;
  min-width: 0;
  overflow: hidden;
}
.base {
  grid-column: 1 / -1;
}
@media (max-width: 1100px) {
  .frame {
    grid-template-columns: 52px minmax(0, 1fr);
  }
  .mark span {
    display: none;
  }
  .mark {
    padding-left: 6px;
  }
  .mark b {
    font-size: 12px;
  }
}
@media print {
  .frame {
    display: block;
    height: auto;
  }
  .place {
    overflow: visible;
  }
}
</style>
