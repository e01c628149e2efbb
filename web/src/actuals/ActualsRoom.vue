<script setup lang="ts">
import { monthFrom, ratio, ACTUAL } from '@dravex/core';
import { computed, ref, watch } from 'vue';
import { useRoute } from 'vue-router';
import { measureOf, useByHand, useFigures } from '../forecast/use-tables.ts';
import { whenInWords } from '../format/moments.ts';
import { longMonth, shortMonth, spanInWords } from '../format/periods.ts';
import FactsView from '../facts/FactsView.vue';
import FiguresGrid from '../grid/FiguresGrid.vue';
import RowsChoice from '../grid/RowsChoice.vue';
import { measureInWords } from '../grid/table-rows.ts';
import { useSession } from '../people/use-session.ts';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { inWords, request } from '../shell/api.ts';
import ScopeBar from '../shell/ScopeBar.vue';
import { useFrame } from '../shell/use-frame.ts';
import { codeFrom } from './code-from.ts';
import ImportPreview from './ImportPreview.vue';
import ReadingForm from './ReadingForm.vue';
import SummaryTable from './SummaryTable.vue';
import { useImport } from './use-import.ts';

const plan = usePlan();
const session = useSession();
const {
  formats,
  unit,
  subject,
  calendar,
  span,
  scope,
  measure,
  set,
  setScope,
  setSpan,
  presets,
  books,
  counted,
} = useFrame();
const route = useRoute();
const VIEWS = [
  { key: 'table', name: 'Sales by month' },
  { key: 'summary', name: 'Summary' },
  { key: 'facts', name: 'Measured facts' },
  { key: 'subscribers', name: 'Subscribers' },
  { key: 'ledger', name: 'Ledger' },
] as const;
const view = computed(() => VIEWS.find(({ key }) => key === route.query['view'])?.key ?? 'table');
/** The month of the as-of date: later ones have no sales lines yet. */
const openMonth = computed(() => monthFrom(calendar.value.asOf.slice(0, 7)));
const { data, failure } = useFigures(
  () => counted(ACTUAL),
  undefined,
  () => openMonth.value,
);
const {
  file,
  kind,
  look,
  choice,
  mappings,
  preview,
  waiting,
  applied,
  takeBack,
  busy,
  share,
  failure: importFailure,
  done,
  listWaiting,
  upload,
  readAs,
  settle,
  changeReading,
  show,
  repair,
  apply,
  stop,
  discard,
  close,
} = useImport();
const stoppable = computed(() => share.value !== undefined || busy.value.startsWith('Applying'));

/** Makes a member of a code that nobody knew, and reads the rows anew. */
async function createMember(dimension: string, value: string): Promise<void> {
  const found = plan.workspace?.plan.dimensions.find(({ code }) => code === dimension);
  if (!found) return;
  importFailure.value = '';
  try {
    const code = codeFrom(value);
    const path = plan.path(`/dimensions/${dimension}/members`);
    await plan.save(() => request('POST', path, { code, name: value, parent: null }));
    await plan.reload();
    await repair({ replace: [{ field: dimension, from: value, to: code }] });
  } catch (error) {
    importFailure.value = inWords(error);
  }
}

const planner = computed(() => session.roleIn(plan.workspaceId) === 'planner');
const minor = computed(() => 10 ** (plan.workspace?.plan.currency.minorDigits ?? 2));
watch(
  () => plan.tick,
  () => {
    if (planner.value) void listWaiting().catch(() => undefined);
  },
  { immediate: true },
);

/** The closed part of the window against the same months a year before: both spans of one length. */
const before = useAnswer([span, scope, measure, books, () => plan.tick], async () => {
  const closed = { from: span.value.from, to: Math.min(span.value.to, plan.closedThrough) };
  const first = monthFrom(calendar.value.first);
  if (closed.to < closed.from) return null;
  const query = {
    measure: measure.value,
    columns: 'time',
    scope: scope.value,
    grain: 'year' as const,
  };
  const asked = { measure: measure.value, subject: subject.value };
  const rows = plan.workspace?.plan.dimensions.slice(0, 1).map(({ code }) => code) ?? [];
  const total = async (months: typeof closed): Promise<number | null> =>
    (await plan.compute().table(counted(ACTUAL), { ...query, rows, span: months })).total.total
      .value;
  const now = await total(closed);
  if (closed.from - 12 < first || now === null) return { ...asked, closed, now, growth: null };
  const then = await total({ from: closed.from - 12, to: closed.to - 12 });
  return {
    ...asked,
    closed,
    now,
    growth: then === null ? null : ratio(now - then, Math.abs(then)),
  };
});

const headline = computed(() => {
  const found = before.data.value;
  if (!found?.now) return 'No month of this window is closed';
  const of = found.measure;
  const value =
    of === 'averagePrice'
      ? `at ${formats.value.currency}${formats.value.show(found.now, 'price')} a unit`
      : `${formats.value.inWords(found.now)}${of === 'units' ? ' units' : ''}`;
  const growth = found.growth;
  const change =
    growth === null
      ? ''
      : `, ${formats.value.show(Math.abs(growth), 'percent')} ${growth >= 0 ? 'more' : 'less'} than a year before`;
  return `${found.subject} sold ${value} from ${spanInWords(found.closed)}${change}`;
});
const state = computed(() => {
  const answer = data.value;
  if (!answer) return '';
  const toDate =
    span.value.to >= openMonth.value
      ? `; ${longMonth(openMonth.value)} is open, its sales are those so far`
      : '';
  return `${measureInWords(measureOf(answer.query), unit.value, formats.value)}, ${spanInWords(answer.query.span)}, from ${books.value ? 'the books only' : 'sales lines'}${toDate}`;
});
/** Which numbers were entered by hand only: they bear a rule. */
const byHand = useByHand(data);
/** An open month holds what there is so far, and says so. */
function headingOf(key: string): string | undefined {
  const month = data.value?.table.columns.find((column) => column.key === key)?.period;
  if (!month || month.from !== openMonth.value || month.to !== openMonth.value) return undefined;
  return `${shortMonth(month.from)} so far`;
}
const future = computed(() => data.value && data.value.table.rows.length === 0);

/** What a file is likely to be, by where it is brought in. */
const KIND_OF = {
  table: 'sales',
  summary: 'sales',
  facts: 'facts',
  subscribers: 'subscribers',
  ledger: 'ledger',
} as const;
function bring(chosen: File): void {
  kind.value = KIND_OF[view.value];
  void upload(chosen);
}
const input = ref<HTMLInputElement>();
const over = ref(false);
function choose(event: Event): void {
  const files = (event.target as HTMLInputElement).files;
  const [file] = files ?? [];
  if (file) bring(file);
  if (input.value) input.value.value = '';
}
function drop(event: DragEvent): void {
  over.value = false;
  const [file] = event.dataTransfer?.files ?? [];
  if (file && planner.value) bring(file);
}
</script>

<template>
  <section
    class="room"
    :class="{ over }"
    @dragover.prevent="over = true"
    @dragleave="over = false"
    @drop.prevent="drop"
  >
    <ScopeBar
      :shows="
        preview || look ? [] : view === 'table' ? ['books', 'measure', 'grain', 'unit'] : ['unit']
      "
    >
      <RowsChoice
        v-if="!preview && !look && (view === 'table' || view === 'summary')"
        :with-columns="view === 'table'"
      />
    </ScopeBar>
    <div v-if="busy" class="busy" role="status">
      <span class="quiet">{{ busy }} …</span>
      <template v-if="stoppable">
        <progress v-if="share !== undefined" :value="share" max="1" :aria-label="busy" />
        <span v-if="share !== undefined" class="figures">{{ Math.round(share * 100) }} %</span>
        <button type="button" class="chip" @click="stop">Stop</button>
      </template>
    </div>
    <template v-if="look && file">
      <p v-if="importFailure" class="failure" role="alert">{{ importFailure }}</p>
      <ReadingForm
        :file-name="file.name"
        :look="look"
        :choice="choice"
        :kind="kind"
        :mappings="mappings"
        :busy="busy !== ''"
        @read="readAs"
        @settle="settle"
        @close="close"
      />
    </template>
    <template v-else-if="preview">
      <p v-if="importFailure" class="failure" role="alert">{{ importFailure }}</p>
      <ImportPreview
        :preview="preview"
        :formats="formats"
        :minor="minor"
        :dimensions="plan.workspace?.plan.dimensions ?? []"
        :busy="busy !== ''"
        :planner="planner"
        :left-out-path="`/api${plan.path(`/imports/${preview.id}/left-out`)}`"
        :file-at-hand="file !== undefined"
        @change-reading="changeReading"
        @repair="repair"
        @create="createMember"
        @apply="apply"
        @discard="discard"
        @close="close"
        @take-back="takeBack(preview).then(close)"
      />
    </template>
    <template v-else>
      <header class="room-head head">
        <div class="found">
          <nav class="views no-print" aria-label="What is shown">
            <button
              v-for="one in VIEWS"
              :key="one.key"
              type="button"
              class="chip"
              :aria-pressed="view === one.key"
              @click="set({ view: one.key === 'table' ? undefined : one.key })"
            >
              {{ one.name }}
            </button>
          </nav>
          <template v-if="view === 'table'">
            <h1>{{ headline }}</h1>
            <p class="state">{{ state }}</p>
          </template>
        </div>
        <div v-if="planner" class="controls no-print">
          <input
            ref="input"
            type="file"
            accept=".csv,.tsv,.txt,.xlsx,.json,text/csv,text/plain,application/json"
            class="hidden-but-read"
            tabindex="-1"
            aria-label="File of what happened"
            @change="choose"
          />
          <v-menu location="bottom end" :offset="4" :close-on-content-click="false">
            <template #activator="{ props: activator }">
              <button v-bind="activator" type="button" class="plain">
                {{ applied.length }} {{ applied.length === 1 ? 'file' : 'files' }}
              </button>
            </template>
            <div class="menu-sheet files">
              <p v-if="applied.length === 0" class="quiet">No file is applied yet.</p>
              <div v-for="batch in applied" :key="batch.id" class="file">
                <span>
                  {{ batch.fileName }}
                  <span class="quiet">
                    {{ batch.good }} rows, {{ batch.createdBy }},
                    {{ whenInWords(batch.appliedAt ?? batch.createdAt, plan.workspace?.locale) }}
                  </span>
                </span>
                <span class="acts">
                  <button type="button" class="link" @click="show(batch.id)">Look at it</button>
                  <button
                    type="button"
                    class="link"
                    :disabled="busy !== ''"
                    :aria-label="`Take back ${batch.fileName}`"
                    @click="takeBack(batch)"
                  >
                    Take back
                  </button>
                </span>
              </div>
            </div>
          </v-menu>
          <button class="plain" type="button" :disabled="busy !== ''" @click="input?.click()">
            Take in a file
          </button>
        </div>
      </header>
      <p v-if="importFailure" class="failure" role="alert">{{ importFailure }}</p>
      <p v-if="done" class="good" role="status">{{ done }}</p>
      <p v-for="batch in waiting" :key="batch.id" class="waits no-print">
        {{ batch.fileName }} waits to be applied: {{ batch.good }} good, {{ batch.faulty }} left
        out. {{ batch.job?.message }}
        <button class="link" type="button" @click="show(batch.id)">Look at it</button>
      </p>
      <p v-if="failure" class="failure" role="alert">{{ failure }}</p>
      <SummaryTable v-if="view === 'summary'" :planner="planner" @batch="show" />
      <FactsView
        v-else-if="view === 'facts' || view === 'subscribers' || view === 'ledger'"
        :kind="view"
        :planner="planner"
      />
      <div v-else-if="future" class="empty">
        <h2>There are no sales lines here</h2>
        <p>
          The window is {{ spanInWords(span)
          }}<template v-if="scope.length > 0">, the scope {{ subject }}</template
          >.
        </p>
        <div class="controls">
          <button v-if="scope.length > 0" class="plain" type="button" @click="setScope([])">
            Lift the scope
          </button>
          <button
            class="plain"
            type="button"
            @click="setSpan(presets['Last 12'].from, presets['Last 12'].to)"
          >
            Show the last 12 closed months
          </button>
        </div>
      </div>
      <div v-else-if="data" class="grid-place" data-grid="actuals">
        <FiguresGrid
          label="Actuals"
          :about="state"
          saves
          :table="data.table"
          :query="data.query"
          :source="data.source"
          dress="books"
          :by-hand="byHand.data.value"
          :heading-of="headingOf"
        />
      </div>
    </template>
  </section>
</template>

<style scoped>
.head {
  display: flex;
  justify-content: space-between;
  align-items: start;
  gap: 16px;
}
.head .controls {
  flex: none;
}
.grid-place {
  flex: 1;
  min-height: 0;
}
.views {
  display: flex;
  gap: 6px;
}
.found {
  display: grid;
  gap: 6px;
}
.busy {
  display: flex;
  align-items: center;
  gap: 10px;
  font-size: 12px;
}
.busy progress {
  width: 220px;
  accent-color: var(--harbour);
}
.over {
  outline: 2px dashed var(--harbour);
  outline-offset: 4px;
}
.files {
  padding: 10px 12px;
  min-width: 420px;
}
.file {
  display: flex;
  justify-content: space-between;
  gap: 20px;
  padding: 5px 0;
  border-bottom: 1px solid var(--line);
}
.file .quiet {
  display: block;
  font-size: 11.5px;
}
.acts {
  display: flex;
  gap: 12px;
  flex: none;
}
</style>
