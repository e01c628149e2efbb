<script setup lang="ts">
import { nameSchema, type FirstFileLook } from '@dravex/contract';
import { computed, nextTick, ref, useTemplateRef } from 'vue';
import { WORDS } from '../format/words.ts';
import { TEXTS } from './texts.ts';

/** Dimensions that no column of a first file holds: all of its rows have the same value. */
const props = defineProps<{ dimensions: FirstFileLook['dimensions']; busy: boolean }>();
const emit = defineEmits<{ change: [fixed: { name: string; value: string }[]] }>();
const MOST = 12;
const fixed = computed(() =>
  props.dimensions.flatMap(({ name, value }) => (value === null ? [] : [{ name, value }])),
);
const adding = ref(false);
const name = ref('');
const value = ref('');
const ready = computed(
  () => nameSchema.safeParse(name.value).success && nameSchema.safeParse(value.value).success,
);
const first = useTemplateRef<{ focus(): void }>('first');
function begin(): void {
  adding.value = true;
  void nextTick(() => first.value?.focus());
}
function add(): void {
  if (!ready.value) return;
  emit('change', [...fixed.value, { name: name.value.trim(), value: value.value.trim() }]);
  [adding.value, name.value, value.value] = [false, '', ''];
}
</script>

<template>
  <div class="fixed">
    <p v-for="one in fixed" :key="one.name" class="quiet controls">
      <span>{{ TEXTS.allRowsHave(one.name, one.value) }}</span>
      <v-btn
        variant="plain"
        :disabled="busy"
        :aria-label="WORDS.removeOf(one.name)"
        @click="
          emit(
            'change',
            fixed.filter((other) => other !== one),
          )
        "
      >
        {{ WORDS.remove }}
      </v-btn>
    </p>
    <form
      v-if="adding"
      class="controls"
      :aria-label="TEXTS.dimensionThatNoColumnHolds"
      @submit.prevent="add"
      @keydown.esc="adding = false"
    >
      <v-text-field
        ref="first"
        v-model="name"
        :label="TEXTS.dimension"
        :placeholder="TEXTS.channel"
        width="160"
      />
      <v-text-field
        v-model="value"
        :label="TEXTS.valueForAllRows"
        :placeholder="TEXTS.shops"
        width="160"
      />
      <v-btn type="submit" color="primary" variant="flat" :disabled="busy || !ready">{{
        WORDS.add
      }}</v-btn>
      <v-btn color="primary" @click="adding = false">{{ WORDS.cancel }}</v-btn>
    </form>
    <v-btn v-else variant="plain" :disabled="busy || dimensions.length >= MOST" @click="begin">
      {{ TEXTS.addDimensionThatNoColumn }}
    </v-btn>
  </div>
</template>

<style scoped>
form {
  align-items: flex-end;
}
</style>
