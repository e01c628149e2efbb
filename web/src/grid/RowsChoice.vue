<script setup lang="ts">
import { computed } from 'vue';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';

/** What stands on the rows and columns: any two of the dimensions and time. */
const props = defineProps<{
  withColumns?: boolean;
  /** Whether measures stand on the columns; undefined where they cannot. */
  across?: boolean | undefined;
}>();
const emit = defineEmits<{ across: [yes: boolean] }>();

const plan = usePlan();
const { rows, columns, set } = useFrame();

const dimensions = computed(() => plan.workspace?.plan.dimensions ?? []);
const nameOf = (code: string): string =>
  code === 'time'
    ? 'time'
    : (dimensions.value.find((dimension) => dimension.code === code)?.name.toLowerCase() ?? code);

const label = computed(() => {
  const names = rows.value.map(nameOf).join(', ');
  const words = names.charAt(0).toUpperCase() + names.slice(1);
  return props.withColumns
    ? `${words} by ${props.across ? 'measures' : nameOf(columns.value)}`
    : words;
});

function setRow(place: 0 | 1, code: string): void {
  const next = [...rows.value];
  const other = next.indexOf(code);
  if (code === '') next.splice(place, 1);
  else {
    // What stood here changes places with what is chosen.
    if (other >= 0 && next[place] !== undefined) next[other] = next[place];
    next[place] = code;
  }
  const list = [...new Set(next)];
  const changes: Record<string, string | undefined> = { rows: list.join(',') };
  if (list.includes(columns.value)) changes['columns'] = undefined;
  void set(changes);
}

function chooseColumns(code: string): void {
  if (code === 'measures') emit('across', true);
  else if (!props.across) setColumns(code);
  else void leaveMeasures(code);
}

/** Measures go back to the rows first: both choices stand in one address. */
async function leaveMeasures(code: string): Promise<void> {
  await set({ across: undefined, order: undefined });
  setColumns(code);
}

function setColumns(code: string): void {
  const list = rows.value.filter((row) => row !== code);
  const left =
    list.length > 0
      ? list
      : dimensions.value
          .map((d) => d.code)
          .filter((c) => c !== code)
          .slice(0, 1);
  void set({ columns: code === 'time' ? undefined : code, rows: left.join(',') });
}

function value(event: Event): string {
  return (event.target as HTMLSelectElement).value;
}
</script>

<template>
  <v-menu location="bottom start" :offset="4" :close-on-content-click="false">
    <template #activator="{ props: activator }">
      <button
        v-bind="activator"
        type="button"
        class="chip"
        :aria-label="`Rows and columns: ${label}`"
      >
        {{ label }} <span class="quiet" aria-hidden="true">▾</span>
      </button>
    </template>
    <div class="menu-sheet arrangement">
      <label for="rows-first">Rows</label>
      <select id="rows-first" :value="rows[0]" @change="setRow(0, value($event))">
        <option v-for="d in dimensions" :key="d.code" :value="d.code">{{ d.name }}</option>
      </select>
      <label for="rows-second">within them</label>
      <select id="rows-second" :value="rows[1] ?? ''" @change="setRow(1, value($event))">
        <option value="">nothing</option>
        <option v-for="d in dimensions" :key="d.code" :value="d.code">{{ d.name }}</option>
      </select>
      <template v-if="withColumns">
        <label for="columns-choice">Columns</label>
        <select
          id="columns-choice"
          :value="across ? 'measures' : columns"
          @change="chooseColumns(value($event))"
        >
          <option value="time">Time</option>
          <option v-if="across !== undefined" value="measures">Measures</option>
          <option v-for="d in dimensions" :key="d.code" :value="d.code">{{ d.name }}</option>
        </select>
      </template>
    </div>
  </v-menu>
</template>

<style scoped>
.arrangement {
  display: grid;
  grid-template-columns: auto 150px;
  gap: 6px 12px;
  align-items: center;
  padding: 12px;
}
</style>
