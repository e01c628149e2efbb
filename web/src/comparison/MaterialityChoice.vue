<script setup lang="ts">
import { mdiMenuDown } from '@mdi/js';
import { computed, ref, watch } from 'vue';
import { readArithmetic } from '../format/arithmetic.ts';
import { WORDS } from '../format/words.ts';
import { useFrame } from '../shell/use-frame.ts';
import { TEXTS } from './texts.ts';
import { useMateriality } from './use-materiality.ts';

/** From which amount and percent on a difference matters; smaller ones are quiet. */
const { formats } = useFrame();
const { least, setLeast } = useMateriality();
const open = ref(false);
const amount = ref('');
const percent = ref('');
watch(open, (now) => {
  if (!now) return;
  const { amount: from, share } = least.value;
  amount.value = from > 0 ? formats.value.typed(from, false) : '';
  percent.value = share > 0 ? formats.value.typed(share, true) : '';
});
const label = computed(() => {
  const { amount: from, share } = least.value;
  const parts = [
    ...(from > 0 ? [formats.value.inWords(from)] : []),
    ...(share > 0 ? [formats.value.show(share, 'percent')] : []),
  ];
  return parts.length > 0 ? TEXTS.differencesFrom(parts.join(' and ')) : TEXTS.allDifferences;
});
/** What is typed, read; undefined where it is no number or negative. */
const read = (text: string, isPercent: boolean): number | undefined => {
  if (text.trim() === '') return 0;
  const typed = readArithmetic(text, formats.value, isPercent, 1);
  return typed?.kind === 'set' && typed.value >= 0 ? typed.value : undefined;
};
const from = computed(() => read(amount.value, false));
const share = computed(() => read(percent.value, true));
const WRONG = TEXTS.enterNumberOfZeroOr;
function take(): void {
  if (from.value === undefined || share.value === undefined) return;
  open.value = false;
  void setLeast({ amount: from.value, share: share.value });
}
</script>

<template>
  <v-menu v-model="open" :close-on-content-click="false">
    <template #activator="{ props: activator }">
      <v-btn
        v-bind="activator"
        :append-icon="mdiMenuDown"
        :aria-label="TEXTS.differencesThatMatter(label)"
      >
        {{ label }}
      </v-btn>
    </template>
    <form class="least" novalidate @submit.prevent="take">
      <p class="quiet">{{ TEXTS.smallerDifferencesAreQuietAnd }}</p>
      <v-text-field
        v-model="amount"
        :label="TEXTS.fromOf(formats.currency)"
        :error-messages="from === undefined ? [WRONG] : []"
        autocomplete="off"
        autofocus
      />
      <v-text-field
        v-model="percent"
        :label="TEXTS.andFromPercent"
        :error-messages="share === undefined ? [WRONG] : []"
        autocomplete="off"
      />
      <div class="buttons">
        <v-btn type="submit" color="primary" variant="flat">{{ WORDS.apply }}</v-btn>
        <v-btn
          v-if="least.amount > 0 || least.share > 0"
          color="primary"
          @click="
            open = false;
            setLeast({ amount: 0, share: 0 });
          "
        >
          {{ TEXTS.showAll }}
        </v-btn>
      </div>
    </form>
  </v-menu>
</template>

<style scoped>
.least {
  width: 260px;
  padding: 14px;
  background: var(--surface);
}
</style>
