<script setup lang="ts">
import type { FilledChange, FilledFile } from '@dravex/contract';
import { computed } from 'vue';
import { DASH } from '../format/numbers.ts';
import { WORDS } from '../format/words.ts';
import SheetTable from '../kit/SheetTable.vue';
import { useFrame } from '../shell/use-frame.ts';
import { TEXTS } from './texts.ts';

/** What a file would change: number by number, with what cannot be imported. */
const props = defineProps<{ effect: FilledFile; name: string }>();
const { formats, minor } = useFrame();
const MOST_SHOWN = 12;
const NAMES = { units: 'units', revenue: 'revenue', cost: 'cost' } as const;

/** Money comes in minor units, units as they are. */
function number(value: number | null, measure: FilledChange['measure']): string {
  if (value === null) return DASH;
  return measure === 'units'
    ? formats.value.full(value, 'units')
    : formats.value.full(value / minor.value, 'money');
}
const several = computed(
  () => new Set(props.effect.changed.map(({ measure }) => measure)).size > 1,
);
const nameOf = ({ name, column, measure }: FilledChange): string =>
  [name, column, several.value ? NAMES[measure] : ''].filter((part) => part !== '').join(', ');
const tables = computed(() => {
  const { changed, meanwhile, counts } = props.effect;
  const of = (about: string, rows: readonly FilledChange[], count: number, was: boolean) => ({
    ...{ about, was, rows: rows.slice(0, MOST_SHOWN) },
    more: count - Math.min(count, MOST_SHOWN),
  });
  return [
    of(TEXTS.changedInFile, changed, counts.changed, false),
    of(TEXTS.changedInFileAndHere, meanwhile, counts.meanwhile, true),
  ].filter(({ rows }) => rows.length > 0);
});
const said = computed(() => {
  const { counts, same, leftOut } = props.effect;
  return [
    TEXTS.changed(counts.changed),
    ...(counts.meanwhile > 0 ? [TEXTS.changedHereToo(counts.meanwhile)] : []),
    TEXTS.unchanged(same),
    ...(counts.lacking > 0 ? [TEXTS.linesAreNotInFile(counts.lacking)] : []),
    ...leftOut,
  ].join('; ');
});
const added = computed(() => {
  const { added: names, counts } = props.effect;
  const more = counts.added - MOST_SHOWN;
  const shown = names.slice(0, MOST_SHOWN).join('; ');
  return more > 0 ? TEXTS.andMoreOf(shown, more) : shown;
});
</script>

<template>
  <p role="status">{{ name }}: {{ said }}.</p>
  <p v-if="added">{{ TEXTS.newLines(added) }}</p>
  <SheetTable v-for="{ about, rows, was, more } in tables" :key="about" :about="about">
    <thead>
      <tr>
        <th scope="col">{{ about }}</th>
        <th v-if="was" scope="col">{{ TEXTS.asSaved }}</th>
        <th scope="col">{{ TEXTS.hereNow }}</th>
        <th scope="col">{{ TEXTS.inTheFile }}</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="row in rows" :key="`${row.row} ${row.column} ${row.measure}`">
        <th scope="row">{{ nameOf(row) }}</th>
        <td v-if="was">{{ number(row.was, row.measure) }}</td>
        <td>{{ number(row.now, row.measure) }}</td>
        <td>{{ number(row.file, row.measure) }}</td>
      </tr>
      <tr v-if="more > 0">
        <th scope="row" class="quiet">{{ TEXTS.andMore(more) }}</th>
        <td :colspan="was ? 3 : 2"></td>
      </tr>
    </tbody>
  </SheetTable>
  <slot />
  <p
    v-for="problem in effect.problems.slice(0, MOST_SHOWN)"
    :key="`${problem.row} ${problem.message}`"
    class="failure"
  >
    {{ WORDS.rowSays(problem.row, problem.message) }}
  </p>
  <p v-if="effect.counts.problems > MOST_SHOWN" class="failure">
    {{ TEXTS.moreRowsCannotBeImported(effect.counts.problems - MOST_SHOWN) }}
  </p>
</template>
