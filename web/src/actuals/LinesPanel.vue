<script lang="ts">
/** Which sales lines are wanted, and what the number is called that they are behind. */
export interface LinesWanted {
  readonly title: string;
  readonly scope: readonly number[];
  readonly from: string;
  readonly to: string;
  readonly origin: 'all' | 'books' | 'hand';
}
</script>

<script setup lang="ts">
import { actualsOperations, summaryOperations } from '@dravex/contract';
import { ref, watch } from 'vue';
import { WORDS } from '../format/words.ts';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import SidePanel from '../shell/SidePanel.vue';
import { useFrame } from '../shell/use-frame.ts';
import { useWriting } from '../writing/use-writing.ts';
import { TEXTS } from './texts.ts';

/** The sales lines behind a number of the summary, each with its document, its file and its row. */
const props = defineProps<{ wanted: LinesWanted; planner: boolean }>();
const emit = defineEmits<{ close: []; batch: [id: number] }>();
const plan = usePlan();
const { formats, minor, calendar } = useFrame();

const PAGE = 25;
const skip = ref(0);
/** A document of which all lines are shown, whatever the number was of. */
const document = ref('');
function showDocument(number: string): void {
  document.value = document.value === number ? '' : number;
  skip.value = 0;
}
watch(
  () => props.wanted,
  () => {
    skip.value = 0;
    document.value = '';
  },
);
const { data, failure } = useAnswer([() => props.wanted, skip, document, () => plan.tick], () => {
  const page = { skip: skip.value, limit: PAGE };
  const { scope, from, to, origin } = props.wanted;
  const { first, last } = calendar.value;
  return plan.ask(
    actualsOperations.listSalesLines,
    document.value === ''
      ? {
          ...page,
          scope: scope.join(),
          from: from.slice(0, 7),
          to: to.slice(0, 7),
          fromDay: from,
          toDay: to,
          origin: origin === 'all' ? undefined : origin,
        }
      : { ...page, from: first, to: last, document: document.value },
  );
});
const money = (cents: number): string => formats.value.show(cents / minor.value, 'price');
const { failure: refusal, write } = useWriting();
const drop = (lineId: number) =>
  write(
    () => plan.ask(summaryOperations.dropLine, { lineId }),
    () => (plan.said = { text: TEXTS.deletedSaleEnteredByHand, undo: 'actuals' }),
  );
</script>

<template>
  <SidePanel
    :heading="wanted.title ? TEXTS.salesLinesOf(wanted.title) : WORDS.salesLines"
    :width="350"
    @close="emit('close')"
  >
    <p v-if="failure || refusal" class="failure" role="alert">{{ failure || refusal }}</p>
    <template v-if="data">
      <p class="quiet">
        {{
          TEXTS.linesTotalLargestFirst(
            data.count,
            document === '',
            wanted.from,
            wanted.to,
            document,
            money(data.revenue),
            formats.currency,
          )
        }}
      </p>
      <ul>
        <li v-for="line in data.lines" :key="`${line.document} ${line.lineNumber} ${line.batch}`">
          <span class="what">
            <v-btn
              variant="plain"
              :title="document === '' ? TEXTS.allLinesOfThisDocument : TEXTS.backToNumber"
              @click="showDocument(line.document)"
            >
              {{ line.document }}/{{ line.lineNumber }}
            </v-btn>
            <span class="figures">{{ money(line.netAmount) }}</span>
          </span>
          <span class="quiet">
            {{ line.date }}, {{ formats.show(line.quantity, 'units') }} ×
            {{ plan.tree.label(line.members)
            }}<template v-if="line.customer">, {{ line.customer }}</template>
          </span>
          {{ ' ' }}
          <span v-if="line.origin === 'hand'" class="waits">
            {{ TEXTS.enteredByHand(line.note ?? '') }}
            <v-btn v-if="planner" variant="plain" @click="drop(line.row)">{{ WORDS.delete }}</v-btn>
          </span>
          <span v-else class="quiet">
            <v-btn variant="plain" @click="emit('batch', line.batch)">{{ line.fileName }}</v-btn>
            {{ line.row > 0 ? TEXTS.rowOf(line.row) : '' }}
          </span>
        </li>
      </ul>
      <div class="controls">
        <v-btn :disabled="skip === 0" @click="skip = Math.max(0, skip - PAGE)">{{
          TEXTS.previous
        }}</v-btn>
        <v-btn :disabled="skip + PAGE >= data.count" @click="skip += PAGE">{{ TEXTS.next }}</v-btn>
      </div>
    </template>
  </SidePanel>
</template>

<style scoped>
li {
  display: grid;
  padding: 4px 0;
  border-bottom: 1px solid var(--line-soft);
}
.what {
  display: flex;
  justify-content: space-between;
}
</style>
