<script setup lang="ts">
import { actualsOperations, targetOperations } from '@dravex/contract';
import { monthText, type Span } from '@dravex/core';
import { computed, ref, watch } from 'vue';
import { WORDS } from '../format/words.ts';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import SheetTable from '../kit/SheetTable.vue';
import { TEXTS } from './texts.ts';

/** The sales lines behind a number, the largest first, with their documents. */
const props = defineProps<{
  scope: readonly number[];
  span: Span;
  target?: { readonly fiscalYear: number; readonly node: number } | undefined;
  books?: boolean | undefined;
}>();

const plan = usePlan();
const { minor, formats } = useFrame();

const [PAGE, MOST] = [20, 500];
const limit = ref(PAGE);
watch(
  () => [props.scope, props.span],
  () => (limit.value = PAGE),
);
const { data, failure } = useAnswer(
  [
    () => props.scope,
    () => props.span,
    () => props.target?.node,
    () => props.books,
    limit,
    () => plan.tick,
  ],
  () => {
    const which = {
      from: monthText(props.span.from),
      to: monthText(props.span.to),
      limit: limit.value,
      origin: props.books ? ('books' as const) : undefined,
    };
    if (props.target) {
      const { fiscalYear, node: nodeId } = props.target;
      return plan.ask(targetOperations.listTargetSales, { fiscalYear, nodeId, ...which });
    }
    return plan.ask(actualsOperations.listSalesLines, {
      ...which,
      scope: props.scope.join(),
      fromDay: props.span.days?.from,
      toDay: props.span.days?.to,
    });
  },
);
const count = computed(() => formats.value.show(data.value?.count ?? 0, 'units'));
</script>

<template>
  <section :aria-label="WORDS.salesLines">
    <h3 v-if="data">{{ TEXTS.fromSalesLines(count, data.count) }}</h3>
    <p v-if="failure" class="failure" role="alert">{{ failure }}</p>
    <SheetTable v-if="data && data.lines.length > 0">
      <thead>
        <tr>
          <th scope="col">{{ TEXTS.dateDocument }}</th>
          <th scope="col">{{ WORDS.units }}</th>
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
            {{ ' ' }}
            <span v-if="line.seller?.includes('+')" class="quiet document">
              {{ TEXTS.shared(line.seller) }}
            </span>
          </td>
          <td>{{ formats.full(line.quantity, 'units') }}</td>
          <td>{{ formats.show(line.netAmount / minor, 'price') }}</td>
        </tr>
      </tbody>
    </SheetTable>
    <v-btn
      v-if="data && data.count > data.lines.length && limit < MOST"
      variant="plain"
      @click="limit = Math.min(MOST, limit * 4)"
    >
      {{ TEXTS.showMore }}
    </v-btn>
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
