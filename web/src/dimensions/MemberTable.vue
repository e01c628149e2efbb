<script setup lang="ts">
import { mdiMagnify } from '@mdi/js';
import type { DimensionDetail } from '@dravex/contract';
import { computed, ref } from 'vue';
import { DASH } from '../format/numbers.ts';
import { WORDS } from '../format/words.ts';
import SheetTable from '../kit/SheetTable.vue';
import { usePlan } from '../plan/use-plan.ts';
import { TEXTS } from './texts.ts';

/** The members of a dimension as a tree; one of them can be selected. */
const selected = defineModel<number>({ required: true });
const props = defineProps<{ dimension: DimensionDetail }>();
const plan = usePlan();

const nameOf = (id: number | null): string =>
  props.dimension.members.find((member) => member.id === id)?.name ?? '';
const search = ref('');
const rows = computed(() => {
  const { members } = props.dimension;
  const parentOf = new Map(members.map(({ id, parent }) => [id, parent]));
  const depthOf = (parent: number | null): number =>
    parent === null ? 0 : 1 + depthOf(parentOf.get(parent) ?? null);
  const wanted = search.value.trim().toLowerCase();
  return members
    .filter(({ code, name }) => `${code} ${name}`.toLowerCase().includes(wanted))
    .map((member) => ({ member, depth: wanted === '' ? depthOf(member.parent) : 0 }));
});
</script>

<template>
  <v-text-field
    v-model="search"
    type="search"
    width="220"
    clearable
    :prepend-inner-icon="mdiMagnify"
    :placeholder="TEXTS.findMember"
    :aria-label="TEXTS.findMember"
  />
  <div class="scroll" tabindex="0">
    <SheetTable :about="TEXTS.membersOf(dimension.name)">
      <thead>
        <tr>
          <th scope="col" class="words">{{ TEXTS.member }}</th>
          <th scope="col" class="words">{{ TEXTS.code }}</th>
          <th scope="col">{{ WORDS.salesLines }}</th>
          <th scope="col" class="words">{{ TEXTS.valid }}</th>
          <th scope="col" class="words">{{ TEXTS.replaces }}</th>
          <th scope="col" class="words">{{ TEXTS.ledgerAccount }}</th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="{ member, depth } in rows"
          :key="member.id"
          :class="{ on: member.id === selected }"
        >
          <td class="words" :style="{ paddingLeft: `${8 + depth * 18}px` }">
            <v-btn
              variant="plain"
              :aria-expanded="member.id === selected"
              @click="selected = member.id === selected ? 0 : member.id"
            >
              {{ member.name }}
            </v-btn>
          </td>
          <td class="words quiet">{{ member.code }}</td>
          <td>
            {{ member.lines === 0 ? DASH : member.lines.toLocaleString(plan.locale) }}
          </td>
          <td class="words quiet">
            {{ member.validFrom ? TEXTS.from(member.validFrom) : '' }}
            {{ member.validTo ? TEXTS.to(member.validTo) : '' }}
          </td>
          <td class="words quiet">{{ nameOf(member.replaces) }}</td>
          <td class="words quiet">{{ member.account }}</td>
        </tr>
      </tbody>
    </SheetTable>
    <p v-if="rows.length === 0" class="quiet none">
      {{ TEXTS.noMemberContains(search) }}
      <v-btn variant="plain" @click="search = ''">{{ TEXTS.showAll }}</v-btn>
    </p>
  </div>
</template>

<style scoped>
.scroll {
  min-height: 120px;
}
.none {
  padding: 12px 8px;
}
tr.on td {
  background: var(--harbour-soft);
}
</style>
