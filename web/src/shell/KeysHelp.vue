<script setup lang="ts">
import { GRID_KEYS } from '../grid/keys.ts';

/** The keys, and what the dress of a number says. */
const shown = defineModel<boolean>({ required: true });

const KEYS = [
  ['g, then 1 … 8', 'go to a room'],
  ['[ and ]', 'move the window by its length'],
  ['Ctrl K', 'go anywhere: room, member, driver, stream'],
  ['Space', 'how the number came about'],
  ['p', 'pin the row of the forecast, or let go of it'],
  ['Ctrl Z, Ctrl Y', 'take back, do again'],
  ['?', 'this'],
] as const;
const TYPING = [
  ['1.2m, 15k, -2k', 'a value'],
  ['+8%, -8%, x1.1', 'times'],
  ['+=2k, -=2k', 'more, less'],
  ['+2pt', 'points of a percent'],
] as const;
</script>

<template>
  <v-dialog v-model="shown" max-width="1080">
    <div class="dialog-sheet keys" role="document" aria-labelledby="keys-title">
      <h2 id="keys-title">Keys, typing, and whose number it is</h2>
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
            <li><span class="sample typed">1 204</span> typed by a person</li>
            <li>
              <span class="sample"><b class="dot">•</b> 1 204</span> changed by entries
            </li>
            <li><span class="sample quiet">🔒 1 204</span> sealed</li>
            <li><span class="sample waits">missing</span> waits for somebody</li>
            <li><span class="sample bad">◇ −1 204</span> a bad difference</li>
          </ul>
        </div>
      </div>
      <p class="quiet">
        A tick stands where it should be, a bar or a dot shows where it is. Books are drawn solid, a
        forecast dashed, a budget stepped, last year thin.
      </p>
      <div class="buttons">
        <button class="primary" type="button" @click="shown = false">Close</button>
      </div>
    </div>
  </v-dialog>
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
