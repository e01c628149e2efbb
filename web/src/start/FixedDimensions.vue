<script setup lang="ts">
import { nameSchema, type FirstFileLook } from '@dravex/contract';
import { computed, nextTick, ref, useTemplateRef } from 'vue';

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
      <span>All rows have {{ one.name }}: {{ one.value }}</span>
      <v-btn
        variant="plain"
        :disabled="busy"
        :aria-label="`Remove ${one.name}`"
        @click="
          emit(
            'change',
            fixed.filter((other) => other !== one),
          )
        "
      >
        Remove
      </v-btn>
    </p>
    <form
      v-if="adding"
      class="controls"
      aria-label="Dimension that no column holds"
      @submit.prevent="add"
      @keydown.esc="adding = false"
    >
      <v-text-field
        ref="first"
        v-model="name"
        label="Dimension"
        placeholder="Channel"
        width="160"
      />
      <v-text-field v-model="value" label="Value for all rows" placeholder="Shops" width="160" />
      <v-btn type="submit" color="primary" variant="flat" :disabled="busy || !ready">Add</v-btn>
      <v-btn color="primary" @click="adding = false">Cancel</v-btn>
    </form>
    <v-btn v-else variant="plain" :disabled="busy || dimensions.length >= MOST" @click="begin">
      Add a dimension that no column holds
    </v-btn>
  </div>
</template>

<style scoped>
form {
  align-items: flex-end;
}
</style>
