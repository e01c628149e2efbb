<script setup lang="ts">
import {
  actualsOperations,
  forecastOperations,
  workspaceOperations,
  type ImportPreview,
  type WorkspaceProposal,
} from '@dravex/contract';
import { fiscalYearOf, monthFrom } from '@dravex/core';
import { computed, ref, shallowRef } from 'vue';
import { useRouter } from 'vue-router';
import { longMonth } from '../format/periods.ts';
import { useSession } from '../people/use-session.ts';
import FilePick from '../kit/FilePick.vue';
import SheetTable from '../kit/SheetTable.vue';
import { ApiProblem, inWords } from '../shell/api.ts';
import { call, callWithFile } from '../shell/client.ts';

/** An empty start: a first file of sales lines, the workspace made from it, streams, the first forecast. */
const session = useSession();
const router = useRouter();

type Step = 'file' | 'workspace' | 'check' | 'streams';
const STEPS: readonly { step: Step; name: string }[] = [
  { step: 'file', name: 'Sales' },
  { step: 'workspace', name: 'Workspace' },
  { step: 'check', name: 'Check' },
  { step: 'streams', name: 'Forecast' },
];
const step = ref<Step>('file');
const file = shallowRef<File>();
const proposal = shallowRef<WorkspaceProposal>();
const preview = shallowRef<ImportPreview>();
const workspaceId = ref(0);
const busy = ref('');
const failure = ref('');
const faults = shallowRef<readonly string[]>([]);

const name = ref('');
const currency = ref('EUR');
const fiscalStart = ref(1);
const locale = ref(navigator.language);
const CURRENCIES = ['EUR', 'USD', 'GBP', 'CHF', 'SEK', 'NOK', 'DKK', 'PLN', 'CZK', 'JPY'];
const MONTHS = Array.from({ length: 12 }, (_, index) => ({
  value: index + 1,
  name: longMonth(monthFrom(`2026-${String(index + 1).padStart(2, '0')}`)).split(' ')[0],
}));

async function working(what: string, work: () => Promise<void>): Promise<void> {
  busy.value = what;
  failure.value = '';
  faults.value = [];
  try {
    await work();
  } catch (error) {
    failure.value = inWords(error);
    faults.value =
      error instanceof ApiProblem
        ? error.errors.slice(0, 8).map(({ path, message }) => `${path}: ${message}`)
        : [];
  } finally {
    busy.value = '';
  }
}

function choose(chosen: File | undefined): Promise<void> {
  if (!chosen) return Promise.resolve();
  return working(`Reading ${chosen.name}`, async () => {
    proposal.value = await callWithFile(workspaceOperations.proposeWorkspace, {}, chosen);
    file.value = chosen;
    fiscalStart.value = proposal.value.calendar.fiscalStart;
    step.value = 'workspace';
  });
}

const calendar = computed(() => proposal.value?.calendar);
const year = computed(() =>
  calendar.value ? fiscalYearOf(monthFrom(calendar.value.closedThrough), fiscalStart.value) : 0,
);

function minorDigits(code: string): number {
  const options = { style: 'currency', currency: code } as const;
  return Math.min(
    3,
    new Intl.NumberFormat('en', options).resolvedOptions().maximumFractionDigits ?? 2,
  );
}

/** Makes the workspace, and checks the same file against it. */
async function make(): Promise<void> {
  const found = proposal.value;
  const sales = file.value;
  if (!found || !sales) return;
  await working('Creating the workspace', async () => {
    if (workspaceId.value === 0) {
      const { id } = await call(
        workspaceOperations.createWorkspace,
        {},
        {
          name: name.value,
          locale: locale.value,
          currency: { code: currency.value, minorDigits: minorDigits(currency.value) },
          calendar: { ...found.calendar, fiscalStart: fiscalStart.value },
          dimensions: found.dimensions,
        },
      );
      workspaceId.value = id;
      await session.refresh();
    }
    const inputs = { workspaceId: workspaceId.value, fileName: sales.name };
    preview.value = await callWithFile(actualsOperations.previewImport, inputs, sales);
    step.value = 'check';
  });
}

async function apply(): Promise<void> {
  const checked = preview.value;
  if (!checked) return;
  await working(`Importing ${checked.good} sales lines`, async () => {
    const inputs = { workspaceId: workspaceId.value, importId: checked.id };
    await call(actualsOperations.applyImport, inputs);
    step.value = 'streams';
  });
}

async function forecast(): Promise<void> {
  await working('Creating the forecast', async () => {
    await call(forecastOperations.proposeStreams, { workspaceId: workspaceId.value }, {});
    await router.push(`/w/${workspaceId.value}/forecast`);
  });
}
</script>

<template>
  <main class="start" @dragover.prevent @drop.prevent="choose($event.dataTransfer?.files[0])">
    <p class="brand"><b>Dravex</b></p>
    <ol class="steps" aria-label="Steps">
      <li
        v-for="(one, index) in STEPS"
        :key="one.step"
        :class="{ here: one.step === step }"
        :aria-current="one.step === step ? 'step' : undefined"
      >
        <span class="numeral">{{ index + 1 }}</span> {{ one.name }}
      </li>
    </ol>
    <section v-if="step === 'file'" class="sheet">
      <h1>Import your sales</h1>
      <p>
        Start with a file of sales lines: a CSV, a workbook or JSON. Its header names
        <b>date, quantity, net amount</b> (cost, document, customer and seller where there are
        some), and one column for each dimension: channel, product, region, whatever you use.
        Customer and seller may be empty.
      </p>
      <p class="controls">
        <FilePick
          main
          label="Choose file"
          about="First file of sales lines"
          accept=".csv,.tsv,.txt,.xlsx,.json,text/csv,text/plain,application/json"
          :disabled="busy !== ''"
          @pick="choose"
        />
        <span class="quiet">or drop it here</span>
      </p>
      <p v-for="known in session.session?.workspaces ?? []" :key="known.id" class="quiet">
        Or go to <RouterLink :to="`/w/${known.id}/standing`">{{ known.name }}</RouterLink>
      </p>
    </section>
    <section v-else-if="step === 'workspace' && proposal && calendar" class="sheet">
      <h1>{{ proposal.rows }} sales lines with {{ proposal.dimensions.length }} dimensions</h1>
      <SheetTable about="Dimensions found">
        <thead>
          <tr>
            <th scope="col">Dimension</th>
            <th scope="col">Members</th>
            <th scope="col" class="words">For example</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="dimension in proposal.dimensions" :key="dimension.code">
            <td>{{ dimension.name }}</td>
            <td>{{ dimension.members.length }}</td>
            <td class="words quiet">
              {{
                dimension.members
                  .slice(0, 4)
                  .map((member) => member.name)
                  .join(', ')
              }}
            </td>
          </tr>
        </tbody>
      </SheetTable>
      <p class="quiet">
        {{ longMonth(monthFrom(calendar.first)) }} to
        {{ longMonth(monthFrom(calendar.closedThrough)) }} are closed; the plan ends in
        {{ longMonth(monthFrom(calendar.last)) }}. The last closed month is in FY {{ year }}.
      </p>
      <form class="form" @submit.prevent="make">
        <v-text-field
          v-model="name"
          label="Company name"
          autocomplete="organization"
          required
          autofocus
        />
        <v-select v-model="currency" label="Currency" :items="CURRENCIES" />
        <v-select v-model="fiscalStart" label="Fiscal year starts in" :items="MONTHS" />
        <v-text-field v-model="locale" label="Number and date format" autocomplete="off" />
        <p class="controls">
          <v-btn color="primary" variant="flat" type="submit" :disabled="busy !== ''"
            >Create workspace</v-btn
          >
          <v-btn color="primary" @click="step = 'file'">Choose another file</v-btn>
        </p>
      </form>
    </section>
    <section v-else-if="step === 'check' && preview" class="sheet">
      <h1>
        {{ preview.good }} of {{ preview.rows }} rows can be imported<template
          v-if="preview.faulty > 0"
          >, {{ preview.faulty }} are excluded</template
        >
      </h1>
      <SheetTable v-if="preview.problems.length > 0">
        <thead>
          <tr>
            <th scope="col">Row</th>
            <th scope="col" class="words">Problem</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(problem, index) in preview.problems.slice(0, 8)" :key="index">
            <td>{{ problem.row }}</td>
            <td class="words">{{ problem.message }}</td>
          </tr>
        </tbody>
      </SheetTable>
      <p class="controls">
        <v-btn
          color="primary"
          variant="flat"
          :disabled="busy !== '' || preview.good === 0"
          @click="apply"
        >
          Import {{ preview.good }} {{ preview.good === 1 ? 'sales line' : 'sales lines' }}
        </v-btn>
      </p>
    </section>
    <section v-else-if="step === 'streams'" class="sheet">
      <h1>Your sales are imported. Create the first forecast</h1>
      <p>
        A forecast line is created for each product and channel sold in the last twelve closed
        months: units of the same month last year, at their average price. Change the drivers
        afterwards.
      </p>
      <p class="controls">
        <v-btn color="primary" variant="flat" :disabled="busy !== ''" @click="forecast">
          Create forecast
        </v-btn>
        <v-btn color="primary" :to="`/w/${workspaceId}/actuals`">Show sales first</v-btn>
      </p>
    </section>
    <p v-if="busy" class="quiet" role="status">{{ busy }} …</p>
    <div v-if="failure" class="failure" role="alert">
      {{ failure }}
      <ul v-if="faults.length > 1">
        <li v-for="fault in faults" :key="fault">{{ fault }}</li>
      </ul>
    </div>
  </main>
</template>

<style scoped>
.start {
  min-height: 100vh;
  overflow: auto;
  padding: 9vh 12vw;
  display: grid;
  align-content: start;
  gap: 18px;
}
.brand {
  font-size: 18px;
}
.steps {
  display: flex;
  gap: 26px;
  list-style: none;
  margin: 0;
  padding: 0 0 8px;
  border-bottom: 1px solid var(--line);
  color: var(--ink-quiet);
}
.steps .here {
  color: var(--ink);
  font-weight: 650;
  border-bottom: 2px solid var(--ember);
}
.numeral {
  font-size: 11px;
}
.sheet {
  display: grid;
  gap: 12px;
  max-width: 720px;
  background: var(--surface);
  border-top: 2px solid var(--ink);
  padding: 26px 28px;
}
.form {
  display: grid;
  gap: 5px;
  max-width: 340px;
}
.form .controls {
  margin-top: 10px;
}
</style>
