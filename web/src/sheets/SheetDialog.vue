<script setup lang="ts">
import {
  holdsPart,
  newSheetSchema,
  peopleOperations,
  plansIn,
  sheetOperations,
  type NewSheet,
  type Sheet,
} from '@dravex/contract';
import { computed, watch } from 'vue';
import { WORDS } from '../format/words.ts';
import FormDialog from '../kit/FormDialog.vue';
import { useAnswer } from '../plan/use-answer.ts';
import { useMembers } from '../plan/use-members.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { useForm } from '../writing/use-form.ts';
import { TEXTS } from './texts.ts';

/** Adds a sheet, or says anew whose it is, of what and by when. */
const shown = defineModel<boolean>({ required: true });
const props = defineProps<{
  /** The one that is edited; without it, one is added. */
  sheet?: Sheet | undefined;
}>();
const emit = defineEmits<{ kept: [sheet: Sheet] }>();
const plan = usePlan();
const { version } = useFrame();
const members = useMembers();
const dimensions = computed(() => plan.workspace?.plan.dimensions ?? []);
const versions = computed(() =>
  plan.versions.filter(({ state, putAway }) => state === 'open' && !putAway),
);
const people = useAnswer([shown], async () =>
  shown.value ? plan.ask(peopleOperations.listPeople, {}) : undefined,
);
/** Those who can give numbers; contributors, whose task it is, before the others. */
const givers = computed(() =>
  (people.data.value ?? [])
    .filter(({ role }) => holdsPart(role) || plansIn(role))
    .toSorted((a, b) => Number(holdsPart(b.role)) - Number(holdsPart(a.role)))
    .map(({ id, name, role }) => ({ id, name: `${name}, ${role}` })),
);
const MEASURES = [
  { value: 'revenue', name: WORDS.revenue },
  { value: 'units', name: WORDS.units },
];
const { form, field, wrong, begin, dialog } = useForm({
  of: () => `${props.sheet?.id ?? ''} ${shown.value}`,
  fresh: () => {
    const now = props.sheet;
    const open = versions.value.find(({ id }) => id === version.value?.id) ?? versions.value[0];
    return {
      title: now?.title ?? '',
      version: now?.version ?? open?.id ?? null,
      person: now?.person ?? null,
      scope: [...(now?.scope ?? [])],
      outer: now?.rows[0] ?? 'product',
      inner: now?.rows[1] ?? '',
      measure: now?.measure ?? 'revenue',
      due: now?.due ?? '',
    };
  },
  schema: newSheetSchema,
  body: ({ outer, inner, due, person, version: into, ...said }): NewSheet => ({
    ...said,
    person: person ?? 0,
    version: into ?? 0,
    rows: inner === '' ? [outer] : [outer, inner],
    due: due === '' ? null : due,
  }),
  send: async (said) => {
    const { version: of, ...change } = newSheetSchema.parse(said);
    const kept = props.sheet
      ? await plan.ask(sheetOperations.changeSheet, { sheet: props.sheet.id }, change)
      : await plan.ask(sheetOperations.addSheet, {}, { ...change, version: of });
    shown.value = false;
    emit('kept', kept);
  },
});
watch(shown, (open) => open && begin());
const rows = computed(() => dimensions.value.map(({ code, name }) => ({ value: code, name })));
const below = computed(() => [
  { value: '', name: TEXTS.nothing },
  ...rows.value.filter(({ value }) => value !== form.value.outer),
]);
</script>

<template>
  <FormDialog
    v-model="shown"
    :title="sheet ? TEXTS.edit(sheet.title) : TEXTS.addBudgetSheet"
    :action="sheet ? WORDS.save : WORDS.add"
    v-bind="dialog"
  >
    <v-text-field
      v-bind="field('title')"
      :label="WORDS.name"
      :placeholder="TEXTS.northHomeGoodsStores"
      autocomplete="off"
    />
    <v-select
      v-if="!sheet"
      v-model="form.version"
      :label="TEXTS.fillsIn"
      :items="versions"
      item-value="id"
      item-title="name"
      :error-messages="wrong('version')"
      :no-data-text="TEXTS.thereIsNoOpenVersion"
    />
    <v-autocomplete
      v-model="form.person"
      :label="TEXTS.for"
      :items="givers"
      item-value="id"
      :error-messages="wrong('person')"
      :hint="TEXTS.peopleAreAddedUnderSettings"
      persistent-hint
    />
    <v-autocomplete
      v-model="form.scope"
      :label="TEXTS.salesOfEmptyEverything"
      :items="members"
      item-value="id"
      multiple
      chips
      closable-chips
      :error-messages="wrong('scope')"
    />
    <div class="two">
      <v-select
        v-model="form.outer"
        :label="TEXTS.linesBy"
        :items="rows"
        :error-messages="wrong('rows')"
      />
      <v-select v-model="form.inner" :label="TEXTS.andBelowThatBy" :items="below" />
    </div>
    <div class="two">
      <v-select v-model="form.measure" :label="TEXTS.filledInAs" :items="MEASURES" />
      <v-text-field v-bind="field('due')" type="date" :label="TEXTS.due" />
    </div>
  </FormDialog>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px;
}
</style>
