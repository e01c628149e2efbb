<script setup lang="ts">
import { ref, watch } from 'vue';

/** A figure in a table that is typed over in place: Enter or leaving takes it, Escape leaves it as it was. */
const props = defineProps<{
  label: string;
  /** As it is shown, and as it is typed. */
  shown: string;
  typed: string;
  /** Whether a person typed it: shown by the rule under it. */
  own: boolean;
  editable: boolean;
}>();
/** Answers why the text cannot be taken, or nothing. */
const emit = defineEmits<{ take: [text: string]; explain: [] }>();

const open = ref(false);
const text = ref('');
const field = ref<HTMLInputElement>();
watch(field, (input) => {
  input?.focus();
  input?.select();
});

function start(): void {
  if (!props.editable) {
    emit('explain');
    return;
  }
  text.value = props.typed;
  open.value = true;
}
function take(): void {
  if (!open.value) return;
  open.value = false;
  const next = text.value.trim();
  if (next !== props.typed && next !== '') emit('take', next);
}
</script>

<template>
  <input
    v-if="open"
    ref="field"
    v-model="text"
    class="figure-input"
    :aria-label="label"
    @keydown.enter.prevent="take"
    @keydown.esc="open = false"
    @blur="take"
  />
  <button
    v-else
    type="button"
    class="bare figure-button"
    :class="{ own }"
    :aria-label="`${label}: ${shown}`"
    @click="start"
    @keydown.space.prevent="emit('explain')"
  >
    {{ shown }}
  </button>
</template>

<style scoped>
.figure-input {
  width: 104px;
  text-align: right;
  padding: 1px 5px;
  font-variant-numeric: tabular-nums;
}
.figure-button {
  opacity: 1 !important;
  font-variant-numeric: tabular-nums;
}
.figure-button.own {
  border-bottom: 1.5px solid var(--harbour);
}
</style>
