<script setup lang="ts">
import { closingOperations, planFileOperations, type Closing } from '@dravex/contract';
import { monthFrom, monthOf } from '@dravex/core';
import { computed, ref } from 'vue';
import { RouterLink, useRouter } from 'vue-router';
import CalendarDialog from '../closing/CalendarDialog.vue';
import { dayInWords, longMonth } from '../format/periods.ts';
import { WORDS } from '../format/words.ts';
import FilePick from '../kit/FilePick.vue';
import OwnSettings from '../people/OwnSettings.vue';
import OwnSessions from '../people/OwnSessions.vue';
import PeopleList from '../people/PeopleList.vue';
import SecondFactor from '../people/SecondFactor.vue';
import { usePlanner, useRights } from '../people/use-planner.ts';
import { useSession } from '../people/use-session.ts';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { addressOf, call } from '../shell/client.ts';
import RoomPage from '../shell/RoomPage.vue';
import { useFrame } from '../shell/use-frame.ts';
import { useSaving } from '../writing/use-saving.ts';
import { useWriting } from '../writing/use-writing.ts';
import SettingsNav from './SettingsNav.vue';
import { TEXTS } from './texts.ts';

/** The workspace, who may enter, plan files, what a person prefers, and what machines can use. */
const plan = usePlan();
const session = useSession();
const router = useRouter();
const { calendar, calendarSpan } = useFrame();

/** The month in which fiscal years start, by its name. */
const fiscalStart = computed(
  () => longMonth(monthOf(2026, calendar.value.fiscalStart)).split(' ')[0] ?? '',
);
const state = computed(() => {
  const { from, to } = calendarSpan.value;
  return TEXTS.fiscalYearFromToClosed(
    fiscalStart.value,
    plan.workspace?.plan.currency.code ?? '',
    longMonth(from),
    longMonth(to),
    longMonth(plan.closedThrough),
    dayInWords(calendar.value.asOf),
  );
});
const others = computed(() =>
  (session.session?.workspaces ?? []).filter(({ id }) => id !== plan.workspaceId),
);
const planFile = computed(
  () => `/api${addressOf(planFileOperations.savePlanFile, { workspaceId: plan.workspaceId })}`,
);

const planner = usePlanner();
const dating = ref(false);
const { readsAll } = useRights();
const closing = useAnswer([() => plan.tick], () =>
  readsAll.value
    ? plan.ask(closingOperations.readClosing, {})
    : Promise.resolve<Closing | undefined>(undefined),
);
const save = useSaving();
const { busy, failure, errors, write } = useWriting();
async function load(file: File): Promise<void> {
  await write(
    async () => {
      const body: unknown = await file
        .text()
        .then(JSON.parse)
        .catch(() => null);
      if (typeof body !== 'object' || body === null) {
        throw new Error(TEXTS.isNotPlanFileIt(file.name));
      }
      // Whatever it holds, the server says what is wrong, and where.
      return call(planFileOperations.loadPlanFile, {}, body as never);
    },
    async ({ id }) => {
      await session.refresh();
      await router.push(`/w/${id}/standing`);
    },
  );
}
/** Every field that was wrong. */
const MOST = 5;
const faults = computed(() =>
  errors.value
    .slice(0, MOST)
    .map(({ path, message }) => (path ? `${path}: ${message}` : message))
    // A single one is all that was said already.
    .filter((fault) => fault !== failure.value),
);
</script>

<template>
  <RoomPage :heading="TEXTS.workspaceSettings(plan.workspace?.name ?? '')" :state="state">
    <template #above>
      <SettingsNav v-if="readsAll" />
    </template>
    <div class="scroll columns" tabindex="0" role="region" :aria-label="TEXTS.settings">
      <div class="stack">
        <PeopleList v-if="readsAll" />
        <OwnSettings />
        <SecondFactor />
        <OwnSessions />
      </div>
      <div v-if="readsAll" class="stack">
        <section aria-labelledby="calendar-title">
          <h2 id="calendar-title">{{ TEXTS.calendar }}</h2>
          <p>
            {{
              TEXTS.horizonEndsInAsOf(
                longMonth(monthFrom(calendar.last)),
                dayInWords(calendar.asOf),
              )
            }}
            <RouterLink :to="`/w/${plan.workspaceId}/closing`">{{ WORDS.closing }}</RouterLink>.
          </p>
          <p v-if="planner && closing.data.value">
            <v-btn color="primary" @click="dating = true">{{ TEXTS.changeDates }}</v-btn>
            <CalendarDialog v-model="dating" :closing="closing.data.value" />
          </p>
        </section>
        <section aria-labelledby="file-title">
          <h2 id="file-title">{{ TEXTS.planFile }}</h2>
          <p>
            {{ TEXTS.wholePlanInOneFile }} <code>{{ TEXTS.dravexCompute }}</code>
            {{ TEXTS.calculatesSameNumbersFromIt }}
          </p>
          <p class="controls">
            <v-btn color="primary" @click="save(TEXTS.exportPlanFile, planFile)">{{
              TEXTS.exportPlanFile
            }}</v-btn>
            <FilePick
              v-if="session.session?.makesWorkspaces"
              :label="TEXTS.newWorkspaceFromPlanFile"
              :about="TEXTS.planFile"
              accept=".json,application/json"
              :disabled="busy"
              @pick="load"
            />
          </p>
          <div v-if="failure" class="failure" role="alert">
            {{ failure }}
            <p v-for="fault in faults" :key="fault">{{ fault }}</p>
          </div>
        </section>
        <section aria-labelledby="other-title">
          <h2 id="other-title">{{ TEXTS.workspaces }}</h2>
          <p v-for="other in others" :key="other.id">
            <a :href="`/w/${other.id}/standing`">{{ other.name }}</a>
            <span class="quiet"> {{ other.role }}</span>
          </p>
          <p v-if="session.session?.makesWorkspaces">
            <v-btn color="primary" to="/start">{{ TEXTS.newWorkspace }}</v-btn>
          </p>
        </section>
        <section aria-labelledby="machines-title">
          <h2 id="machines-title">{{ TEXTS.api }}</h2>
          <p>
            {{ TEXTS.everythingBrowserDoesIsDone }}
            <a href="/api/reference/" target="_blank" rel="noopener">{{
              TEXTS.readTheReference
            }}</a>{{ TEXTS.orTakeThe }}
            <a href="/api/openapi.json" download>{{ TEXTS.openapiDescription }}</a>.
          </p>
        </section>
      </div>
    </div>
  </RoomPage>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: minmax(0, 3fr) minmax(0, 2fr);
  gap: 40px;
  align-content: start;
}
.stack {
  display: grid;
  gap: 22px;
  align-content: start;
}
.stack section {
  display: grid;
  gap: 6px;
}
@media (max-width: 1100px) {
  .columns {
    grid-template-columns: 1fr;
  }
}
</style>
