<script setup lang="ts" generic="T">
import { computed, ref, watch } from 'vue';

/** A field with what it finds below: arrows move, Enter goes to the one that is chosen. */
const text = defineModel<string>({ required: true });
const props = defineProps<{
  label: string;
  placeholder: string;
  found: readonly T[];
}>();
const emit = defineEmits<{ enter: [chosen: T | undefined] }>();

const place = ref(0);
const chosen = computed(() => props.found[place.value]);
watch(text, () => (place.value = 0));
function move(step: number): void {
  const { length } = props.found;
  if (length > 0) place.value = (place.value + step + length) % length;
}
</script>

<template>
  <input
    v-model="text"
    class="search"
    role="combobox"
    aria-controls="search-list"
    aria-expanded="true"
    autocomplete="off"
    :aria-label="label"
    :aria-activedescendant="`search-${place}`"
    :placeholder="placeholder"
    @keydown.down.prevent="move(1)"
    @keydown.up.prevent="move(-1)"
    @keydown.enter.prevent="emit('enter', chosen)"
  />
  <ul id="search-list" role="listbox" :aria-label="label">
    <li
      v-for="(one, at) in found"
      :id="`search-${at}`"
      :key="at"
      role="option"
      :aria-selected="at === place"
      @click="emit('enter', one)"
      @mousemove="place = at"
    >
      <slot :one="one" />
    </li>
  </ul>
</template>

<style scoped>
.search {
  font: inherit;
  font-size: 14px;
  color: var(--ink);
  background: var(--surface);
  border: 1px solid var(--line);
  border-radius: 4px;
  padding: 5px 8px;
}
.search::placeholder {
  color: var(--ink-quiet);
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: flex;
  justify-content: space-between;
  gap: 12px;
  padding: 5px 8px;
  border-radius: 3px;
  cursor: pointer;
}
li[aria-selected='true'] {
  background: var(--harbour-soft);
}
</style>
