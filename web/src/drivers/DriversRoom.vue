<script setup lang="ts">
import type { Conflict, Typing } from '@dravex/contract';
import {
  monthFrom,
  monthText,
  natureOf,
  valueOrNull,
  type Driver,
  type DriverRow,
  type Nature,
  type Scope,
  FORECAST,
} from '@dravex/core';
import { computed, ref, watch, type Ref } from 'vue';
import { useRoute } from 'vue-router';
import { longMonth, shortMonth, spanInWords } from '../format/periods.ts';
import {
  cellsOnDemand,
  type Dress,
  type GridCell,
  type GridColumn,
  type GridEdit,
  type GridRow,
  type GridPlace,
} from '../grid/plan-grid.ts';
import PlanGrid from '../grid/PlanGrid.vue';
import RowsChoice from '../grid/RowsChoice.vue';
import { TOTAL, withTotal } from '../grid/table-rows.ts';
import { useFolding } from '../grid/use-folding.ts';
import { inOrder, useRowOrder } from '../grid/use-order.ts';
import { useSession } from '../people/use-session.ts';
import { useAnswer } from '../plan/use-answer.ts';
import WhyField from '../journal/WhyField.vue';
import TypedQuestion from '../plan/TypedQuestion.vue';
import { clashRows, whereInWords } from '../plan/clash.ts';
import { usePlan, type Clash } from '../plan/use-plan.ts';
import { useTyped } from '../plan/use-typed.ts';
import { ApiProblem, inWords } from '../shell/api.ts';
import ScopeBar from '../shell/ScopeBar.vue';
import { useFrame } from '../shell/use-frame.ts';
import { questioned, type Asked } from '../trace/use-trace.ts';
import CopyScopeDialog from './CopyScopeDialog.vue';
import DriverFacts from './DriverFacts.vue';
import DriverForm from './DriverForm.vue';
import DriverTree from './DriverTree.vue';
import ProfileEditor from './ProfileEditor.vue';
import StatesPanel from './StatesPanel.vue';
import { isAbove, readEdits } from './typed-text.ts';
import { useDriverTable } from './use-driver-table.ts';
import { useFlattening } from './use-flattening.ts';

const plan = usePlan();
const session = useSession();
const route = useRoute();
const {
  span,
  scope,
  rows: rowCodes,
  rowHeading,
  presets,
  formats,
  set,
  setSpan,
  setScope,
  subject,
} = useFrame();

const drivers = computed(() => plan.workspace?.plan.drivers ?? []);
const driver = computed(
  () => drivers.value.find(({ code }) => code === route.query['driver']) ?? drivers.value[0],
);
const editable = computed(() => session.roleIn(plan.workspaceId) === 'planner');
const open = computed(() => ({
  from: Math.max(span.value.from, plan.closedThrough + 1),
  to: span.value.to,
}));

/** The table is painted first; what stands beside it follows a moment later. */
const BESIDE_MS = 120;
const table = useDriverTable(driver);
/** What the drivers in sight come to: the forecast of the open months of the window. */
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

const allRows = computed(() => table.data.value ?? []);
const { order, turnOrder, arrowOf } = useRowOrder();
const orderedRows = computed(() => {
  const place = columns.value.findIndex(({ key }) => key === order.value?.column);
  return inOrder(allRows.value, order.value, (row) => (place < 0 ? null : numberAt(row, place)));
});
const { visible, toggle, unfold, depth, showDepth } = useFolding(orderedRows, 2, 'drivers');
const byKey = computed(() => new Map(allRows.value.map((row) => [row.key, row])));
const depths = computed(() => {
  const deepest = Math.max(2, ...allRows.value.map(({ level }) => level));
  const named = rowCodes.value.map((code, place) => ({
    level: place + 1,
    name: plan.workspace?.plan.dimensions.find((d) => d.code === code)?.name ?? code,
  }));
  return [...named, { level: deepest, name: 'Streams' }];
});

const uses = useAnswer([() => plan.tick], () => plan.compute().driverUses(), BESIDE_MS);
const use = computed(() => uses.data.value?.find(({ code }) => code === driver.value?.code));
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
/** The profile is set for the row that was last gone to, else for the scope of the frame. */
const panel = ref<'' | 'profile' | 'states'>('');
function togglePanel(which: 'profile' | 'states'): void {
  panel.value = panel.value === which ? '' : which;
}
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
function add(): void {
  formed.value = undefined;
  forming.value = true;
}
function change(): void {
  formed.value = driver.value;
  forming.value = true;
}

const columns = computed<GridColumn[]>(() => {
  const list: GridColumn[] = [];
  const many =
    open.value.to - open.value.from >= 12 ||
    new Set([open.value.from, open.value.to].map((m) => Math.floor(m / 12))).size > 1;
  for (let month = open.value.from; month <= open.value.to; month += 1) {
    const key = monthText(month);
    list.push({ key, heading: shortMonth(month, many), size: 70, ...arrowOf(key) });
  }
  const heading = TOTALS[nature.value];
  // Beside an open panel the months need the room.
  const wanted = list.length > 1 && panel.value === '';
  return heading && wanted
    ? withTotal(heading, list, {
        ...arrowOf(TOTAL),
        fixed: `${heading} follows from the months; type into one of them`,
      })
    : list;
});
/** What all months of the window together are called, by how the driver rolls up. */
const TOTALS: Readonly<Record<Nature, string>> = {
  flow: 'Total',
  stock: 'Last month',
  ratio: 'Mean',
  level: '',
};
const nature = computed<Nature>(() => (driver.value ? natureOf(driver.value) : 'level'));
const hasTotal = computed(() => columns.value[0]?.key === TOTAL);
/** Which month a column is of, counted from the first open one; −1 for all of them together. */
const monthAt = (place: number): number => (hasTotal.value ? place - 1 : place);
function numberAt(row: DriverRow, place: number): number | null {
  const month = monthAt(place);
  return valueOrNull(month < 0 ? row.total : row.values[month]);
}

function display(value: number | null): string {
  if (driver.value?.kind === 'percent') return formats.value.show(value, 'percent');
  return formats.value.show(value, driver.value?.kind === 'moneyPerUnit' ? 'price' : 'units');
}

/** A number as it is typed and added up, with its unit. */
function typedCell(value: number | null): Pick<GridCell, 'typed' | 'value' | 'unit'> {
  const percent = driver.value?.kind === 'percent';
  return {
    typed: formats.value.typed(value, percent),
    value: value !== null && percent ? value * 100 : value,
    unit: fieldUnit.value,
  };
}
const fieldUnit = computed(() => {
  switch (driver.value?.kind) {
    case 'money':
      return formats.value.currency;
    case 'moneyPerUnit':
      return `${formats.value.currency} per unit`;
    case 'percent':
      return '%';
    default:
      return driver.value?.unit ?? '';
  }
});

function toCell(row: DriverRow, value: number | null, month: number): GridCell {
  const mixed = row.mixed[month] === 1;
  let dress: Dress = 'plain';
  if (value === null) dress = 'missing';
  else if (row.own[month] === 1) dress = 'typed';
  else if (mixed) dress = 'mixed';
  const holder = plan.assumptions.get(row.holders[month] ?? 0);
  const by = table.weightedBy.value;
  let title = mixed
    ? `differs below; ${by === null ? 'all weigh the same' : `weighted by ${by}`}`
    : '';
  if (holder)
    title = `from ${holder.scope.length > 0 ? plan.tree.label(holder.scope) : 'everything'}`;
  if (value === null) title = 'missing';
  return {
    text: value === null ? 'missing' : display(value),
    ...typedCell(value),
    dress,
    title,
  };
}

/** All months of the window together: it follows from them, and is not typed over. */
function totalCell(value: number | null): GridCell {
  return {
    text: display(value),
    ...typedCell(value),
    dress: 'plain',
    title: `${TOTALS[nature.value]}, ${spanInWords(open.value)}`,
  };
}

const gridRows = computed<GridRow[]>(() =>
  visible.value.map((row) => ({
    key: row.key,
    label: row.label,
    level: row.level,
    parent: row.parent,
    folded: row.folded,
    strong: row.level < 2,
    cells: cellsOnDemand(columns.value.length, (place) => {
      const value = numberAt(row, place);
      const month = monthAt(place);
      return month < 0 ? totalCell(value) : toCell(row, value, month);
    }),
  })),
);

/** What the grid shows: what is typed is meant for it, whatever is shown when it is kept. */
const shownNow = computed(() => ({
  driver: driver.value,
  from: open.value.from,
  scope: scope.value,
  codes: rowCodes.value,
}));
interface DriverEdit extends GridEdit {
  readonly shown: typeof shownNow.value;
  readonly rows: typeof byKey.value;
}
function edit(edits: readonly GridEdit[]): void {
  const [shown, lines] = [shownNow.value, byKey.value];
  typed.edit(edits.map((one) => ({ ...one, shown, rows: lines })));
}
const typed = useTyped<DriverEdit>({
  keep,
  follow: table.settled,
  apart: (one, other) =>
    one.column !== other.column ||
    (one.row !== other.row && !isAbove(one.row, other.row) && !isAbove(other.row, one.row)),
  inSight: ({ shown }) =>
    shown.driver?.code === driver.value?.code &&
    shown.scope.join() === scope.value.join() &&
    shown.codes.join() === rowCodes.value.join(),
});
const { message, failed, refused, waiting, journal, say } = typed;
watch([driver, span, scope], () => {
  typed.forget();
});

const flattening = useFlattening<DriverEdit>(typed.edit, say);
const flatteningInWords = flattening.inWords;

async function keep(edits: readonly DriverEdit[]): Promise<void> {
  const [first] = edits;
  const shown = first?.shown.driver;
  if (!first || !shown) return;
  // The rows as they are now, unless something else is shown by now.
  const rows = first.shown === shownNow.value ? byKey.value : first.rows;
  const { from } = first.shown;
  const grid = { driver: shown, rows, placeOf: (month: string) => monthFrom(month) - from };
  const read = readEdits(edits, grid, formats.value);
  typed.refuse(read.refusals);
  typed.doubt(read.doubts);
  const { values, totals, changes } = read.typing;
  if (values.length + totals.length + changes.length === 0) return;
  journal.value = null;
  // A single line has nothing below it that would become equal.
  const single = edits.every(({ row, sure }) => sure === true || rows.get(row)?.leaf);
  const flattened = single ? [] : await plan.compute().flattening(shown.code, { values });
  if (flattened.length > 0) {
    flattening.ask({ driver: shown.name, rows: flattened, edits });
    return;
  }
  await save(shown, read.typing, (unchanged) => {
    if (read.refusals.length > 0) return;
    if (unchanged) say('Nothing changed: it was so already.');
    else if (read.spreadOver > 0) {
      say(`Spread over ${read.spreadOver} forecast lines, as they stand.`);
    } else if (changes.length > 0) say('Each value below changed by that.');
  });
}

/** Saves what was typed; what somebody else changed meanwhile is shown beside it. */
async function save(
  shown: Driver,
  typing: Typing,
  done: (unchanged: boolean) => void,
): Promise<void> {
  try {
    const kept = await plan.type(shown.code, typing);
    ({ journal: journal.value } = kept);
    done(kept.unchanged);
  } catch (error) {
    if (error instanceof ApiProblem && error.conflicts.length > 0) {
      plan.clash = clashOf(shown, typing, error.conflicts);
      return;
    }
    say(`${inWords(error)}. The old values are shown again.`, true);
  }
}

function clashOf(shown: Driver, typing: Typing, conflicts: readonly Conflict[]): Clash {
  const values = typing.values.map(({ value, ...one }) => ({
    ...one,
    mine: value === null ? 'taken back' : display(value),
  }));
  const totals = typing.totals.map(({ total, ...one }) => ({ ...one, mine: display(total) }));
  const changes = typing.changes.map(({ kind, by, ...one }) => ({
    ...one,
    mine: kind === 'times' ? `each × ${by}` : `each + ${display(by)}`,
  }));
  const rowsOf = (list: keyof Typing, sent: typeof totals): Clash['rows'] =>
    clashRows(
      sent,
      conflicts.filter(({ path }) => path.startsWith(list)),
      (one, { now }) => ({
        label: `${shown.name}, ${whereInWords(plan.tree, one?.scope ?? [])}, ${longMonth(monthFrom(one?.month ?? '1970-01'))}`,
        theirs: now === null ? 'taken back' : display(now),
        mine: one?.mine ?? '',
      }),
    );
  return {
    rows: [...rowsOf('values', values), ...rowsOf('totals', totals), ...rowsOf('changes', changes)],
    // What is shown now is theirs, and it has been seen: the same typing goes over it.
    insist: () => plan.inLine(() => save(shown, typing, () => say('Yours stands now.'))),
  };
}

/** What the trace is asked for a number of the grid. */
function ask({ row: key, column }: GridPlace): Asked | undefined {
  const row = byKey.value.get(key);
  if (!row || !driver.value || column === TOTAL) return undefined;
  return questioned({
    kind: 'driver',
    driver: driver.value.code,
    scope: row.scope,
    month: column,
  });
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
    return `${name}: missing in ${missingHere.value} of ${plan.workspace?.plan.streams ?? 0} streams`;
  }
  const found = result.data.value;
  if (!found || found.revenue === null) return name;
  const verb = found.many ? 'sell' : 'sells';
  return `With these drivers ${found.subject} ${verb} ${formats.value.inWords(found.revenue)} in the open months`;
});
/** What is said of a unit after the driver's name; counts are called units by that name already. */
const unitNames = computed<Record<Driver['kind'], string>>(() => ({
  count: '',
  wholeCount: '',
  money: `, ${formats.value.currency}`,
  moneyPerUnit: `, ${formats.value.currency} per unit`,
  percent: ', %',
  ratio: '',
  yesNo: ', 1 is yes and 0 is no',
  choice: '',
}));
const state = computed(() => {
  const unit = unitNames.value[driver.value?.kind ?? 'count'];
  const months = open.value.from <= open.value.to ? spanInWords(open.value) : 'no open month';
  return `${driver.value?.name ?? ''}${unit}, ${months}, base scenario; ${setHere.value} ${setHere.value === 1 ? 'assumption holds' : 'assumptions hold'} for ${allRows.value[0]?.streams ?? 0} streams`;
});
</script>

<template>
  <section class="room">
    <ScopeBar>
      <RowsChoice />
      <span class="controls" role="group" aria-label="Depth">
        <button
          v-for="option in depths"
          :key="option.name"
          type="button"
          class="chip"
          :aria-pressed="depth === option.level"
          @click="showDepth(option.level)"
        >
          {{ option.name }}
        </button>
      </span>
    </ScopeBar>
    <header class="room-head">
      <h1>{{ headline }}</h1>
      <p class="state">{{ state }}</p>
    </header>
    <DriverFacts v-if="driver" :driver="driver" :use="use" :said="said" :drivers="drivers" />
    <div class="controls no-print">
      <button
        v-if="driver && editable && widened === undefined"
        type="button"
        class="chip"
        :aria-pressed="panel === 'profile'"
        @click="togglePanel('profile')"
      >
        Set by a profile
      </button>
      <button v-if="driver && editable" type="button" class="chip" @click="change">
        {{ driver.formula ? 'Formula and bounds' : 'Bounds' }}
      </button>
      <button
        v-if="driver && editable && profileScope.length > 0"
        type="button"
        class="chip"
        @click="copying = true"
      >
        Copy to another scope
      </button>
      <button
        v-if="driver"
        type="button"
        class="chip"
        :aria-pressed="panel === 'states'"
        @click="togglePanel('states')"
      >
        What it was
      </button>
      <p class="message" :class="{ failure: failed }" :role="failed ? 'alert' : 'status'">
        {{ message }}
      </p>
      <WhyField :journal="journal" />
    </div>
    <TypedQuestion :doubts="typed.doubts.value" @settle="typed.settle" />
    <div v-if="flatteningInWords.length > 0" class="flattening no-print" role="alert">
      <div>
        <b>One value for all of them?</b>
        <p v-for="line in flatteningInWords" :key="line">{{ line }}</p>
      </div>
      <v-btn size="small" variant="flat" color="primary" @click="flattening.flatten">
        Set all to this value
      </v-btn>
      <v-btn size="small" variant="outlined" @click="flattening.leave"
        >Leave them as they are</v-btn
      >
    </div>
    <div class="rooms">
      <DriverTree
        class="no-print"
        :drivers="drivers"
        :uses="uses.data.value ?? []"
        :chosen="driver?.code ?? ''"
        :editable="editable"
        @choose="(code) => set({ driver: code })"
        @add="add"
      />
      <div v-if="open.from > open.to" class="empty">
        <h2>All months of this window are closed</h2>
        <p>
          Drivers hold for open months; {{ longMonth(plan.closedThrough) }} is the last closed one.
          Closed months show what the books say.
        </p>
        <button
          class="plain"
          type="button"
          @click="setSpan(presets['Next 12'].from, presets['Next 12'].to)"
        >
          Show the next 12 months
        </button>
      </div>
      <div
        v-else-if="table.data.value && allRows.length > 0 && allRows[0]?.streams === 0"
        class="empty"
      >
        <h2>No stream of this scope reads {{ driver?.name.toLowerCase() }}</h2>
        <p>
          The scope is {{ subject }}. What is set here feeds nothing until a stream’s method or a
          formula reads it.
        </p>
        <button v-if="scope.length > 0" class="plain" type="button" @click="setScope([])">
          Lift the scope
        </button>
      </div>
      <div v-else-if="driver && table.data.value" class="beside">
        <div class="grid-place" data-grid="drivers">
          <PlanGrid
            :label="driver.name"
            :about="state"
            saves
            :heading="`${rowHeading}, stream`"
            :columns="columns"
            :rows="gridRows"
            :editable="editable"
            :refused="refused"
            :name-width="218"
            :waiting="waiting"
            :ask="ask"
            sortable
            :findable="orderedRows"
            @toggle="toggle"
            @unfold="unfold"
            @edit="edit"
            @order="turnOrder"
            @place="visited = $event.row"
          />
        </div>
      </div>
      <ProfileEditor
        v-if="panel === 'profile' && driver && editable"
        :driver="driver"
        :scope="profileScope"
        :said="saidHere"
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
    <p v-if="!editable" class="quiet">You read this workspace; planners change its drivers.</p>
  </section>
</template>

<style scoped>
.rooms {
  flex: 1;
  min-height: 0;
  display: flex;
  gap: 12px;
}
.beside {
  flex: 1;
  min-width: 0;
  min-height: 0;
  display: flex;
  gap: 16px;
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
.flattening p {
  margin: 0;
}
.message {
  margin-left: auto;
  font-size: 12px;
  color: var(--ink-quiet);
}
.message.failure {
  color: var(--bad);
  font-weight: 550;
}
</style>
