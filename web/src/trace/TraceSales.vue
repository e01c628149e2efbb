<script setup lang="ts">
import type { SalesLines } from '@dravex/contract';
import { monthText, type Span } from '@dravex/core';
import { computed, ref, watch } from 'vue';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { request } from '../shell/api.ts';
import { useFrame } from '../shell/use-frame.ts';

/** The sales lines behind a number, the largest first, with their documents. */
const props = defineProps<{
  scope: readonly number[];
  span: Span;
  seller?: string | undefined;
  books?: boolean | undefined;
}>();

const plan = usePlan();
const { formats } = useFrame();
const minor = computed(() => 10 ** (plan.workspace?.plan.currency.minorDigits ?? 2));

const PAGE = 20;
const limit = ref(PAGE);
watch(
  () => [props.scope, props.span],
  () => (limit.value = PAGE),
);
const { data, failure } = useAnswer(
  [
    () => props.scope,
    () => props.span,
    () => props.seller,
    () => props.books,
    limit,
    () => plan.tick,
  ],
  () => {
    const parameters = new URLSearchParams({
      scope: props.scope.join(),
      from: monthText(props.span.from),
      to: monthText(props.span.to),
      limit: String(limit.value),
    });
    if (props.books) parameters.set('origin', 'books');
    if (props.seller !== undefined) parameters.set('seller', props.seller);
    return request<SalesLines>('GET', plan.path(`/sales-lines?${parameters.toString()}`));
  },
);
const count = computed(() => formats.value.show(data.value?.count ?? 0, 'units'));
</script>

<template>
  <section aria-label="Sales lines">
    <h3 v-if="data">From {{ count }} {{ data.count === 1 ? 'sales line' : 'sales lines' }}</h3>
    <p v-if="failure" class="failure" role="alert">{{ failure }}</p>
    <table v-if="data && data.lines.length > 0" class="sheet-table">
      <thead>
        <tr>
          <th scope="col">Date, document</th>
          <th scope="col">Units</th>
          <th scope="col">{{ formats.currency }}</th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="line in data.lines"
          :key="`${line.document} ${line.lineNumber}`"
          :title="`${plan.tree.label(line.members)}; ${line.fileName}`"
        >
          <td>
            {{ line.date }}
            <span class="quiet document">{{ line.document }}/{{ line.lineNumber }}</span>
          </td>
          <td>{{ formats.show(line.quantity, 'units') }}</td>
          <td>{{ formats.show(line.netAmount / minor, 'price') }}</td>
        </tr>
      </tbody>
    </table>
    <button
      v-if="data && data.count > data.lines.length && limit < 500"
      type="button"
      class="link"
      @click="limit = Math.min(500, limit * 4)"
    >
      Show more
    </button>
  </section>
</template>

<style scoped>
table {
  font-size: 11.5px;
}
td {
  height: 22px !important;
  padding: 0 4px !important;
}
th {
  padding: 3px 4px !important;
  position: static !important;
}
.document {
  font-size: 10.5px;
}
</style>
