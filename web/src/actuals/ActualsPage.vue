<script setup lang="ts">
import { actualsOperations } from '@dravex/contract';
import { computed } from 'vue';
import { useRoute } from 'vue-router';
import { whenInWords } from '../format/moments.ts';
import FilePick from '../kit/FilePick.vue';
import { usePlanner } from '../people/use-planner.ts';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import RoomPage from '../shell/RoomPage.vue';
import { useFrame, type Shown } from '../shell/use-frame.ts';
import { TEXTS } from './texts.ts';
import { useImport } from './use-import.ts';
import { viewIn, VIEWS } from './views.ts';

/** What every view of Actuals has: the views as tabs, files to be imported, and files that wait. */
defineProps<{
  heading: string;
  state: string;
  failure: string;
  shows: readonly Shown[];
}>();
const plan = usePlan();
const planner = usePlanner();
const route = useRoute();
const { set } = useFrame();
const importing = useImport();
const view = computed(() => viewIn(route.query));
const batches = useAnswer([() => plan.tick, () => importing.listed], async () =>
  planner.value ? plan.ask(actualsOperations.listImports, {}) : [],
);
const waiting = computed(() => batches.data.value?.filter(({ state }) => state === 'previewed'));
const applied = computed(
  () => batches.data.value?.filter(({ state }) => state === 'applied') ?? [],
);
</script>

<template>
  <RoomPage
    :heading="heading"
    :state="state"
    :failure="failure || importing.failure"
    :shows="shows"
  >
    <template #shown><slot name="shown" /></template>
    <template #above>
      <v-tabs class="no-print" :model-value="view.key" :aria-label="TEXTS.viewsOfActuals">
        <v-tab
          v-for="one in VIEWS"
          :key="one.key"
          :value="one.key"
          @click="set({ view: one.key === 'table' ? undefined : one.key })"
        >
          {{ one.name }}
        </v-tab>
      </v-tabs>
    </template>
    <template #actions>
      <template v-if="planner">
        <FilePick
          main
          :label="TEXTS.importFile"
          :about="TEXTS.fileToImport"
          accept=".csv,.tsv,.txt,.xlsx,.json,text/csv,text/plain,application/json"
          :disabled="importing.busy !== ''"
          @pick="(file) => importing.upload(file, view.kind)"
        />
        <v-menu location="bottom end" :close-on-content-click="false">
          <template #activator="{ props: activator }">
            <v-btn color="primary" v-bind="activator">
              {{ applied.length }} {{ applied.length === 1 ? TEXTS.file : TEXTS.files }}
            </v-btn>
          </template>
          <div class="menu-sheet files">
            <p v-if="applied.length === 0" class="quiet">{{ TEXTS.noFilesAreImportedYet }}</p>
            <div v-for="batch in applied" :key="batch.id" class="file">
              <span>
                {{ batch.fileName }}
                <span class="quiet">
                  {{
                    TEXTS.rowsOf(
                      batch.good,
                      batch.createdBy,
                      whenInWords(batch.appliedAt ?? batch.createdAt, plan.locale),
                    )
                  }}
                </span>
              </span>
              <span class="acts">
                <v-btn variant="plain" @click="importing.show(batch.id)">{{ TEXTS.open }}</v-btn>
                <v-btn
                  variant="plain"
                  :disabled="importing.busy !== ''"
                  :aria-label="TEXTS.undoImportOf(batch.fileName)"
                  @click="importing.takeBack(batch)"
                >
                  {{ TEXTS.undoImport }}
                </v-btn>
              </span>
            </div>
          </div>
        </v-menu>
      </template>
    </template>
    <template #menu><slot name="menu" /></template>
    <p v-if="importing.done" class="good" role="status">{{ importing.done }}</p>
    <p v-for="batch in waiting" :key="batch.id" class="waits no-print">
      {{
        TEXTS.isNotImportedYetRows(
          batch.fileName,
          batch.good,
          batch.faulty,
          batch.job?.message ?? '',
        )
      }}
      <v-btn variant="plain" @click="importing.show(batch.id)">{{ TEXTS.open }}</v-btn>
    </p>
    <slot />
  </RoomPage>
</template>

<style scoped>
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
