<script setup lang="ts">
import { mdiFilterVariant } from '@mdi/js';
import { MEASURE_CODES, MEASURES, VERSION_CODES, type Dimension } from '@dravex/core';
import { computed } from 'vue';
import { UNITS, type Unit } from '../format/numbers.ts';
import { WORDS } from '../format/words.ts';
import { usePlan } from '../plan/use-plan.ts';
import Choice from '../kit/Choice.vue';
import { TERMS } from '../kit/terms.ts';
import { TEXTS } from './texts.ts';
import { useFrame, type Shown } from './use-frame.ts';

const props = defineProps<{
  /** Which of the shared settings this room uses. */
  shows?: readonly Shown[];
  /** What is shown has a scope of its own: there is no filter. */
  ownScope?: boolean | undefined;
}>();

const plan = usePlan();
const frame = useFrame();
const {
  scope,
  setScope,
  set,
  unit,
  grain,
  grainOfWeeks,
  grainOfDays,
  version,
  versions,
  books,
  formats,
} = frame;

const dimensions = computed<readonly Dimension[]>(() => plan.workspace?.plan.dimensions ?? []);
const chosen = computed(() =>
  (props.ownScope ? [] : dimensions.value).flatMap((dimension, position) => {
    const members = scope.value.filter((id) => plan.tree.dimensionOf(id) === position);
    const names = members.map((id) => plan.tree.member(id).name).join(', ');
    return members.length > 0 ? [{ dimension, members, names }] : [];
  }),
);

function toggle(id: number): void {
  const { value } = scope;
  void setScope(value.includes(id) ? value.filter((other) => other !== id) : [...value, id]);
}

function lift(members: readonly number[]): void {
  void setScope(scope.value.filter((id) => !members.includes(id)));
}

const has = (name: Shown): boolean => props.shows?.includes(name) ?? false;
const offered = computed(() =>
  (has('versionMeasure') ? VERSION_CODES : MEASURE_CODES).map((value) => ({
    value,
    name: MEASURES[value].name,
  })),
);
const measureChosen = computed(() =>
  has('versionMeasure') ? frame.versionMeasure.value : frame.measure.value,
);
const GRAINS = [
  { value: 'month', name: WORDS.months },
  { value: 'quarter', name: TEXTS.quarters },
  { value: 'year', name: TEXTS.years },
] as const;
const WITH_WEEKS = [{ value: 'week', name: TEXTS.weeks }, ...GRAINS] as const;
const WITH_DAYS = [{ value: 'day', name: TEXTS.days }, ...WITH_WEEKS] as const;
const time = computed(() => {
  if (has('days'))
    return {
      about: TEXTS.daysWeeksMonthsQuartersOr,
      offered: WITH_DAYS,
      chosen: grainOfDays.value,
    };
  if (has('weeks'))
    return {
      about: TEXTS.weeksMonthsQuartersOrYears,
      offered: WITH_WEEKS,
      chosen: grainOfWeeks.value,
    };
  if (has('grain'))
    return { about: TEXTS.monthsQuartersOrYears, offered: GRAINS, chosen: grain.value };
  return undefined;
});
const unitOptions = computed(() =>
  UNITS.map((size) => ({ value: size, name: formats.value.unitName(size) })),
);
</script>

<template>
  <div class="controls scope-bar no-print">
    <v-menu v-if="!ownScope" :close-on-content-click="false">
      <template #activator="{ props: activator }">
        <v-btn v-bind="activator" :prepend-icon="mdiFilterVariant">{{ TEXTS.filter }}</v-btn>
      </template>
      <v-list class="members" role="menu" :aria-label="TEXTS.filter">
        <div
          v-for="dimension in dimensions"
          :key="dimension.code"
          role="group"
          :aria-label="dimension.name"
        >
          <v-list-subheader>{{ dimension.name }}</v-list-subheader>
          <v-list-item
            v-for="member in plan.tree.inOrder(dimension)"
            :key="member.id"
            role="menuitemcheckbox"
            :aria-checked="scope.includes(member.id)"
            :title="member.name"
            :style="{ paddingInlineStart: `${plan.tree.depth(member.id) * 12 - 2}px` }"
            @click="toggle(member.id)"
          />
        </div>
      </v-list>
    </v-menu>
    <v-chip
      v-for="part in chosen"
      :key="part.dimension.code"
      closable
      label
      size="small"
      :close-label="TEXTS.removeFilterOf(part.dimension.name, part.names)"
      @click:close="lift(part.members)"
    >
      <span class="quiet">{{ part.dimension.name }}</span>&nbsp;{{ part.names }}
    </v-chip>
    <slot />
    <span class="push" />
    <v-btn
      v-if="has('books')"
      :aria-pressed="books"
      :title="TERMS.booksOnly.says"
      @click="set({ origin: books ? undefined : 'books' })"
    >
      {{ TEXTS.booksOnly }}
    </v-btn>
    <Choice
      v-if="has('measure') || has('versionMeasure')"
      :about="WORDS.measure"
      :label="MEASURES[measureChosen].name"
      :options="offered"
      :chosen="measureChosen"
      @choose="set({ measure: $event })"
    />
    <Choice
      v-if="has('version') && version"
      :about="WORDS.version"
      :label="TEXTS.against(version.name)"
      :options="versions.map(({ id, name }) => ({ value: id, name }))"
      :chosen="version.id"
      @choose="set({ version: String($event) })"
    />
    <Choice
      v-if="time"
      :about="time.about"
      :label="time.offered.find(({ value }) => value === time?.chosen)?.name ?? ''"
      :options="time.offered"
      :chosen="time.chosen"
      @choose="set({ grain: $event })"
    />
    <Choice
      v-if="has('unit')"
      :about="WORDS.unit"
      :label="formats.unitName(unit)"
      :options="unitOptions"
      :chosen="unit"
      @choose="(size: Unit) => set({ unit: String(size) })"
    />
  </div>
</template>

<style scoped>
.members {
  min-width: 230px;
}
</style>
