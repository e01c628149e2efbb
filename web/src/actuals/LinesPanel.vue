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
import type { SalesLines } from '@dravex/contract';
import { computed, ref, watch } from 'vue';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { inWords, request } from '../shell/api.ts';
import { useFrame } from '../shell/use-frame.ts';

/** The sales lines behind a number of the summary, each with its document, its file and its row. */
const props = defineProps<{ wanted: LinesWanted; planner: boolean }>();
const emit = defineEmits<{ close: []; batch: [id: number] }>();
const plan = usePlan();
const { formats } = useFrame();
const minor = computed(() => 10 ** (plan.workspace?.plan.currency.minorDigits ?? 2));

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
  if (document.value !== '') {
    const { first, last } = plan.workspace?.plan.calendar ?? { first: '', last: '' };
    const query = new URLSearchParams({
      from: first,
      to: last,
      document: document.value,
      skip: String(skip.value),
      limit: String(PAGE),
    });
    return request<SalesLines>('GET', plan.path(`/sales-lines?${query.toString()}`));
  }
  const { scope, from, to, origin } = props.wanted;
  const query = new URLSearchParams({
    scope: scope.join(),
    from: from.slice(0, 7),
    to: to.slice(0, 7),
    fromDay: from,
    toDay: to,
    skip: String(skip.value),
    limit: String(PAGE),
  });
  if (origin !== 'all') query.set('origin', origin);
  return request<SalesLines>('GET', plan.path(`/sales-lines?${query.toString()}`));
});
const money = (cents: number): string => formats.value.show(cents / minor.value, 'price');
const refusal = ref('');
async function drop(row: number): Promise<void> {
  refusal.value = '';
  try {
    await plan.save(() => request('DELETE', plan.path(`/hand-lines/${row}`)));
    await plan.reload();
  } catch (error) {
    refusal.value = inWords(error);
  }
}
</script>

<template>
  <aside class="panel" aria-label="Sales lines">
    <header>
      <h2>{{ wanted.title || 'All sales lines' }}</h2>
      <button type="button" class="link" @click="emit('close')">close</button>
    </header>
    <p v-if="failure || refusal" class="failure" role="alert">{{ failure || refusal }}</p>
    <template v-if="data">
      <p class="quiet">
        {{ data.count }} {{ data.count === 1 ? 'line' : 'lines'
        }}{{ document === '' ? `, ${wanted.from} to ${wanted.to}` : ` of ${document}` }}, together
        {{ money(data.revenue) }} {{ formats.currency }}; the largest first
      </p>
      <ol>
        <li v-for="line in data.lines" :key="`${line.document} ${line.lineNumber} ${line.batch}`">
          <span class="what">
            <button
              type="button"
              class="link"
              :title="document === '' ? 'All lines of this document' : 'Back to the number'"
              @click="showDocument(line.document)"
            >
              {{ line.document }}/{{ line.lineNumber }}
            </button>
            <span class="figures">{{ money(line.netAmount) }}</span>
          </span>
          <span class="quiet">
            {{ line.date }}, {{ formats.show(line.quantity, 'units') }} ×
            {{ plan.tree.label(line.members)
            }}<template v-if="line.customer">, {{ line.customer }}</template>
          </span>
          <span v-if="line.origin === 'hand'" class="waits">
            not in the books: {{ line.note }}
            <button v-if="planner" type="button" class="link" @click="drop(line.row)">
              take it out
            </button>
          </span>
          <span v-else class="quiet">
            <button type="button" class="link" @click="emit('batch', line.batch)">
              {{ line.fileName }}
            </button>
            {{ line.row > 0 ? `row ${line.row}` : '' }}
          </span>
        </li>
      </ol>
      <div class="controls">
        <button
          type="button"
          class="chip"
          :disabled="skip === 0"
          @click="skip = Math.max(0, skip - PAGE)"
        >
          Before
        </button>
        <button
          type="button"
          class="chip"
          :disabled="skip + PAGE >= data.count"
          @click="skip += PAGE"
        >
          After
        </button>
      </div>
    </template>
  </aside>
</template>

<style scoped>
.panel {
  width: 340px;
  flex: none;
  overflow: auto;
  border-left: 1px solid var(--line);
  padding-left: 16px;
  display: flex;
  flex-direction: column;
  gap: 6px;
}
header {
  display: flex;
  justify-content: space-between;
  gap: 10px;
}
ol {
  list-style: none;
  margin: 0;
  padding: 0;
  font-size: 12px;
}
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
