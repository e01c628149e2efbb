<script setup lang="ts">
import type { TraceNode, TraceQuestion } from '@dravex/core';
import { TEXTS } from './texts.ts';
import { questioned, useTrace } from './use-trace.ts';

/** A number outside the grid that explains itself when it is clicked. */
const props = defineProps<{
  text: string;
  question?: TraceQuestion | undefined;
  /** An explanation that is at hand, made when it is asked for. */
  node?: (() => { node: TraceNode; about: string }) | undefined;
}>();
const trace = useTrace();

function show(): void {
  if (props.question) trace.ask(questioned(props.question));
  else if (props.node) {
    trace.ask({ kind: 'node', ...props.node() });
  }
}
</script>

<template>
  <v-btn variant="text" class="traced" :title="TEXTS.showHowItIsCalculated" @click="show">
    {{ text }}
  </v-btn>
</template>

<style scoped>
.traced {
  font-variant-numeric: inherit;
}
.traced:hover {
  text-decoration: underline dotted;
  text-underline-offset: 3px;
}
</style>
