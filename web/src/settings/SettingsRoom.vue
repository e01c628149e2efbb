<script setup lang="ts">
import { closingOperations, planFileOperations, type Closing } from '@dravex/contract';
import { monthFrom, monthOf } from '@dravex/core';
import { computed, ref } from 'vue';
import { RouterLink, useRouter } from 'vue-router';
import CalendarDialog from '../closing/CalendarDialog.vue';
import { dayInWords, longMonth } from '../format/periods.ts';
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

/** The workspace, who may enter, plan files, what a person prefers, and what machines can use. */
const plan = usePlan();
const session = useSession();
const router = useRouter();
const { calendar, calendarSpan } = useFrame();

/** The month in which fiscal years start, by its name. */
const fiscalStart = computed(
  () => longMonth(monthOf(2026, calendar.value.fiscalStart)).split(' ')[0],
);
const state = computed(() => {
  const { from, to } = calendarSpan.value;
  return `Fiscal year from ${fiscalStart.value}, ${plan.workspace?.plan.currency.code ?? ''}, ${longMonth(from)} to ${longMonth(to)}, closed through ${longMonth(plan.closedThrough)}, as of ${dayInWords(calendar.value.asOf)}`;
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
        throw new Error(`${file.name} is not a plan file: it is not JSON`);
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
  <RoomPage :heading="`${plan.workspace?.name ?? ''}: workspace settings`" :state="state">
    <template v-if="readsAll" #above><SettingsNav /></template>
    <div class="scroll columns" tabindex="0" role="region" aria-label="Settings">
      <div class="stack">
        <PeopleList v-if="readsAll" />
        <OwnSettings />
        <SecondFactor />
        <OwnSessions />
      </div>
      <div v-if="readsAll" class="stack">
        <section aria-labelledby="calendar-title">
          <h2 id="calendar-title">Calendar</h2>
          <p>
            The horizon ends in {{ longMonth(monthFrom(calendar.last)) }}; as of
            {{ dayInWords(calendar.asOf) }}. Months are closed in
            <RouterLink :to="`/w/${plan.workspaceId}/closing`">Closing</RouterLink>.
          </p>
          <p v-if="planner && closing.data.value">
            <v-btn color="primary" @click="dating = true">Change dates</v-btn>
            <CalendarDialog v-model="dating" :closing="closing.data.value" />
          </p>
        </section>
        <section aria-labelledby="file-title">
          <h2 id="file-title">Plan file</h2>
          <p>
            The whole plan in one file; <code>dravex compute</code> calculates the same numbers from
            it.
          </p>
          <p class="controls">
            <v-btn color="primary" @click="save('Export plan file', planFile)"
              >Export plan file</v-btn
            >
            <FilePick
              v-if="session.session?.makesWorkspaces"
              label="New workspace from plan file"
              about="Plan file"
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
          <h2 id="other-title">Workspaces</h2>
          <p v-for="other in others" :key="other.id">
            <a :href="`/w/${other.id}/standing`">{{ other.name }}</a>
            <span class="quiet"> {{ other.role }}</span>
          </p>
          <p v-if="session.session?.makesWorkspaces">
            <v-btn color="primary" to="/start">New workspace</v-btn>
          </p>
        </section>
        <section aria-labelledby="machines-title">
          <h2 id="machines-title">API</h2>
          <p>
            Everything the browser does is done by requests:
            <a href="/api/reference/" target="_blank" rel="noopener">read the reference</a>, or take
            the <a href="/api/openapi.json" download>OpenAPI description</a>.
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
