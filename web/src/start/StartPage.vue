<script setup lang="ts">
import { computed, ref } from 'vue';
import { useRouter } from 'vue-router';
import ReadingSheet from '../actuals/ReadingSheet.vue';
import { useSession } from '../people/use-session.ts';
import FilePick from '../kit/FilePick.vue';
import SheetTable from '../kit/SheetTable.vue';
import WorkShare from '../kit/WorkShare.vue';
import BareStart from './BareStart.vue';
import CompanyForm from './CompanyForm.vue';
import FixedDimensions from './FixedDimensions.vue';
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
  { step: 'file', name: 'Sales' },
  { step: 'columns', name: 'Columns' },
  { step: 'workspace', name: 'Workspace' },
  { step: 'check', name: 'Check' },
  { step: 'streams', name: 'Forecast' },
];
const MORE = [{ key: DIMENSION, label: 'Dimension' }];
/** What is written down stands in place of a file. */
const at = computed(() => (step.value === 'bare' ? 'file' : step.value));
const columnsHeading = computed(() => {
  const name = file.value?.name ?? '';
  if (look.value?.rows.length === 0) return `${name} has no rows below its header`;
  return lacking.value.length === 0
    ? `${name}: check what the columns hold`
    : `${name}: choose the column for ${lacking.value.join(', ')}`;
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
    <p class="brand"><b>Dravex</b></p>
    <ol class="steps" aria-label="Steps">
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
      <h1>Import your sales</h1>
      <p>
        Start with any file of sales: an export of tills, of an order system or of the books, as
        CSV, workbook or JSON. In the next step you see which column holds what, and change what is
        not right.
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
      <p>
        <v-btn variant="plain" @click="step = 'bare'">Start without a file</v-btn>
      </p>
      <p v-for="known in session.session?.workspaces ?? []" :key="known.id" class="quiet">
        Or go to <RouterLink :to="`/w/${known.id}/standing`">{{ known.name }}</RouterLink>
      </p>
    </section>
    <BareStart v-else-if="step === 'bare'" @begin="begin" @back="step = 'file'" />
    <section v-else-if="step === 'columns' && look" class="sheet wide">
      <h1>{{ columnsHeading }}</h1>
      <p class="quiet">
        A dimension is what you plan and compare by: shop, product, region, customer group. What is
        not needed is not imported.
      </p>
      <p class="controls">
        <v-btn
          color="primary"
          variant="flat"
          :disabled="busy !== '' || lacking.length > 0 || look.rows.length === 0"
          @click="propose"
        >
          Continue
        </v-btn>
        <v-btn color="primary" @click="step = 'file'">Choose another file</v-btn>
      </p>
      <p v-for="field in negative" :key="field.key" class="waits">
        Most values of {{ field.label.toLowerCase() }} are negative.
        <v-btn :disabled="busy !== ''" @click="turn(field.key)">
          Reverse the sign of {{ field.label.toLowerCase() }}
        </v-btn>
      </p>
      <p v-for="key in look.reading.turn" :key="key" class="quiet">
        The sign of {{ key }} is reversed.
        <v-btn variant="plain" :disabled="busy !== ''" @click="turn(key)"
          >Keep the sign of the file</v-btn
        >
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
        A forecast line is created for everything sold in the last twelve closed months, by
        {{ dimensionNames }}: units of the same month last year, at their average price. Change the
        drivers afterwards.
      </p>
      <p class="controls">
        <v-btn
          color="primary"
          variant="flat"
          :disabled="busy !== ''"
          @click="forecast(() => router.push(`/w/${workspaceId}/forecast`))"
        >
          Create forecast
        </v-btn>
        <v-btn color="primary" :to="`/w/${workspaceId}/actuals`">Show sales first</v-btn>
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
