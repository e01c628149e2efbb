<script setup lang="ts">
import type { TargetDivision, TargetNode, TargetProposal } from '@dravex/contract';
import { BASES, type Basis } from '@dravex/core';
import { computed, ref, watch } from 'vue';
import { WORDS } from '../format/words.ts';
import { unitInWords } from '../grid/table-rows.ts';
import SheetTable from '../kit/SheetTable.vue';
import Term from '../kit/Term.vue';
import { inWords } from '../shell/api.ts';
import SidePanel from '../shell/SidePanel.vue';
import { useFrame } from '../shell/use-frame.ts';
import type { TargetSize } from './read-part.ts';
import { TEXTS } from './texts.ts';

/** Divides a target anew by a basis or a mix of them, or among those who stay when somebody leaves. */
const props = defineProps<{
  node: TargetNode;
  size: TargetSize;
  /** Whether the person leaves, and what is left is handed over. */
  leaving: boolean;
  propose: (node: TargetNode, division: TargetDivision) => Promise<TargetProposal>;
  take: (node: TargetNode, division: TargetDivision) => Promise<unknown>;
}>();
const emit = defineEmits<{ close: [] }>();
const { formats } = useFrame();

const NAMES: Readonly<Record<Basis, string>> = {
  equal: TEXTS.equal,
  lastYear: WORDS.lastYear,
  forecast: WORDS.forecast,
  capacity: TEXTS.capacity,
};
/** Several bases are a mix, by weights in percent. */
const chosen = ref<Basis[]>(['forecast']);
const weights = ref<Record<Basis, number>>({ equal: 50, lastYear: 50, forecast: 50, capacity: 50 });
const withCushion = ref(false);
const deep = ref(false);
const until = ref('');
const proposal = ref<TargetProposal>();
const failure = ref('');
const busy = ref(false);
watch(
  () => [props.node.id, props.leaving],
  () => {
    until.value = '';
    proposal.value = undefined;
  },
);

const division = computed<TargetDivision | undefined>(() => {
  const single = chosen.value.length === 1;
  const mix = Object.fromEntries(
    chosen.value.map((basis) => [basis, single ? 1 : weights.value[basis]]),
  );
  if (chosen.value.length === 0 || Object.values(mix).every((weight) => weight === 0)) {
    return undefined;
  }
  if (!props.leaving) {
    return { kind: 'divide', mix, withCushion: withCushion.value, deep: deep.value };
  }
  return until.value === '' ? undefined : { kind: 'handOver', until: until.value, mix };
});
let asked = 0;
async function ask(): Promise<void> {
  const now = division.value;
  asked += 1;
  const own = asked;
  if (!now) {
    proposal.value = undefined;
    return;
  }
  try {
    const answer = await props.propose(props.node, now);
    if (own !== asked) return;
    proposal.value = answer;
    failure.value = '';
  } catch (error) {
    if (own !== asked) return;
    proposal.value = undefined;
    failure.value = inWords(error);
  }
}
// What is there now is part of a proposal: a change of the target asks anew.
watch([division, () => props.node.amount], ask, { immediate: true, deep: true });

async function accept(): Promise<void> {
  const now = division.value;
  if (!now) return;
  busy.value = true;
  try {
    await props.take(props.node, now);
    emit('close');
  } finally {
    busy.value = false;
  }
}
const shown = (value: number): string =>
  formats.value.show(value / props.size.wholes, props.size.display, props.size.unit);
const change = (value: number): string =>
  value === 0
    ? '0'
    : formats.value.signed(value / props.size.wholes, props.size.display, props.size.unit);
const sums = computed(() => {
  const parts = proposal.value?.parts ?? [];
  const sum = (of: 'now' | 'then'): number => parts.reduce((all, part) => all + part[of], 0);
  return { now: sum('now'), then: sum('then') };
});
const isDeep = computed(() => deep.value && !props.leaving);
</script>

<template>
  <SidePanel
    :heading="leaving ? TEXTS.leaves(node.name) : TEXTS.divideOf(node.name)"
    :width="350"
    @close="emit('close')"
  >
    <p class="quiet">
      <template v-if="leaving">
        {{ TEXTS.targetAfterLastMonthIs }}
      </template>
      <template v-else>{{
        TEXTS.by(shown(node.amount), unitInWords(size.display, size.unit, formats))
      }}</template>
    </p>
    <v-text-field v-if="leaving" v-model="until" type="month" :label="WORDS.lastMonth" />
    <v-btn-toggle
      v-model="chosen"
      multiple
      density="compact"
      color="primary"
      :aria-label="TEXTS.divideBy"
    >
      <v-btn v-for="basis in BASES" :key="basis" :value="basis" size="small">
        {{ NAMES[basis] }}
      </v-btn>
    </v-btn-toggle>
    <div v-if="chosen.length > 1" class="weights">
      <template v-for="basis in BASES.filter((one) => chosen.includes(one))" :key="basis">
        <span>{{ NAMES[basis] }}</span>
        <v-slider
          v-model="weights[basis]"
          :aria-label="TEXTS.weightOf(NAMES[basis])"
          min="0"
          max="100"
          step="5"
          hide-details
          density="compact"
        />
        <span class="figure">{{ weights[basis] }}</span>
      </template>
    </div>
    <template v-if="!leaving">
      <v-checkbox
        v-if="node.cushion > 0"
        v-model="withCushion"
        :label="TEXTS.withCushionOfPercent(node.cushion)"
        density="compact"
        hide-details
      />
      <v-checkbox
        v-model="deep"
        :label="TEXTS.whatLiesBelowPartsToo"
        density="compact"
        hide-details
      />
    </template>
    <p v-if="failure" class="failure" role="alert">{{ failure }}</p>
    <SheetTable v-if="proposal" :about="TEXTS.proposal">
      <thead>
        <tr>
          <th scope="col">{{ TEXTS.part }}</th>
          <th scope="col">{{ TEXTS.now }}</th>
          <th scope="col">{{ TEXTS.proposal }}</th>
          <th scope="col">{{ WORDS.change }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="part in proposal.parts" :key="part.node">
          <td>
            {{ part.name }} <span v-if="part.locked" class="quiet">{{ TEXTS.locked }}</span>
          </td>
          <td>{{ shown(part.now) }}</td>
          <td class="strong">{{ shown(part.then) }}</td>
          <td :class="part.then < part.now ? 'bad' : part.then > part.now ? 'good' : ''">
            {{ change(part.then - part.now) }}
          </td>
        </tr>
      </tbody>
      <tfoot v-if="!isDeep">
        <tr>
          <td>{{ TEXTS.together }}</td>
          <td>{{ shown(sums.now) }}</td>
          <td class="strong">{{ shown(sums.then) }}</td>
          <td>{{ change(sums.then - sums.now) }}</td>
        </tr>
      </tfoot>
    </SheetTable>
    <p v-else-if="leaving && !failure" class="quiet">{{ TEXTS.chooseLastMonth }}</p>
    <div class="buttons">
      <v-btn color="primary" variant="flat" :disabled="!proposal" :loading="busy" @click="accept">
        {{ leaving ? TEXTS.handOver : TEXTS.useProposal }}
      </v-btn>
      <v-btn color="primary" @click="emit('close')">{{ WORDS.cancel }}</v-btn>
    </div>
    <p v-if="chosen.includes('capacity')" class="quiet">
      <Term of="capacity" /> {{ TEXTS.isEnteredForEachPerson }}
    </p>
  </SidePanel>
</template>

<style scoped>
.weights {
  display: grid;
  grid-template-columns: 70px 1fr 28px;
  align-items: center;
  gap: 2px 10px;
}
.weights .figure {
  text-align: right;
  font-variant-numeric: tabular-nums;
}
.strong,
tfoot td {
  font-weight: 650;
}
.buttons {
  display: flex;
  gap: 8px;
}
</style>
