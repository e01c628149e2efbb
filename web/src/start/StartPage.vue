<script setup lang="ts">
import { computed, ref } from 'vue';
import { useRouter } from 'vue-router';
import ReadingSheet from '../actuals/ReadingSheet.vue';
import { WORDS } from '../format/words.ts';
import { useSession } from '../people/use-session.ts';
import FilePick from '../kit/FilePick.vue';
import SheetTable from '../kit/SheetTable.vue';
import WorkShare from '../kit/WorkShare.vue';
import BareStart from './BareStart.vue';
import CompanyForm from './CompanyForm.vue';
import FixedDimensions from './FixedDimensions.vue';
import { TEXTS } from './texts.ts';
import { DIMENSION, useFirstFile, type Step } from './use-first-file.ts';

/** An empty start: a first file of sales, what its columns hold, the workspace made from it, the first forecast. */
const session = useSession();
const router = useRouter();
const first = useFirstFile();
const { step, file, choice, look, proposal, preview, workspaceId, busy, share, failure, faults } =
  first;
const { begin, negative, turn } = first;
const { lacking, choose, readAs, assign, fixDimensions } = first;
const { propose, make, apply, forecast } = first;

const STEPS: readonly { step: Step; name: string }[] = [
  { step: 'file', name: TEXTS.sales },
  { step: 'columns', name: WORDS.columns },
  { step: 'workspace', name: TEXTS.workspace },
  { step: 'check', name: TEXTS.check },
  { step: 'streams', name: WORDS.forecast },
];
const MORE = [{ key: DIMENSION, label: TEXTS.dimension }];
/** What is written down stands in place of a file. */
const at = computed(() => (step.value === 'bare' ? 'file' : step.value));
const columnsHeading = computed(() => {
  const name = file.value?.name ?? '';
  if (look.value?.rows.length === 0) return TEXTS.hasNoRowsBelowIts(name);
  return lacking.value.length === 0
    ? TEXTS.checkWhatColumnsHold(name)
    : TEXTS.chooseColumnFor(name, lacking.value.join(', '));
});
const dimensionNames = computed(() =>
  (proposal.value?.dimensions ?? []).map(({ name }) => name.toLowerCase()).join(', '),
);
const dropping = ref(false);
function drop(event: DragEvent): void {
  dropping.value = false;
  void choose(event.dataTransfer?.files[0]);
}
</script>

<template>
  <main
    class="start"
    :class="{ dropping }"
    @dragover.prevent="dropping = true"
    @dragleave="dropping = false"
    @drop.prevent="drop"
  >
    <p class="brand">
      <b>{{ WORDS.dravex }}</b>
    </p>
    <ol class="steps" :aria-label="WORDS.steps">
      <li
        v-for="(one, index) in STEPS"
        :key="one.step"
        :class="{ here: one.step === at }"
        :aria-current="one.step === at ? 'step' : undefined"
      >
        <span class="numeral">{{ index + 1 }}</span> {{ one.name }}
      </li>
    </ol>
    <section v-if="step === 'file'" class="sheet">
      <h1>{{ TEXTS.importYourSales }}</h1>
      <p>
        {{ TEXTS.startWithAnyFileOf }}
      </p>
      <p class="controls">
        <FilePick
          main
          :label="WORDS.chooseFile"
          :about="TEXTS.firstFileOfSalesLines"
          accept=".csv,.tsv,.txt,.xlsx,.json,text/csv,text/plain,application/json"
          :disabled="busy !== ''"
          @pick="choose"
        />
        <span class="quiet">{{ TEXTS.orDropItHere }}</span>
      </p>
      <p>
        <v-btn variant="plain" @click="step = 'bare'">{{ TEXTS.startWithoutFile }}</v-btn>
      </p>
      <p v-for="known in session.session?.workspaces ?? []" :key="known.id" class="quiet">
        {{ TEXTS.orGoTo }} <RouterLink :to="`/w/${known.id}/standing`">{{ known.name }}</RouterLink>
      </p>
    </section>
    <BareStart v-else-if="step === 'bare'" @begin="begin" @back="step = 'file'" />
    <section v-else-if="step === 'columns' && look" class="sheet wide">
      <h1>{{ columnsHeading }}</h1>
      <p class="quiet">
        {{ TEXTS.dimensionIsWhatYouPlan }}
      </p>
      <p class="controls">
        <v-btn
          color="primary"
          variant="flat"
          :disabled="busy !== '' || lacking.length > 0 || look.rows.length === 0"
          @click="propose"
        >
          {{ TEXTS.continue }}
        </v-btn>
        <v-btn color="primary" @click="step = 'file'">{{ TEXTS.chooseAnotherFile }}</v-btn>
      </p>
      <p v-for="field in negative" :key="field.key" class="waits">
        {{ TEXTS.mostValuesOfAreNegative(field.label.toLowerCase()) }}
        <v-btn :disabled="busy !== ''" @click="turn(field.key)">
          {{ TEXTS.reverseSignOf(field.label.toLowerCase()) }}
        </v-btn>
      </p>
      <p v-for="key in look.reading.turn" :key="key" class="quiet">
        {{ TEXTS.signOfIsReversed(key) }}
        <v-btn variant="plain" :disabled="busy !== ''" @click="turn(key)">{{
          TEXTS.keepSignOfFile
        }}</v-btn>
      </p>
      <FixedDimensions :dimensions="look.dimensions" :busy="busy !== ''" @change="fixDimensions" />
      <ReadingSheet
        :look="look"
        :said="choice"
        :more="MORE"
        :value-of="() => undefined"
        @change="(next) => readAs({ ...choice, ...next, dimensions: undefined })"
        @sheet="(sheet) => readAs({ sheet })"
        @assign="assign"
      />
    </section>
    <CompanyForm
      v-else-if="step === 'workspace' && proposal"
      :proposal="proposal"
      :busy="busy !== ''"
      @make="(company) => make(company, () => router.push(`/w/${workspaceId}/forecast`))"
      @back="step = file ? 'columns' : 'bare'"
    />
    <section v-else-if="step === 'check' && preview" class="sheet">
      <h1>
        {{ TEXTS.ofRowsCanBeImported(preview.good, preview.rows)
        }}<template v-if="preview.faulty > 0">{{ TEXTS.areExcluded(preview.faulty) }}</template>
      </h1>
      <SheetTable v-if="preview.problems.length > 0">
        <thead>
          <tr>
            <th scope="col">{{ TEXTS.row }}</th>
            <th scope="col" class="words">{{ TEXTS.problem }}</th>
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
          {{ TEXTS.importSalesLines(preview.good) }}
        </v-btn>
      </p>
    </section>
    <section v-else-if="step === 'streams'" class="sheet">
      <h1>{{ TEXTS.yourSalesAreImportedCreate }}</h1>
      <p>
        {{ TEXTS.forecastLineIsCreatedFor(dimensionNames) }}
      </p>
      <p class="controls">
        <v-btn
          color="primary"
          variant="flat"
          :disabled="busy !== ''"
          @click="forecast(() => router.push(`/w/${workspaceId}/forecast`))"
        >
          {{ TEXTS.createForecast }}
        </v-btn>
        <v-btn color="primary" :to="`/w/${workspaceId}/actuals`">{{ TEXTS.showSalesFirst }}</v-btn>
      </p>
    </section>
    <p v-if="busy" class="quiet busy" role="status">
      {{ busy }} … <WorkShare v-if="share !== undefined" :name="busy" :share="share" />
    </p>
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
  padding: 9vh clamp(24px, 12vw, 180px);
  display: grid;
  grid-template-columns: minmax(0, 1fr);
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
.busy {
  display: flex;
  gap: 8px;
  align-items: center;
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
.wide {
  max-width: none;
}
@media (max-width: 1100px) {
  .start {
    padding: 5vh 24px;
  }
}
.sheet > * {
  min-width: 0;
}
.wide :deep(.scroll) {
  max-height: 56vh;
}
.dropping {
  outline: 2px dashed var(--ember);
  outline-offset: -8px;
}
</style>
