<script setup lang="ts">
import { WORDS } from '../format/words.ts';
import { GRID_KEYS } from '../grid/keys.ts';
import DialogSheet from '../kit/DialogSheet.vue';
import { TEXTS } from './texts.ts';

/** The keys, and what the dress of a number says. */
const shown = defineModel<boolean>({ required: true });

const KEYS = [
  ['g, then 1 … 8', TEXTS.goToRoom],
  ['[ and ]', TEXTS.previousOrNextPeriod],
  [TEXTS.ctrlK, TEXTS.goToRoomMemberDriverOr],
  [TEXTS.space, TEXTS.traceHowNumberIsCalculated],
  ['p', 'pin a row of the forecast, or unpin it'],
  [TEXTS.ctrlZCtrlY, TEXTS.undoRedo],
  ['?', TEXTS.thisList],
] as const;
const TYPING = [
  ['1.2m, 15k, -2k', TEXTS.setsAValue],
  ['+8%, -8%, x1.1', 'multiplies'],
  ['+=2k, -=2k', TEXTS.addsSubtracts],
  ['+2pt', TEXTS.addsPercentagePoints],
] as const;
</script>

<template>
  <DialogSheet v-model="shown" :title="TEXTS.keyboardTypingAndWhatNumber" :width="1080">
    <div class="columns">
      <dl>
        <template v-for="[keys, what] in KEYS" :key="keys">
          <dt>{{ keys }}</dt>
          <dd>{{ what }}</dd>
        </template>
      </dl>
      <dl>
        <dt class="part">{{ TEXTS.inATable }}</dt>
        <dd></dd>
        <template v-for="[keys, what] in GRID_KEYS" :key="keys">
          <dt>{{ keys }}</dt>
          <dd>{{ what }}</dd>
        </template>
      </dl>
      <div>
        <dl>
          <template v-for="[text, what] in TYPING" :key="text">
            <dt>{{ text }}</dt>
            <dd>{{ TEXTS.onOneCellOrAll(what) }}</dd>
          </template>
        </dl>
        <ul class="legend">
          <li><span class="sample closed">1 204</span> {{ TEXTS.fromTheBooks }}</li>
          <li><span class="sample">1 204</span> {{ TEXTS.forecast }}</li>
          <li><span class="sample typed">1 204</span> {{ TEXTS.enteredByPerson }}</li>
          <li>
            <span class="sample"><b class="dot">•</b> 1 204</span>
            {{ TEXTS.changedByBudgetEntries }}
          </li>
          <li><span class="sample quiet">🔒 1 204</span> {{ TEXTS.locked }}</li>
          <li>
            <span class="sample waits">{{ TEXTS.missing }}</span> {{ TEXTS.missingInput }}
          </li>
          <li><span class="sample bad">◇ −1 204</span> {{ TEXTS.unfavourableDifference }}</li>
        </ul>
      </div>
    </div>
    <p class="quiet">
      {{ TEXTS.inChartsActualsAreSolid }}
    </p>
    <template #actions>
      <v-btn color="primary" variant="flat" @click="shown = false">{{ WORDS.close }}</v-btn>
    </template>
  </DialogSheet>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 28px;
}
dl {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 5px 14px;
  margin: 0 0 14px;
}
dt {
  font-weight: 600;
  white-space: nowrap;
}
dd {
  margin: 0;
}
.legend {
  list-style: none;
  margin: 0;
  padding: 8px 0 0;
  border-top: 1px solid var(--line);
  display: grid;
  gap: 4px;
}
.sample {
  display: inline-block;
  min-width: 76px;
  text-align: right;
  margin-right: 10px;
  font-variant-numeric: tabular-nums;
}
.closed {
  background: var(--closed);
}
.typed {
  text-decoration: underline;
  text-decoration-color: var(--harbour);
  text-underline-offset: 4px;
}
.dot {
  color: var(--harbour);
}
</style>
