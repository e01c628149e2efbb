<script setup lang="ts">
import { budgetOperations, type Version, type VersionChange } from '@dravex/contract';
import { fiscalYearOf, monthFrom } from '@dravex/core';
import { mdiDotsVertical } from '@mdi/js';
import { ref } from 'vue';
import { useRouter } from 'vue-router';
import { dayInWords } from '../format/moments.ts';
import { spanInWords } from '../format/periods.ts';
import { WORDS } from '../format/words.ts';
import DialogSheet from '../kit/DialogSheet.vue';
import SheetTable from '../kit/SheetTable.vue';
import { usePlanner } from '../people/use-planner.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { useWriting } from '../writing/use-writing.ts';
import RenameDialog from './RenameDialog.vue';
import { TEXTS } from './texts.ts';

/** All versions: what they are for, which is a year's budget, and what is put away. */
const shown = defineModel<boolean>({ required: true });
/** The version in force. */
const props = defineProps<{ version: Version | undefined }>();
const emit = defineEmits<{ show: [version: Version] }>();

const plan = usePlan();
const planner = usePlanner();
const router = useRouter();
const { calendar } = useFrame();
const { failure, write } = useWriting();

const yearOf = ({ to }: Version): number => fiscalYearOf(monthFrom(to), calendar.value.fiscalStart);
const monthsOf = ({ from, to }: Version): string =>
  spanInWords({ from: monthFrom(from), to: monthFrom(to) });
const stateOf = ({ budgetOf, state, putAway }: Version): string =>
  [
    ...(budgetOf === null ? [] : [TEXTS.budgetOfFy(budgetOf)]),
    putAway ? TEXTS.archived : state === 'open' ? TEXTS.open : TEXTS.locked,
  ].join(', ');

const renaming = ref<Version>();
const renames = ref(false);
function rename(version: Version): void {
  renaming.value = version;
  renames.value = true;
}
const change = ({ id }: Version, to: VersionChange) =>
  write(() => plan.ask(budgetOperations.changeVersion, { versionId: id }, to));
const remove = (version: Version) =>
  write(
    () => plan.ask(budgetOperations.deleteVersion, { versionId: version.id }),
    () => (plan.said = { text: WORDS.deleted(version.name), undo: 'budget' }),
  );
function show(version: Version): void {
  shown.value = false;
  emit('show', version);
}
/** A version beside the one in force, over the months of both. */
function compare(version: Version): void {
  const against = props.version;
  if (!against) return;
  const [from, to] = [
    version.from > against.from ? version.from : against.from,
    version.to < against.to ? version.to : against.to,
  ];
  shown.value = false;
  void router.push({
    path: `/w/${plan.workspaceId}/comparison`,
    query: {
      of: `version:${version.id}`,
      version: String(against.id),
      ...(from <= to ? { from, to } : {}),
    },
  });
}
</script>

<template>
  <DialogSheet v-model="shown" :title="TEXTS.versions" :width="860">
    <p v-if="failure" class="failure" role="alert">{{ failure }}</p>
    <SheetTable :about="TEXTS.versions">
      <thead>
        <tr>
          <th scope="col">{{ WORDS.version }}</th>
          <th scope="col" class="words">{{ WORDS.months }}</th>
          <th scope="col" class="words">{{ TEXTS.state }}</th>
          <th scope="col" class="words">{{ TEXTS.saved }}</th>
          <th scope="col">
            <span class="hidden-but-read">{{ TEXTS.actions }}</span>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in plan.versions" :key="one.id" :class="{ quiet: one.putAway }">
          <th scope="row" class="name">
            {{ one.name
            }}<span v-if="one.id === version?.id" class="quiet">{{ TEXTS.inForce }}</span>
            <p v-if="one.note" class="quiet">{{ one.note }}</p>
          </th>
          <td class="words">{{ monthsOf(one) }}</td>
          <td class="words">{{ stateOf(one) }}</td>
          <td class="words">{{ dayInWords(one.createdAt, plan.locale) }}, {{ one.createdBy }}</td>
          <td class="figures">
            <v-menu>
              <template #activator="{ props: activator }">
                <v-btn
                  v-bind="activator"
                  variant="plain"
                  :icon="mdiDotsVertical"
                  :aria-label="TEXTS.actionsOf(one.name)"
                />
              </template>
              <v-list role="menu" :aria-label="TEXTS.actionsOf(one.name)">
                <v-list-item
                  role="menuitem"
                  :title="TEXTS.showInAllRooms"
                  :disabled="one.id === version?.id"
                  @click="show(one)"
                />
                <v-list-item
                  v-if="version && one.id !== version.id"
                  role="menuitem"
                  :title="TEXTS.compareWith(version.name)"
                  @click="compare(one)"
                />
                <template v-if="planner">
                  <v-list-item role="menuitem" :title="TEXTS.rename" @click="rename(one)" />
                  <v-list-item
                    v-if="!one.putAway"
                    role="menuitem"
                    :title="
                      one.budgetOf === null
                        ? TEXTS.makeItBudgetOfFy(yearOf(one))
                        : TEXTS.noLongerBudgetOfFy(one.budgetOf)
                    "
                    @click="change(one, { budget: one.budgetOf === null })"
                  />
                  <v-list-item
                    role="menuitem"
                    :title="one.putAway ? TEXTS.restore : TEXTS.archive"
                    @click="change(one, { putAway: !one.putAway })"
                  />
                  <v-list-item role="menuitem" :title="WORDS.delete" @click="remove(one)" />
                </template>
              </v-list>
            </v-menu>
          </td>
        </tr>
      </tbody>
    </SheetTable>
    <RenameDialog v-if="renaming" v-model="renames" :version="renaming" />
    <template #actions>
      <v-btn color="primary" @click="shown = false">{{ WORDS.close }}</v-btn>
    </template>
  </DialogSheet>
</template>

<style scoped>
.name {
  white-space: normal;
}
</style>
