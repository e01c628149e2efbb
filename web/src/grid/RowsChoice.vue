<script setup lang="ts">
import { mdiMenuDown } from '@mdi/js';
import { PEOPLE } from '@dravex/contract';
import { computed } from 'vue';
import { WORDS } from '../format/words.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { TEXTS } from './texts.ts';

/** What stands on the rows and columns: any two of the dimensions and time. */
const props = defineProps<{
  withColumns?: boolean;
  /** Whether measures stand on the columns; undefined where they cannot. */
  across?: boolean | undefined;
  /** Whether sellers and customers can stand on rows, too. */
  people?: boolean;
}>();
const emit = defineEmits<{ across: [yes: boolean] }>();

const plan = usePlan();
const frame = useFrame();
const { columns, set, rowsInWords } = frame;
const rows = computed(() => (props.people ? frame.rowsWithPeople.value : frame.rows.value));

const dimensions = computed(() => plan.workspace?.plan.dimensions ?? []);
const NAMES = { seller: TEXTS.seller, customer: WORDS.customer } as const;
const rowChoices = computed(() => {
  const own = dimensions.value.map(({ code, name }) => ({ code, name }));
  const people = PEOPLE.filter((kind) => !own.some(({ code }) => code === kind));
  return props.people ? [...own, ...people.map((code) => ({ code, name: NAMES[code] }))] : own;
});

const label = computed(() => {
  const words = rowsInWords(rows.value);
  const above = props.across ? 'measures' : rowsInWords([columns.value]).toLowerCase();
  return props.withColumns ? TEXTS.by(words, above) : words;
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

const NOTHING = { code: '', name: TEXTS.none };
const columnChoices = computed(() => [
  { code: 'time', name: TEXTS.time },
  ...(props.across === undefined ? [] : [{ code: 'measures', name: WORDS.measures }]),
  ...dimensions.value,
]);
</script>

<template>
  <v-menu :close-on-content-click="false">
    <template #activator="{ props: activator }">
      <v-btn
        v-bind="activator"
        :append-icon="mdiMenuDown"
        :aria-label="TEXTS.rowsAndColumns(label)"
      >
        {{ label }}
      </v-btn>
    </template>
    <div class="menu-sheet arrangement">
      <v-select
        :label="TEXTS.rows"
        :model-value="rows[0]"
        :items="rowChoices"
        item-value="code"
        @update:model-value="(code: string) => setRow(0, code)"
      />
      <v-select
        :label="TEXTS.rowsWithinThem"
        :model-value="rows[1] ?? ''"
        :items="[NOTHING, ...rowChoices]"
        item-value="code"
        @update:model-value="(code: string) => setRow(1, code)"
      />
      <v-select
        v-if="withColumns"
        :label="WORDS.columns"
        :model-value="across ? 'measures' : columns"
        :items="columnChoices"
        item-value="code"
        @update:model-value="chooseColumns"
      />
    </div>
  </v-menu>
</template>

<style scoped>
.arrangement {
  display: grid;
  gap: 4px;
  width: 230px;
  padding: 10px 12px 12px;
}
</style>
