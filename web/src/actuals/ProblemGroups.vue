<script setup lang="ts">
import type { ImportPreview, ProblemGroup, Repair } from '@dravex/contract';
import type { Dimension } from '@dravex/core';
import { computed, ref } from 'vue';
import SheetTable from '../kit/SheetTable.vue';
import { usePlan } from '../plan/use-plan.ts';
import { PROBLEM_KINDS, REPAIRABLE, rowsInWords } from './problem-words.ts';
import { TEXTS } from './texts.ts';

/** Problem with rows, the same mistakes together, each to be repaired in its place. */
const props = defineProps<{
  preview: ImportPreview;
  busy: boolean;
  /** Whether repairs are possible: a planner, and a file that is not applied. */
  open: boolean;
}>();
const emit = defineEmits<{
  repair: [wanted: Repair];
  create: [dimension: string, value: string];
  assign: [dimension: string, customer: string, member: string];
}>();

const plan = usePlan();
const groups = computed(() => props.preview.groups);
const kinds = computed(() =>
  Object.entries(props.preview.problemCounts).map(([code, count]) => ({
    name: PROBLEM_KINDS[code as ProblemGroup['code']],
    count,
  })),
);
const keyOf = ({ code, field, value }: ProblemGroup): string => `${code} ${field} ${value}`;
/** What is typed or chosen beside each, not given yet. */
const meant = ref<Record<string, string>>({});
const remembering = ref<Record<string, boolean>>({});
const dimensionOf = (field: string): Dimension | undefined =>
  plan.workspace?.plan.dimensions.find(({ code }) => code === field);
/** The members that sales may name. */
function leavesOf(field: string) {
  const dimension = dimensionOf(field);
  return dimension ? plan.tree.leavesOf(dimension) : [];
}
const repairable = (group: ProblemGroup): boolean =>
  props.open && !group.taken && REPAIRABLE.has(group.code) && group.field !== '';
const isCustomer = ({ code }: ProblemGroup): boolean => code === 'unassigned-customer';
const isDate = ({ field }: ProblemGroup): boolean => field === 'date';

function give(group: ProblemGroup): void {
  const to = meant.value[keyOf(group)]?.trim() ?? '';
  if (to === '') return;
  const { field, value: from } = group;
  if (isCustomer(group)) {
    emit('assign', field, from, to);
    return;
  }
  const remember = remembering.value[keyOf(group)] ?? dimensionOf(field) !== undefined;
  emit('repair', { replace: [{ field, from, to, remember: remember && from !== '' }] });
}
</script>

<template>
  <section v-if="groups.length > 0" class="faulty" :aria-label="TEXTS.rowsToCheck">
    <h2>
      {{ TEXTS.rowsToCheck
      }}<span v-for="kind in kinds" :key="kind.name" class="kind">
        {{ kind.count }} {{ kind.name }}</span
      >
    </h2>
    <div class="scroll" tabindex="0">
      <SheetTable :about="TEXTS.rowsToCheck">
        <thead>
          <tr>
            <th scope="col">{{ TEXTS.rows }}</th>
            <th scope="col">{{ TEXTS.first }}</th>
            <th scope="col" class="words">{{ TEXTS.problem }}</th>
            <th v-if="open" scope="col" class="words">{{ TEXTS.correction }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="group in groups" :key="keyOf(group)" :class="{ taken: group.taken }">
            <td>{{ group.rows }}</td>
            <td class="quiet">{{ group.row }}</td>
            <td class="words wide">
              {{ group.message }}
              <span v-if="group.taken" class="quiet">{{ TEXTS.included }}</span>
            </td>
            <td v-if="open" class="words">
              <form v-if="repairable(group)" class="give" @submit.prevent="give(group)">
                <v-autocomplete
                  v-if="dimensionOf(group.field)"
                  v-model="meant[keyOf(group)]"
                  width="150"
                  :placeholder="TEXTS.choose"
                  :items="leavesOf(group.field)"
                  item-value="code"
                  :aria-label="TEXTS.memberFor(group.value || 'nothing')"
                />
                <v-text-field
                  v-else
                  v-model="meant[keyOf(group)]"
                  :type="isDate(group) ? 'date' : 'text'"
                  width="130"
                  :aria-label="TEXTS.for(group.field, group.value || 'nothing')"
                />
                <v-btn type="submit" :disabled="busy || !meant[keyOf(group)]">
                  {{
                    isCustomer(group)
                      ? TEXTS.assign(group.value)
                      : TEXTS.useFor(rowsInWords(group.rows))
                  }}
                </v-btn>
                <template
                  v-if="dimensionOf(group.field) && group.value !== '' && !isCustomer(group)"
                >
                  <v-checkbox
                    :label="TEXTS.remember"
                    :model-value="remembering[keyOf(group)] ?? true"
                    @update:model-value="remembering[keyOf(group)] = $event === true"
                  />
                  <v-btn
                    v-if="group.code === 'unknown-code'"
                    variant="plain"
                    :disabled="busy"
                    @click="emit('create', group.field, group.value)"
                  >
                    {{ TEXTS.orAddItAsMember }}
                  </v-btn>
                </template>
              </form>
              <v-btn
                v-else-if="open && group.taken"
                :disabled="busy"
                @click="emit('repair', { leaveOut: [group.code] })"
              >
                {{ TEXTS.excludeAllOfThese }}
              </v-btn>
            </td>
          </tr>
        </tbody>
      </SheetTable>
    </div>
  </section>
</template>

<style scoped>
.faulty {
  display: flex;
  flex-direction: column;
  gap: 6px;
  min-height: 0;
}
.scroll {
  overflow: auto;
}
.kind {
  font-weight: 400;
  font-size: 12px;
  color: var(--ember-ink);
  margin-left: 12px;
}
.wide {
  white-space: normal !important;
  min-width: 200px;
}
.give {
  display: flex;
  gap: 6px;
  align-items: center;
  flex-wrap: wrap;
  padding: 2px 0;
}
.taken .wide {
  color: var(--ink-quiet);
}
</style>
