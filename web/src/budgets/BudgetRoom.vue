<script setup lang="ts">
import { monthFrom, sameSource, versionSource } from '@dravex/core';
import { computed, ref } from 'vue';
import { spanInWords } from '../format/periods.ts';
import FiguresGrid from '../grid/FiguresGrid.vue';
import RowsChoice from '../grid/RowsChoice.vue';
import { measureInWords } from '../grid/table-rows.ts';
import { useSession } from '../people/use-session.ts';
import { amountInWords } from '../forecast/headline.ts';
import TypedQuestion from '../plan/TypedQuestion.vue';
import { usePlan } from '../plan/use-plan.ts';
import { alone, measureOf, useFigures } from '../forecast/use-tables.ts';
import Choice from '../shell/Choice.vue';
import DownloadLink from '../shell/DownloadLink.vue';
import WhyField from '../journal/WhyField.vue';
import { useAnswer } from '../plan/use-answer.ts';
import { inWords, request } from '../shell/api.ts';
import ScopeBar from '../shell/ScopeBar.vue';
import { useFrame } from '../shell/use-frame.ts';
import CopyDialog from './CopyDialog.vue';
import KeepDialog from './KeepDialog.vue';
import { BASES, useEntries } from './use-entries.ts';

const plan = usePlan();
const session = useSession();
const { version, measure, formats, unit, span, subject, subjectOf, scope, set, setSpan, setScope } =
  useFrame();
const source = computed(() => version.value && versionSource(version.value.id));
const { data: answered, failure, settled } = useFigures(() => source.value);
/** The answer for the version in force; one of the version before it is no answer. */
const data = computed(() =>
  sameSource(answered.value?.source, source.value) ? answered.value : undefined,
);
const entries = useEntries(() => version.value, settled);
const { keeps, message: typedMessage, failed, refused, waiting, doubts, journal, spread } = entries;

const planner = computed(() => session.roleIn(plan.workspaceId) === 'planner');
const keeping = ref(false);
const copying = ref(false);
const open = computed(() => version.value?.state === 'open');
/** The measure of the numbers in sight, which may be overtaken by the one that is asked. */
const shown = computed(() => measureOf(data.value?.query));
/** Which numbers of the table have entries below them. */
const touched = useAnswer([data], async () => {
  const answer = data.value;
  const id = version.value?.id;
  if (!answer || id === undefined) return undefined;
  return plan.compute().entriesTable(id, alone(answer.query, shown.value));
});
const KEEPS = [
  { value: 'units', name: 'units stay, the price moves' },
  { value: 'price', name: 'the price stays, units move' },
] as const;

async function seal(): Promise<void> {
  const kept = version.value;
  if (!kept) return;
  try {
    await plan.save(() => request('POST', plan.path(`/versions/${kept.id}/seal`)));
    await plan.inLine(plan.catchUp);
    message.value = `${kept.name} is sealed: it takes no more entries. Ctrl+Z opens it again.`;
  } catch (error) {
    message.value = inWords(error);
  }
}
async function remove(): Promise<void> {
  const kept = version.value;
  if (!kept) return;
  try {
    await plan.save(() => request('DELETE', plan.path(`/versions/${kept.id}`)));
    await plan.inLine(plan.catchUp);
    message.value = `${kept.name} is deleted; Ctrl+Z brings it back.`;
    await set({ version: undefined });
  } catch (error) {
    plan.saving = 'saved';
    message.value = inWords(error);
  }
}
async function copied(id: number): Promise<void> {
  const copy = plan.versions.find((candidate) => candidate.id === id);
  message.value = 'Copied. It is in force in every room now.';
  const months = copy ? { from: copy.from, to: copy.to } : {};
  await set({ version: String(id), ...months });
}
const message = ref('');

const covered = computed(() =>
  version.value
    ? { from: monthFrom(version.value.from), to: monthFrom(version.value.to) }
    : undefined,
);
const headline = computed(() => {
  const kept = version.value;
  const answer = data.value;
  if (!kept) return 'No version is kept yet';
  const value = answer?.table.totals[0]?.total.value;
  if (!answer || value === undefined) return kept.name;
  if (value === null || answer.table.rows.length === 0)
    return `${kept.name} plans nothing in this window`;
  const { scope: asked } = answer.query;
  const where = asked.length > 0 ? ` for ${subjectOf(asked)}` : '';
  return `${kept.name} plans ${amountInWords(value, shown.value, formats.value)}${where}`;
});
const state = computed(() => {
  const kept = version.value;
  const answer = data.value;
  if (!kept || !answer || !covered.value) return '';
  const at = new Date(kept.createdAt).toLocaleDateString(plan.workspace?.locale, {
    day: 'numeric',
    month: 'long',
    year: 'numeric',
  });
  return `${measureInWords(shown.value, unit.value, formats.value)}, ${spanInWords(answer.query.span)}; kept ${at} by ${kept.createdBy}, ${kept.state === 'open' ? 'open for entries' : 'sealed'}${kept.note ? `, “${kept.note}”` : ''}`;
});
/** Part of the window lies outside the version: its columns are empty, and that is said. */
const outside = computed(() => {
  const months = covered.value;
  if (!months) return false;
  return span.value.from < months.from || span.value.to > months.to;
});

async function kept(id: number, missing: number): Promise<void> {
  message.value =
    missing > 0
      ? `Kept, without ${missing} cells in which an input is missing.`
      : 'Kept. It is in force in every room now.';
  await set({ version: String(id) });
}
</script>

<template>
  <section class="room">
    <ScopeBar :shows="['measure', 'grain', 'unit']">
      <Choice
        v-if="version"
        about="Version"
        :label="version.name"
        :options="plan.versions.map(({ id, name }) => ({ value: id, name }))"
        :chosen="version.id"
        @choose="set({ version: String($event) })"
      />
      <RowsChoice with-columns />
    </ScopeBar>
    <header class="room-head">
      <div>
        <h1>{{ headline }}</h1>
        <p class="state">{{ state }}</p>
      </div>
    </header>
    <p v-if="message" class="quiet" role="status">{{ message }}</p>
    <div v-if="planner" class="controls typing no-print">
      <Choice
        v-if="version && open && measure === 'revenue'"
        about="When revenue is typed"
        :label="`Revenue typed: ${KEEPS.find(({ value }) => value === keeps)?.name ?? ''}`"
        :options="KEEPS"
        :chosen="keeps"
        @choose="keeps = $event"
      />
      <p v-if="spread" role="status" data-spread>
        Spread over {{ spread.cells }} cells,
        <template v-for="{ basis, name } in BASES" :key="basis">
          <b v-if="basis === spread.basis">{{ name }}</b>
          <button v-else type="button" class="link" @click="entries.respread(basis)">
            {{ name }}
          </button>
          <span v-if="basis !== 'forecast'" aria-hidden="true"> · </span>
        </template>
      </p>
      <p
        v-if="typedMessage"
        :class="failed ? 'failure' : 'quiet'"
        :role="failed ? 'alert' : 'status'"
      >
        {{ typedMessage }}
      </p>
      <WhyField :journal="journal" />
      <p v-if="version && !open" class="quiet">Sealed: copy it to go on from it.</p>
      <span class="push" />
      <div class="controls acts">
        <template v-if="version">
          <button class="chip" type="button" @click="copying = true">Copy with an uplift</button>
          <button v-if="open" class="chip" type="button" @click="seal">Seal it</button>
          <button class="chip" type="button" @click="remove">Delete it</button>
        </template>
        <button class="chip" type="button" @click="keeping = true">
          Keep the forecast as a version
        </button>
      </div>
    </div>
    <TypedQuestion :doubts="doubts" @settle="entries.settle" />
    <p v-if="failure" class="failure" role="alert">{{ failure }}</p>
    <p v-if="outside && covered && data?.table.rows.length" class="waits">
      {{ version?.name }} covers {{ spanInWords(covered) }}; the window is wider.
      <button class="link" type="button" @click="setSpan(covered.from, covered.to)">
        Show just that
      </button>
    </p>
    <div v-if="!version" class="empty">
      <h2>A version keeps planned numbers as they stand</h2>
      <p>
        Keep the forecast under a name, such as the budget of a year, to compare sales with it
        later.
      </p>
    </div>
    <div v-else-if="data && data.table.rows.length === 0" class="empty">
      <h2>{{ version.name }} has nothing here</h2>
      <p v-if="covered">
        It covers {{ spanInWords(covered) }}; the window is {{ spanInWords(span) }}.
      </p>
      <p v-if="scope.length > 0">The scope is {{ subject }}.</p>
      <div class="controls">
        <button
          v-if="covered && outside"
          class="plain"
          type="button"
          @click="setSpan(covered.from, covered.to)"
        >
          Show its months
        </button>
        <button v-if="scope.length > 0" class="plain" type="button" @click="setScope([])">
          Lift the scope
        </button>
      </div>
    </div>
    <template v-else-if="data">
      <div class="grid-place" data-grid="budget">
        <FiguresGrid
          label="Budget"
          :about="state"
          :table="data.table"
          :query="data.query"
          :source="data.source"
          :dress="open ? 'kept' : 'locked'"
          :entries="touched.data.value"
          :editable="planner && open"
          :refused="refused"
          :waiting="waiting"
          @edit="entries.edit"
        />
      </div>
      <DownloadLink :query="alone(data.query, shown)" name="table" :version="version.id" />
    </template>
    <KeepDialog v-model="keeping" @kept="kept" />
    <CopyDialog v-if="version" v-model="copying" :version="version" @copied="copied" />
  </section>
</template>

<style scoped>
.acts {
  flex: none;
}
.typing {
  min-height: 24px;
  gap: 14px;
}
.grid-place {
  flex: 1;
  min-height: 0;
}
</style>
