<script setup lang="ts">
import { METHODS, type Dimension, type MethodCode } from '@dravex/core';
import { computed, ref, watch } from 'vue';
import { usePlan } from '../plan/use-plan.ts';
import { inWords, request } from '../shell/api.ts';
import { useFrame } from '../shell/use-frame.ts';

/** Streams for what is not sold yet: a stream for every combination of the members that are chosen. */
const shown = defineModel<boolean>({ required: true });
const emit = defineEmits<{ made: [scope: number[]] }>();
const plan = usePlan();
const { scope } = useFrame();

const dimensions = computed<readonly Dimension[]>(() => plan.workspace?.plan.dimensions ?? []);
/** Streams forecast leaves: members without others below them. */
const leavesOf = (dimension: Dimension) => {
  const parents = new Set(dimension.members.map(({ parent }) => parent));
  return plan.tree.inOrder(dimension).filter(({ id }) => !parents.has(id));
};
const chosen = ref<Record<string, number[]>>({});
const method = ref<MethodCode>('volumePrice');
const failure = ref('');
const busy = ref(false);
watch(
  shown,
  (open) => {
    if (!open) return;
    failure.value = '';
    // What the scope names already stands in the form.
    chosen.value = Object.fromEntries(
      dimensions.value.map((dimension) => {
        const leaves = leavesOf(dimension).map(({ id }) => id);
        return [dimension.code, leaves.filter((id) => scope.value.includes(id))];
      }),
    );
  },
  { immediate: true },
);
const count = computed(() =>
  dimensions.value.reduce((product, { code }) => product * (chosen.value[code]?.length ?? 0), 1),
);
/** Methods that need more than a name are set when the stream is there. */
const OFFERED = Object.values(METHODS).filter(({ code }) =>
  ['amount', 'volumePrice', 'marketShare', 'growthLastYear', 'growthPeriod'].includes(code),
);

/** Every combination, as codes by dimension. */
function combinations(): Record<string, string>[] {
  return dimensions.value.reduce<Record<string, string>[]>(
    (all, { code }) =>
      all.flatMap((members) =>
        (chosen.value[code] ?? []).map((id) => ({ ...members, [code]: plan.tree.member(id).code })),
      ),
    [{}],
  );
}
async function make(): Promise<void> {
  busy.value = true;
  failure.value = '';
  try {
    const streams = combinations().map((members) => ({ members, method: method.value }));
    const made = await plan.save(() =>
      request<{ streams: number }>('POST', plan.path('/streams'), { streams }),
    );
    await plan.inLine(plan.catchUp);
    plan.said = { text: `Made ${made.streams} streams; Ctrl+Z takes them back` };
    shown.value = false;
    // What was made is shown: its scope, where one member was chosen of a dimension.
    emit(
      'made',
      dimensions.value.flatMap(({ code }) => {
        const own = chosen.value[code] ?? [];
        return own.length === 1 ? own : [];
      }),
    );
  } catch (error) {
    plan.saving = 'saved';
    failure.value = inWords(error);
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <v-dialog v-model="shown" max-width="620">
    <form class="dialog-sheet" aria-labelledby="new-streams-title" @submit.prevent="make">
      <h2 id="new-streams-title">Streams for what is not sold yet</h2>
      <p class="quiet">
        Choose members of every dimension; each combination becomes a stream. A new product or
        region is added under Settings, Dimensions, first.
      </p>
      <div class="dimensions">
        <div v-for="dimension in dimensions" :key="dimension.code">
          <label :for="`new-${dimension.code}`">{{ dimension.name }}</label>
          <select :id="`new-${dimension.code}`" v-model="chosen[dimension.code]" multiple size="7">
            <option v-for="leaf in leavesOf(dimension)" :key="leaf.id" :value="leaf.id">
              {{ leaf.name }}
            </option>
          </select>
        </div>
      </div>
      <label for="new-method">Method</label>
      <select id="new-method" v-model="method">
        <option v-for="one in OFFERED" :key="one.code" :value="one.code">{{ one.name }}</option>
      </select>
      <p class="quiet">{{ METHODS[method].when }} It needs: {{ METHODS[method].needs }}</p>
      <p v-if="failure" class="failure" role="alert">{{ failure }}</p>
      <div class="buttons">
        <button class="primary" type="submit" :disabled="busy || count === 0">
          {{ count === 1 ? 'Make the stream' : `Make ${count} streams` }}
        </button>
        <button class="plain" type="button" @click="shown = false">Leave</button>
      </div>
    </form>
  </v-dialog>
</template>

<style scoped>
.dimensions {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(120px, 1fr));
  gap: 10px;
}
.dimensions select {
  width: 100%;
}
</style>
