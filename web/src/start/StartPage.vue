<script setup lang="ts">
import type { ImportPreview, WorkspaceProposal } from '@dravex/contract';
import { fiscalYearOf, monthFrom } from '@dravex/core';
import { computed, ref, shallowRef } from 'vue';
import { useRouter } from 'vue-router';
import { longMonth } from '../format/periods.ts';
import { useSession } from '../people/use-session.ts';
import { ApiProblem, inWords, request } from '../shell/api.ts';

/** An empty start: a first file of sales lines, the workspace made from it, streams, the first forecast. */
const session = useSession();
const router = useRouter();

type Step = 'file' | 'workspace' | 'check' | 'streams';
const STEPS: readonly { step: Step; name: string }[] = [
  { step: 'file', name: 'Sales lines' },
  { step: 'workspace', name: 'Workspace' },
  { step: 'check', name: 'Check' },
  { step: 'streams', name: 'Streams' },
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

const input = ref<HTMLInputElement>();
async function choose(files: FileList | null | undefined): Promise<void> {
  const [chosen] = files ?? [];
  if (!chosen) return;
  await working(`Reading ${chosen.name}`, async () => {
    proposal.value = await request<WorkspaceProposal>('POST', '/workspaces/proposal', chosen);
    file.value = chosen;
    fiscalStart.value = proposal.value.calendar.fiscalStart;
    step.value = 'workspace';
  });
  if (input.value) input.value.value = '';
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
  await working('Making the workspace', async () => {
    if (workspaceId.value === 0) {
      const { id } = await request<{ id: number }>('POST', '/workspaces', {
        name: name.value,
        locale: locale.value,
        currency: { code: currency.value, minorDigits: minorDigits(currency.value) },
        calendar: { ...found.calendar, fiscalStart: fiscalStart.value },
        dimensions: found.dimensions,
      });
      workspaceId.value = id;
      await session.refresh();
    }
    const fileName = encodeURIComponent(sales.name);
    preview.value = await request<ImportPreview>(
      'POST',
      `/workspaces/${workspaceId.value}/imports?fileName=${fileName}`,
      sales,
    );
    step.value = 'check';
  });
}

async function apply(): Promise<void> {
  const checked = preview.value;
  if (!checked) return;
  await working(`Applying ${checked.good} sales lines`, async () => {
    await request('POST', `/workspaces/${workspaceId.value}/imports/${checked.id}/apply`);
    step.value = 'streams';
  });
}

const streams = ref(0);
async function forecast(): Promise<void> {
  await working('Making streams', async () => {
    const path = `/workspaces/${workspaceId.value}/streams/from-sales`;
    streams.value = (await request<{ streams: number }>('POST', path)).streams;
    await router.push(`/w/${workspaceId.value}/forecast`);
  });
}
</script>

<template>
  <main class="start" @dragover.prevent @drop.prevent="choose($event.dataTransfer?.files)">
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
      <h1>What did you sell?</h1>
      <p>
        Begin with a file of sales lines: a CSV, a workbook or JSON. Its header names
        <b>date, quantity, net amount</b> (cost, document, customer and seller where there are
        some), and one column for each way you cut sales: channel, product, region, whatever you
        use. Customer and seller may be empty.
      </p>
      <input
        ref="input"
        type="file"
        accept=".csv,.tsv,.txt,.xlsx,.json,text/csv,text/plain,application/json"
        class="hidden-but-read"
        tabindex="-1"
        aria-label="First file of sales lines"
        @change="choose(($event.target as HTMLInputElement).files)"
      />
      <p class="controls">
        <button class="primary" type="button" :disabled="busy !== ''" @click="input?.click()">
          Choose the file
        </button>
        <span class="quiet">or drop it here</span>
      </p>
      <p v-for="known in session.session?.workspaces ?? []" :key="known.id" class="quiet">
        Or go to <RouterLink :to="`/w/${known.id}/standing`">{{ known.name }}</RouterLink>
      </p>
    </section>
    <section v-else-if="step === 'workspace' && proposal && calendar" class="sheet">
      <h1>{{ proposal.rows }} sales lines, cut in {{ proposal.dimensions.length }} ways</h1>
      <table class="sheet-table">
        <thead>
          <tr>
            <th scope="col">Dimension</th>
            <th scope="col">Members</th>
            <th scope="col" class="words">such as</th>
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
      </table>
      <p class="quiet">
        {{ longMonth(monthFrom(calendar.first)) }} to
        {{ longMonth(monthFrom(calendar.closedThrough)) }} are closed; the plan runs to
        {{ longMonth(monthFrom(calendar.last)) }}. The last closed month is in FY {{ year }}.
      </p>
      <form class="form" @submit.prevent="make">
        <label for="start-name">What is the company called?</label>
        <input id="start-name" v-model="name" autocomplete="organization" required autofocus />
        <label for="start-currency">Currency</label>
        <select id="start-currency" v-model="currency">
          <option v-for="code in CURRENCIES" :key="code">{{ code }}</option>
        </select>
        <label for="start-fiscal">The fiscal year starts in</label>
        <select id="start-fiscal" v-model="fiscalStart">
          <option v-for="month in MONTHS" :key="month.value" :value="month.value">
            {{ month.name }}
          </option>
        </select>
        <label for="start-locale">Numbers and dates as in</label>
        <input id="start-locale" v-model="locale" autocomplete="off" />
        <p class="controls">
          <button class="primary" type="submit" :disabled="busy !== ''">Make the workspace</button>
          <button class="plain" type="button" @click="step = 'file'">Another file</button>
        </p>
      </form>
    </section>
    <section v-else-if="step === 'check' && preview" class="sheet">
      <h1>
        {{ preview.good }} of {{ preview.rows }} rows are good<template v-if="preview.faulty > 0"
          >, {{ preview.faulty }} are faulty</template
        >
      </h1>
      <table v-if="preview.problems.length > 0" class="sheet-table">
        <thead>
          <tr>
            <th scope="col">Row</th>
            <th scope="col" class="words">What is wrong</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(problem, index) in preview.problems.slice(0, 8)" :key="index">
            <td>{{ problem.row }}</td>
            <td class="words">{{ problem.message }}</td>
          </tr>
        </tbody>
      </table>
      <p class="controls">
        <button
          class="primary"
          type="button"
          :disabled="busy !== '' || preview.good === 0"
          @click="apply"
        >
          Apply {{ preview.good }} {{ preview.good === 1 ? 'sales line' : 'sales lines' }}
        </button>
      </p>
    </section>
    <section v-else-if="step === 'streams'" class="sheet">
      <h1>Your sales are in. What will you sell?</h1>
      <p>
        A stream forecasts one combination. Begin with one for each that was sold in the last twelve
        closed months: units as in the same month a year before, at the average price of those
        months. Then change the drivers.
      </p>
      <p class="controls">
        <button class="primary" type="button" :disabled="busy !== ''" @click="forecast">
          Make the streams and show the forecast
        </button>
        <RouterLink class="chip" :to="`/w/${workspaceId}/actuals`"
          >Look at the sales first</RouterLink
        >
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
