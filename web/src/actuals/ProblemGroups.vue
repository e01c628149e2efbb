<script setup lang="ts">
import type { ImportPreview, ProblemGroup, Repair } from '@dravex/contract';
import type { Dimension } from '@dravex/core';
import { computed, ref } from 'vue';
import { PROBLEM_KINDS, REPAIRABLE, rowsInWords } from './problem-words.ts';

/** What is wrong with rows, the same mistakes together, each to be repaired in its place. */
const props = defineProps<{
  preview: ImportPreview;
  dimensions: readonly Dimension[];
  busy: boolean;
  /** Whether repairs are possible: a planner, and a file that is not applied. */
  open: boolean;
}>();
const emit = defineEmits<{
  repair: [wanted: Repair];
  create: [dimension: string, value: string];
}>();

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
  props.dimensions.find(({ code }) => code === field);
/** The members that sales may name. */
function leavesOf(field: string): Dimension['members'] {
  const members = dimensionOf(field)?.members ?? [];
  const parents = new Set(members.map(({ parent }) => parent));
  return members.filter(({ id }) => !parents.has(id));
}
const repairable = (group: ProblemGroup): boolean =>
  props.open && !group.taken && REPAIRABLE.has(group.code) && group.field !== '';
const isDate = ({ field }: ProblemGroup): boolean => field === 'date';

function give(group: ProblemGroup): void {
  const to = meant.value[keyOf(group)]?.trim() ?? '';
  if (to === '') return;
  const { field, value: from } = group;
  const remember = remembering.value[keyOf(group)] ?? dimensionOf(field) !== undefined;
  emit('repair', { replace: [{ field, from, to, remember: remember && from !== '' }] });
}
</script>

<template>
  <section v-if="groups.length > 0" class="faulty" aria-label="Faulty rows">
    <h2>
      Rows to look at<span v-for="kind in kinds" :key="kind.name" class="kind">
        {{ kind.count }} {{ kind.name }}</span
      >
    </h2>
    <div class="scroll" tabindex="0">
      <table class="sheet-table">
        <thead>
          <tr>
            <th scope="col">Rows</th>
            <th scope="col">First</th>
            <th scope="col" class="words">What is wrong</th>
            <th v-if="open" scope="col" class="words">What it shall be</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="group in groups" :key="keyOf(group)" :class="{ taken: group.taken }">
            <td>{{ group.rows }}</td>
            <td class="quiet">{{ group.row }}</td>
            <td class="words wide">
              {{ group.message }}
              <span v-if="group.taken" class="quiet">(taken)</span>
            </td>
            <td v-if="open" class="words">
              <form v-if="repairable(group)" class="give" @submit.prevent="give(group)">
                <select
                  v-if="dimensionOf(group.field)"
                  v-model="meant[keyOf(group)]"
                  :aria-label="`Member for ${group.value || 'nothing'}`"
                >
                  <option :value="undefined">choose …</option>
                  <option
                    v-for="member in leavesOf(group.field)"
                    :key="member.id"
                    :value="member.code"
                  >
                    {{ member.name }}
                  </option>
                </select>
                <input
                  v-else
                  v-model="meant[keyOf(group)]"
                  :type="isDate(group) ? 'date' : 'text'"
                  class="text"
                  :aria-label="`${group.field} for ${group.value || 'nothing'}`"
                />
                <button type="submit" class="chip" :disabled="busy || !meant[keyOf(group)]">
                  Read {{ rowsInWords(group.rows) }} so
                </button>
                <template v-if="dimensionOf(group.field) && group.value !== ''">
                  <label class="inline">
                    <input
                      type="checkbox"
                      :checked="remembering[keyOf(group)] ?? true"
                      @change="
                        remembering[keyOf(group)] = ($event.target as HTMLInputElement).checked
                      "
                    />
                    remember
                  </label>
                  <button
                    v-if="group.code === 'unknown-code'"
                    type="button"
                    class="link"
                    :disabled="busy"
                    @click="emit('create', group.field, group.value)"
                  >
                    or make it a member
                  </button>
                </template>
              </form>
              <button
                v-else-if="open && group.taken"
                type="button"
                class="chip"
                :disabled="busy"
                @click="emit('repair', { leaveOut: [group.code] })"
              >
                Leave all of these out
              </button>
            </td>
          </tr>
        </tbody>
      </table>
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
.give select {
  max-width: 130px;
}
.text {
  width: 120px;
}
.inline {
  display: inline-flex;
  gap: 4px;
  align-items: center;
  font-size: 11.5px;
}
.taken .wide {
  color: var(--ink-quiet);
}
</style>
