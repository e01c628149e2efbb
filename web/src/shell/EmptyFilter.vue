<script setup lang="ts">
import { computed } from 'vue';
import { spanInWords } from '../format/periods.ts';
import EmptyState from '../kit/EmptyState.vue';
import { TEXTS } from './texts.ts';
import { useFrame, type Preset } from './use-frame.ts';

/** Nothing is left of a table: every filter that may be the reason is named, and lifted by a click. */
const props = defineProps<{
  heading: string;
  /** Filters of the room's own. */
  more?: readonly { readonly name: string; readonly lift: () => unknown }[];
  /** The period that is offered in place of the one in force. */
  instead?: Preset;
}>();
const { scope, subject, span, books, preset, presets, set, setScope, setSpan } = useFrame();

const filters = computed(() => [
  ...(props.more ?? []),
  ...(books.value ? [{ name: TEXTS.booksOnly, lift: () => set({ origin: undefined }) }] : []),
  ...(scope.value.length > 0 ? [{ name: subject.value, lift: () => setScope([]) }] : []),
]);
const other = computed(() => (props.instead === preset.value ? undefined : props.instead));
</script>

<template>
  <EmptyState :heading="heading">
    <p>{{ TEXTS.thePeriodIs(spanInWords(span)) }}</p>
    <p v-for="filter in filters" :key="filter.name">
      {{ TEXTS.filterOf(filter.name) }}
      <v-btn variant="plain" @click="filter.lift">{{ TEXTS.removeFilter }}</v-btn>
    </p>
    <v-btn v-if="other" color="primary" @click="setSpan(presets[other].from, presets[other].to)">
      {{ TEXTS.show(other.toLowerCase()) }}
    </v-btn>
    <slot />
  </EmptyState>
</template>
