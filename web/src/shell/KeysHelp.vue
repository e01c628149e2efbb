<script setup lang="ts">
import { GRID_KEYS } from '../grid/keys.ts';
import DialogSheet from '../kit/DialogSheet.vue';

/** The keys, and what the dress of a number says. */
const shown = defineModel<boolean>({ required: true });

const KEYS = [
  ['g, then 1 … 8', 'go to a room'],
  ['[ and ]', 'previous or next period'],
  ['Ctrl K', 'go to a room, member, driver or forecast line'],
  ['Space', 'trace: how the number is calculated'],
  ['p', 'pin a row of the forecast, or unpin it'],
  ['Ctrl Z, Ctrl Y', 'undo, redo'],
  ['?', 'this list'],
] as const;
const TYPING = [
  ['1.2m, 15k, -2k', 'sets a value'],
  ['+8%, -8%, x1.1', 'multiplies'],
  ['+=2k, -=2k', 'adds, subtracts'],
  ['+2pt', 'adds percentage points'],
] as const;
</script>

<template>
  <DialogSheet v-model="shown" title="Keyboard, typing, and what a number looks like" :width="1080">
    <div class="columns">
      <dl>
        <template v-for="[keys, what] in KEYS" :key="keys">
          <dt>{{ keys }}</dt>
          <dd>{{ what }}</dd>
        </template>
      </dl>
      <dl>
        <dt class="part">In a table</dt>
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
            <dd>{{ what }}, on one cell or all that are selected</dd>
          </template>
        </dl>
        <ul class="legend">
          <li><span class="sample closed">1 204</span> from the books</li>
          <li><span class="sample">1 204</span> forecast</li>
          <li><span class="sample typed">1 204</span> entered by a person</li>
          <li>
            <span class="sample"><b class="dot">•</b> 1 204</span> changed by budget entries
          </li>
          <li><span class="sample quiet">🔒 1 204</span> locked</li>
          <li><span class="sample waits">missing</span> missing input</li>
          <li><span class="sample bad">◇ −1 204</span> unfavourable difference</li>
        </ul>
      </div>
    </div>
    <p class="quiet">
      In charts, actuals are solid, the forecast is dashed, the budget is stepped, last year is
      thin. A tick marks the target; a bar or dot marks the actual value.
    </p>
    <template #actions>
      <v-btn color="primary" variant="flat" @click="shown = false">Close</v-btn>
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
