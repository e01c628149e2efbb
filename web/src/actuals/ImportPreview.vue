<script setup lang="ts">
import { actualsOperations, type ImportPreview } from '@dravex/contract';
import { monthFrom } from '@dravex/core';
import { computed } from 'vue';
import { dayInWords, longMonth } from '../format/periods.ts';
import { WORDS } from '../format/words.ts';
import SheetTable from '../kit/SheetTable.vue';
import { usePlanner } from '../people/use-planner.ts';
import { usePlan } from '../plan/use-plan.ts';
import { addressOf } from '../shell/client.ts';
import FileItem from '../shell/FileItem.vue';
import RoomPage from '../shell/RoomPage.vue';
import { useFrame } from '../shell/use-frame.ts';
import { signsOf, withoutInWords, rowsInWords } from './problem-words.ts';
import { TEXTS } from './texts.ts';
import { useImport } from './use-import.ts';
import ProblemGroups from './ProblemGroups.vue';

/** What a file would change, before it counts: what is wrong and can be repaired, and sums by month. */
const props = defineProps<{ preview: ImportPreview }>();
const planner = usePlanner();
const importing = useImport();
const busy = computed(() => importing.busy !== '');
const plan = usePlan();
const { calendar, formats, minor } = useFrame();
const applied = computed(() => props.preview.state === 'applied');

const title = computed(() => {
  const { good, faulty, rows } = props.preview;
  if (applied.value) return TEXTS.ofThisFileAreImported(rowsInWords(good));
  if (good === 0) return TEXTS.noneOfRowsCanBe(rows);
  if (faulty === 0) return TEXTS.allRowsCanBeImported(rows);
  return TEXTS.ofRowsCanBeImported(good, rows, faulty);
});
const money = (cents: number): string => formats.value.show(cents / minor.value, 'price');
const signs = computed(() =>
  props.preview.notes ? signsOf(props.preview.notes) : { turn: [], credits: '' },
);
const notes = computed(() => {
  const { notes: found, replace, sameAs, reading } = props.preview;
  const list: string[] = [];
  if (sameAs) {
    const what = sameAs.state === 'applied' ? 'imported' : TEXTS.uploadedAndNotImported;
    list.push(
      TEXTS.thisSameFileWasBefore(what, sameAs.fileName, dayInWords(sameAs.createdAt.slice(0, 10))),
    );
  }
  if (found) {
    if (found.closed > 0) {
      list.push(TEXTS.rowsAreInClosedMonths(found.closed));
    }
    list.push(signs.value.credits, withoutInWords(found));
    if (found.turned.length > 0) list.push(TEXTS.signOfIsReversed(found.turned.join(' and ')));
    if (found.remembered > 0) {
      list.push(TEXTS.valuesWereCorrectedAsIn(found.remembered));
    }
  }
  for (const { field, from, to } of replace) {
    list.push(TEXTS.isReadAs(field, from || 'nothing', to));
  }
  if (reading?.shape === 'wide') list.push(TEXTS.monthsAreInColumnsThey(reading.values));
  return list.filter((text) => text !== '');
});
/** Where the rows that are excluded can be had. */
const leftOut = computed(
  () =>
    `/api${addressOf(actualsOperations.saveLeftOut, { workspaceId: plan.workspaceId, importId: props.preview.id })}`,
);
const state = computed(() =>
  TEXTS.amountsIn(props.preview.fileName, applied.value, formats.value.currency),
);
const units = computed(() => props.preview.months.reduce((total, month) => total + month.units, 0));
const sum = computed(() => props.preview.months.reduce((total, { revenue }) => total + revenue, 0));
</script>

<template>
  <RoomPage :heading="title" :state="state" :failure="importing.failure">
    <template #actions>
      <template v-if="planner">
        <v-btn
          v-if="applied"
          color="primary"
          variant="flat"
          :disabled="busy"
          @click="importing.takeBack(preview)"
        >
          {{ TEXTS.undoImportOf(rowsInWords(preview.good)) }}
        </v-btn>
        <v-btn
          v-else
          color="primary"
          variant="flat"
          :disabled="busy || preview.good === 0"
          @click="importing.apply"
        >
          {{ TEXTS.import(rowsInWords(preview.good)) }}
        </v-btn>
      </template>
      <v-btn
        v-if="planner && !applied && importing.file"
        color="primary"
        :disabled="busy"
        @click="importing.changeReading"
      >
        {{ TEXTS.changeMapping }}
      </v-btn>
      <v-btn v-if="planner && !applied" color="primary" :disabled="busy" @click="importing.discard">
        {{ TEXTS.discardFile }}
      </v-btn>
      <v-btn color="primary" :disabled="busy" @click="importing.close">
        {{ applied ? WORDS.close : TEXTS.decideLater }}
      </v-btn>
    </template>
    <template #menu>
      <FileItem
        v-if="preview.faulty > 0"
        :title="TEXTS.exportTheExcluded(preview.faulty)"
        :address="leftOut"
      />
    </template>
    <p v-if="preview.asOf && !applied" class="waits">
      {{ TEXTS.asOfDateMovesTo(dayInWords(preview.asOf), dayInWords(calendar.asOf)) }}
    </p>
    <p v-if="preview.job && preview.job.message !== '' && !applied" class="waits" role="status">
      {{ preview.job.message }}
    </p>
    <div v-if="notes.length > 0 || signs.turn.length > 0" class="notes">
      <p
        v-for="proposal in planner && !applied ? signs.turn : []"
        :key="proposal.field"
        class="waits"
      >
        {{ proposal.text }}.
        <v-btn :disabled="busy" @click="importing.repair({ turn: [proposal.field] })">
          {{ TEXTS.reverseSignOf(proposal.field) }}
        </v-btn>
      </p>
      <p v-for="note in notes" :key="note" class="quiet">{{ note }}</p>
    </div>
    <div class="halves" :class="{ whole: preview.groups.length === 0 }">
      <ProblemGroups
        :preview="preview"
        :busy="busy"
        :open="planner && !applied"
        @repair="importing.repair"
        @create="importing.createMember"
        @assign="importing.assignCustomer"
      />
      <section v-if="preview.months.length > 0" class="adds" :aria-label="TEXTS.changeByMonth">
        <h2>{{ applied ? TEXTS.importedByMonth : TEXTS.changeByMonth }}</h2>
        <div class="scroll" tabindex="0">
          <SheetTable :about="TEXTS.changeByMonth">
            <thead>
              <tr>
                <th scope="col">{{ WORDS.month }}</th>
                <th scope="col">{{ TEXTS.rows }}</th>
                <th scope="col">{{ WORDS.units }}</th>
                <th scope="col">{{ applied ? TEXTS.revenueWithoutIt : TEXTS.revenueNow }}</th>
                <th scope="col">{{ TEXTS.thisFile }}</th>
                <th scope="col">{{ applied ? TEXTS.revenueNow : TEXTS.revenueAfter }}</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="month in preview.months" :key="month.month">
                <td>{{ longMonth(monthFrom(month.month)) }}</td>
                <td>{{ month.lines }}</td>
                <td>{{ formats.show(month.units, 'units') }}</td>
                <td>{{ money(applied ? month.revenueNow - month.revenue : month.revenueNow) }}</td>
                <td>{{ money(month.revenue) }}</td>
                <td>
                  <b>{{ money(applied ? month.revenueNow : month.revenueNow + month.revenue) }}</b>
                </td>
              </tr>
            </tbody>
            <tfoot v-if="preview.months.length > 1">
              <tr>
                <td>{{ TEXTS.allMonths }}</td>
                <td>{{ preview.good }}</td>
                <td>{{ formats.show(units, 'units') }}</td>
                <td></td>
                <td>
                  <b>{{ money(sum) }}</b>
                </td>
                <td></td>
              </tr>
            </tfoot>
          </SheetTable>
        </div>
      </section>
    </div>
  </RoomPage>
</template>

<style scoped>
.notes {
  display: grid;
  gap: 3px;
  font-size: 12px;
}
.halves {
  display: grid;
  grid-template-columns: minmax(0, 1fr) fit-content(540px);
  gap: 24px;
  min-height: 0;
  flex: 1;
}
.halves.whole {
  grid-template-columns: minmax(0, 620px);
}
.adds {
  display: flex;
  flex-direction: column;
  gap: 6px;
  min-height: 0;
}
</style>
