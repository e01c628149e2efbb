<script setup lang="ts">
import { MEASURE_CODES, MEASURES, type Dimension } from '@dravex/core';
import { computed } from 'vue';
import { UNITS, type Unit } from '../format/numbers.ts';
import { useHistory } from '../journal/use-history.ts';
import { usePlan } from '../plan/use-plan.ts';
import Choice from './Choice.vue';
import { useFrame } from './use-frame.ts';

const props = defineProps<{
  /** Which of the shared settings this room uses. */
  shows?: readonly ('measure' | 'version' | 'grain' | 'unit' | 'books')[];
}>();

const plan = usePlan();
const history = useHistory();
const { scope, setScope, set, unit, grain, measure, version, books, formats } = useFrame();

const dimensions = computed<readonly Dimension[]>(() => plan.workspace?.plan.dimensions ?? []);
const chosen = computed(() =>
  dimensions.value.flatMap((dimension, position) => {
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

const OFFERED = MEASURE_CODES.map((value) => ({ value, name: MEASURES[value].name }));
const GRAINS = [
  { value: 'month', name: 'Months' },
  { value: 'quarter', name: 'Quarters' },
  { value: 'year', name: 'Years' },
] as const;
const unitOptions = computed(() =>
  UNITS.map((size) => ({ value: size, name: formats.value.unitName(size) })),
);
const has = (name: 'measure' | 'version' | 'grain' | 'unit' | 'books'): boolean =>
  props.shows?.includes(name) ?? false;
</script>

<template>
  <div class="controls scope-bar no-print">
    <span v-for="part in chosen" :key="part.dimension.code" class="chip scope-chip">
      <span class="quiet">{{ part.dimension.name }}</span> {{ part.names }}
      <button
        class="bare"
        type="button"
        :aria-label="`Lift ${part.dimension.name} ${part.names}`"
        @click="lift(part.members)"
      >
        ×
      </button>
    </span>
    <v-menu location="bottom start" :offset="4" :close-on-content-click="false">
      <template #activator="{ props: activator }">
        <button v-bind="activator" type="button" class="chip narrow">+ narrow</button>
      </template>
      <div class="menu-sheet members" role="group" aria-label="Scope">
        <template v-for="dimension in dimensions" :key="dimension.code">
          <div class="group">{{ dimension.name }}</div>
          <button
            v-for="member in plan.tree.inOrder(dimension)"
            :key="member.id"
            type="button"
            class="item"
            role="menuitemcheckbox"
            :aria-checked="scope.includes(member.id)"
            :style="{ paddingLeft: `${plan.tree.depth(member.id) * 12 - 2}px` }"
            @click="toggle(member.id)"
          >
            <span class="mark">{{ scope.includes(member.id) ? '•' : '' }}</span>{{ member.name }}
          </button>
        </template>
      </div>
    </v-menu>
    <span class="push" />
    <button type="button" class="chip" :aria-pressed="history.open" @click="history.toggle()">
      History
    </button>
    <slot />
    <button
      v-if="has('books')"
      type="button"
      class="chip"
      :aria-pressed="books"
      title="Leave out sales that were entered by hand"
      @click="set({ origin: books ? undefined : 'books' })"
    >
      Books only
    </button>
    <Choice
      v-if="has('measure')"
      about="Measure"
      :label="MEASURES[measure].name"
      :options="OFFERED"
      :chosen="measure"
      @choose="set({ measure: $event })"
    />
    <Choice
      v-if="has('version') && version"
      about="Version"
      :label="`against ${version.name}`"
      :options="plan.versions.map(({ id, name }) => ({ value: id, name }))"
      :chosen="version.id"
      @choose="set({ version: String($event) })"
    />
    <Choice
      v-if="has('grain')"
      about="Grain"
      :label="GRAINS.find((g) => g.value === grain)?.name ?? ''"
      :options="GRAINS"
      :chosen="grain"
      @choose="set({ grain: $event })"
    />
    <Choice
      v-if="has('unit')"
      about="Unit of display"
      :label="formats.unitName(unit)"
      :options="unitOptions"
      :chosen="unit"
      @choose="(size: Unit) => set({ unit: String(size) })"
    />
  </div>
</template>

<style scoped>
.scope-chip {
  font-size: 12px;
  background: var(--surface);
  border: 1px solid var(--line);
  border-radius: 4px;
  padding: 2px 4px 2px 9px;
  display: inline-flex;
  gap: 6px;
  align-items: baseline;
}
.scope-chip .bare {
  padding: 0 5px;
  color: var(--ink-quiet);
}
.narrow {
  border-style: dashed !important;
  background: none !important;
  color: var(--ink-quiet) !important;
}
.members {
  min-width: 230px;
}
.mark {
  width: 8px;
  color: var(--ember);
}
</style>
