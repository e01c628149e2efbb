<script setup lang="ts">
import { FORECAST, type Driver, type Scope } from '@dravex/core';
import { computed, ref, type Ref } from 'vue';
import { useRoute } from 'vue-router';
import { longMonth, spanInWords } from '../format/periods.ts';
import type { GridPlace } from '../grid/plan-grid.ts';
import PlanGrid from '../grid/PlanGrid.vue';
import RowsChoice from '../grid/RowsChoice.vue';
import { TOTAL } from '../grid/table-rows.ts';
import WhyField from '../journal/WhyField.vue';
import { usePlanner } from '../people/use-planner.ts';
import TypedQuestion from '../plan/TypedQuestion.vue';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import EmptyFilter from '../shell/EmptyFilter.vue';
import RoomPage from '../shell/RoomPage.vue';
import { useFrame } from '../shell/use-frame.ts';
import { questioned, type Asked } from '../trace/use-trace.ts';
import CopyScopeDialog from './CopyScopeDialog.vue';
import DriverFacts from './DriverFacts.vue';
import DriverForm from './DriverForm.vue';
import DriverTree from './DriverTree.vue';
import FunnelPanel from './FunnelPanel.vue';
import { unitOf } from './driver-format.ts';
import ProfileEditor from './ProfileEditor.vue';
import StatesPanel from './StatesPanel.vue';
import { TEXTS } from './texts.ts';
import { useDriverGrid } from './use-driver-grid.ts';
import { useDriverTable } from './use-driver-table.ts';
import { useDriverTyping } from './use-driver-typing.ts';

const plan = usePlan();
const route = useRoute();
const { span, scope, rows: rowCodes, rowHeading, formats, set, subject } = useFrame();

const drivers = computed(() => plan.workspace?.plan.drivers ?? []);
const driver = computed(
  () => drivers.value.find(({ code }) => code === route.query['driver']) ?? drivers.value[0],
);
const editable = usePlanner();
const open = computed(() => ({
  from: Math.max(span.value.from, plan.closedThrough + 1),
  to: span.value.to,
}));

/** The table is painted first; what stands beside it follows a moment later. */
const BESIDE_MS = 120;
const table = useDriverTable(driver);
/** What the drivers in sight come to: the forecast of the open months of the period. */
const result = useAnswer(
  [open, scope, () => plan.tick],
  async () => {
    if (open.value.from > open.value.to) return null;
    const asked = { subject: subject.value, many: scope.value.length > 1 };
    const answer = await plan.compute().table(FORECAST, {
      measure: 'revenue',
      rows: rowCodes.value.slice(0, 1),
      columns: 'time',
      scope: scope.value,
      span: open.value,
      grain: 'year',
    });
    return { ...asked, revenue: answer.total.total.value };
  },
  BESIDE_MS,
);

/** The profile is set for the row that was last gone to, else for the scope of the frame. */
type Panel = '' | 'profile' | 'states' | 'funnel';
const panel = ref<Panel>('');
function togglePanel(which: Panel): void {
  panel.value = panel.value === which ? '' : which;
}
const allRows = computed(() => table.data.value ?? []);
const byKey = computed(() => new Map(allRows.value.map((row) => [row.key, row])));
const roomy = computed(() => panel.value === '');
const { columns, gridRows, ordered, turnOrder, toggle, unfold, depth, showDepth } = useDriverGrid({
  driver,
  rows: allRows,
  open,
  weightedBy: table.weightedBy,
  roomy,
});
const depths = computed(() => {
  const deepest = Math.max(2, ...allRows.value.map(({ level }) => level));
  const named = rowCodes.value.map((code, place) => ({
    level: place + 1,
    name: plan.workspace?.plan.dimensions.find((d) => d.code === code)?.name ?? code,
  }));
  return [...named, { level: deepest, name: TEXTS.forecastLines }];
});

const uses = useAnswer([() => plan.tick], () => plan.compute().driverUses(), BESIDE_MS);
const use = computed(() => uses.data.value?.find(({ code }) => code === driver.value?.code));
/** Whether what is in sight has a funnel, whose steps can be shown as a chain. */
const funnels = useAnswer(
  [scope, () => open.value.from, () => plan.tick],
  async () =>
    open.value.from > open.value.to
      ? 0
      : (await plan.compute().funnelChain([...scope.value], open.value.from)).streams,
  BESIDE_MS,
);
const inFunnel = computed(() => (funnels.data.value ?? 0) > 0);
/** What actuals say, with what it is of: an answer that is overtaken must not stand beside another. */
function useSaid(of: Ref<Scope>, wanted: () => boolean = () => true) {
  const key = computed(() => `${driver.value?.code ?? ''} ${of.value.join()}`);
  const { data } = useAnswer(
    [driver, of, () => plan.tick, wanted],
    async () => {
      const asked = key.value;
      if (!driver.value || !wanted()) return undefined;
      return { key: asked, said: await plan.compute().said(driver.value.code, [...of.value]) };
    },
    BESIDE_MS,
  );
  return computed(() => (data.value?.key === key.value ? data.value.said : undefined));
}
const said = useSaid(scope);
const copying = ref(false);
const visited = ref('');
const profileScope = computed(() => byKey.value.get(visited.value)?.scope ?? scope.value);
/** A scope of several members of one dimension cannot be set by one profile. */
const widened = computed(() => {
  const dimensions = profileScope.value.map((id) => plan.tree.dimensionOf(id));
  return dimensions.find((dimension, place) => dimensions.indexOf(dimension) !== place);
});
const saidHere = useSaid(profileScope, () => panel.value === 'profile');
const forming = ref(false);
const formed = ref<Driver>();
function form(of: Driver | undefined): void {
  formed.value = of;
  forming.value = true;
}

const shownNow = computed(() => ({
  driver: driver.value,
  from: open.value.from,
  scope: scope.value,
  codes: rowCodes.value,
}));
const { message, failed, refused, waiting, journal, doubts, settle, edit, flattening } =
  useDriverTyping(shownNow, byKey, table.settled);
const flatteningInWords = flattening.inWords;

/** What the trace is asked for a number of the grid. */
function ask({ row: key, column }: GridPlace): Asked | undefined {
  const row = byKey.value.get(key);
  if (!row || !driver.value || column === TOTAL) return undefined;
  const { code } = driver.value;
  return questioned({ kind: 'driver', driver: code, scope: row.scope, month: column });
}

const missingHere = computed(
  () => plan.missing.filter(({ where }) => where['driver'] === driver.value?.code).length,
);
const setHere = computed(
  () => [...plan.assumptions.values()].filter((a) => a.driver === driver.value?.code).length,
);
const headline = computed(() => {
  const name = driver.value?.name ?? '';
  if (missingHere.value > 0) {
    return TEXTS.missingInOfForecastLines(
      name,
      missingHere.value,
      plan.workspace?.plan.streams ?? 0,
    );
  }
  const found = result.data.value;
  if (!found || found.revenue === null) return name;
  return TEXTS.withTheseDrivers(found.subject, found.many, formats.value.inWords(found.revenue));
});
const state = computed(() => {
  const unit = driver.value ? unitOf(driver.value, formats.value.currency) : '';
  const months = open.value.from <= open.value.to ? spanInWords(open.value) : TEXTS.noOpenMonth;
  const lines = allRows.value[0]?.streams ?? 0;
  return TEXTS.baseScenarioInputsForecastLines(
    driver.value?.name ?? '',
    unit ? `, ${unit}` : '',
    months,
    setHere.value,
    lines,
  );
});
</script>

<template>
  <RoomPage :heading="headline" :state="state" :shows="[]">
    <template #shown>
      <RowsChoice />
      <span class="controls" role="group" :aria-label="TEXTS.levelsOfRows">
        <v-btn
          v-for="option in depths"
          :key="option.name"
          :aria-pressed="depth === option.level"
          @click="showDepth(option.level)"
        >
          {{ option.name }}
        </v-btn>
      </span>
    </template>
    <template #actions>
      <template v-if="driver">
        <v-btn
          v-if="editable && widened === undefined"
          color="primary"
          variant="flat"
          :aria-pressed="panel === 'profile'"
          @click="togglePanel('profile')"
        >
          {{ TEXTS.growthAndSeason }}
        </v-btn>
        <v-btn v-if="editable" color="primary" @click="form(driver)">
          {{ driver.formula ? TEXTS.formulaAndLimits : TEXTS.limits }}
        </v-btn>
        <v-btn v-if="editable && profileScope.length > 0" color="primary" @click="copying = true">
          {{ TEXTS.copyInputs }}
        </v-btn>
        <v-btn
          v-if="inFunnel"
          color="primary"
          :aria-pressed="panel === 'funnel'"
          @click="togglePanel('funnel')"
        >
          {{ TEXTS.funnel }}
        </v-btn>
        <v-btn color="primary" :aria-pressed="panel === 'states'" @click="togglePanel('states')">
          {{ TEXTS.historyOfValues }}
        </v-btn>
      </template>
    </template>
    <DriverFacts v-if="driver" :driver="driver" :use="use" :said="said" :drivers="drivers" />
    <div v-if="message || journal" class="controls no-print">
      <p :class="failed ? 'failure' : 'quiet'" :role="failed ? 'alert' : 'status'">{{ message }}</p>
      <WhyField :journal="journal" />
    </div>
    <TypedQuestion :doubts="doubts" @settle="settle" />
    <div v-if="flatteningInWords.length > 0" class="flattening no-print" role="alert">
      <div>
        <b>{{ TEXTS.useOneValueForAll }}</b>
        <p v-for="line in flatteningInWords" :key="line">{{ line }}</p>
      </div>
      <v-btn color="primary" variant="flat" @click="flattening.flatten">
        {{ TEXTS.setAllToThisValue }}
      </v-btn>
      <v-btn color="primary" @click="flattening.leave">{{ TEXTS.keepDifferentValues }}</v-btn>
    </div>
    <div class="rooms">
      <DriverTree
        class="no-print"
        :drivers="drivers"
        :uses="uses.data.value ?? []"
        :chosen="driver?.code ?? ''"
        :editable="editable"
        @choose="(code) => set({ driver: code })"
        @add="form(undefined)"
      />
      <EmptyFilter
        v-if="open.from > open.to"
        :heading="TEXTS.allMonthsOfThisPeriod"
        instead="Next 12"
      >
        <p>
          {{ TEXTS.driversApplyToOpenMonths(longMonth(plan.closedThrough)) }}
        </p>
      </EmptyFilter>
      <EmptyFilter
        v-else-if="table.data.value && allRows.length > 0 && allRows[0]?.streams === 0"
        :heading="TEXTS.noForecastLineHereUses(driver?.name.toLowerCase() ?? '')"
      >
        <p>{{ TEXTS.itsValuesHaveNoEffect }}</p>
      </EmptyFilter>
      <div v-else-if="driver && table.data.value" class="grid-place" data-grid="drivers">
        <PlanGrid
          :label="driver.name"
          :about="state"
          saves
          :heading="TEXTS.forecastLine(rowHeading)"
          :columns="columns"
          :rows="gridRows"
          :editable="editable"
          :refused="refused"
          :waiting="waiting"
          :ask="ask"
          sortable
          :findable="ordered"
          @toggle="toggle"
          @unfold="unfold"
          @edit="edit"
          @order="turnOrder"
          @place="visited = $event.row"
        />
      </div>
      <ProfileEditor
        v-if="panel === 'profile' && driver && editable"
        :driver="driver"
        :scope="profileScope"
        :said="saidHere"
        @close="panel = ''"
      />
      <FunnelPanel
        v-if="panel === 'funnel' && open.from <= open.to"
        :scope="scope"
        :from="open.from"
        :to="open.to"
        @close="panel = ''"
      />
      <StatesPanel
        v-if="panel === 'states' && driver"
        :driver="driver"
        :editable="editable"
        @close="panel = ''"
      />
    </div>
    <CopyScopeDialog v-if="driver" v-model="copying" :driver="driver" :scope="profileScope" />
    <DriverForm
      v-model="forming"
      :driver="formed"
      :drivers="drivers"
      @kept="(code) => set({ driver: code || undefined })"
    />
    <p v-if="!editable" class="quiet">{{ TEXTS.youCanReadThisWorkspace }}</p>
  </RoomPage>
</template>

<style scoped>
.rooms {
  flex: 1;
  min-height: 0;
  display: flex;
  gap: 12px;
}
.grid-place {
  flex: 1;
  min-width: 0;
  overflow: hidden;
}
.flattening {
  display: flex;
  align-items: center;
  gap: 12px;
  padding: 4px 8px;
  border-left: 3px solid var(--ember);
  background: var(--surface);
}
</style>
