<script setup lang="ts">
import {
  FORMULA_FUNCTIONS,
  unitInWords,
  unitOfDriver,
  type Driver,
  type Problem,
} from '@dravex/core';
import { computed } from 'vue';
import { TEXTS } from './texts.ts';

/** A formula with names completed, and its first mistake marked where it stands. */
const formula = defineModel<string>({ required: true });
const props = defineProps<{ drivers: readonly Driver[]; problems: readonly Problem[] }>();

const MOST = 8;
const marked = computed(() => {
  const at = Number(props.problems[0]?.where['at'] ?? Number.NaN);
  if (props.problems.length === 0 || Number.isNaN(at)) return undefined;
  const text = formula.value;
  return {
    before: text.slice(0, at),
    at: text.slice(at, at + 1) || ' ',
    after: text.slice(at + 1),
  };
});
/** Names that go on from what is being typed. */
const completing = computed(() => {
  const word = /[\p{L}_][\p{L}\p{N}_]*$/u.exec(formula.value)?.[0] ?? '';
  if (word === '') return [];
  const known = [
    ...props.drivers.map((one) => ({
      name: one.code,
      said: one.name,
      unit: unitInWords(unitOfDriver(one)),
    })),
    ...FORMULA_FUNCTIONS.map((name) => ({ name: `${name}(`, said: 'function', unit: '' })),
  ];
  const small = word.toLowerCase();
  return known
    .filter(({ name, said }) => name !== word && `${name} ${said}`.toLowerCase().includes(small))
    .slice(0, MOST)
    .map((one) => ({ ...one, text: formula.value.slice(0, -word.length) + one.name }));
});
</script>

<template>
  <div class="formula">
    <v-textarea
      v-model="formula"
      :label="TEXTS.formula"
      rows="2"
      spellcheck="false"
      :placeholder="TEXTS.leaveEmptyToEnterValues"
      :error-messages="problems.map(({ message }) => message)"
    />
    <p v-if="completing.length > 0" class="controls">
      <v-btn
        v-for="one in completing"
        :key="one.name"
        :title="one.said"
        @click="formula = one.text"
      >
        {{ one.name }}
        <span v-if="one.unit" class="quiet" aria-hidden="true">&nbsp;{{ one.unit }}</span>
      </v-btn>
    </p>
    <p v-if="marked" class="marked">
      <code
        >{{ marked.before }}<mark>{{ marked.at }}</mark
        >{{ marked.after }}</code
      >
    </p>
  </div>
</template>

<style scoped>
.formula {
  display: grid;
  gap: 4px;
}
mark {
  background: var(--bad);
  color: var(--surface);
}
</style>
