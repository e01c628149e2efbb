<script setup lang="ts">
import { BASELINES, METHODS, type ProposedMethod } from '@dravex/core';
import { computed, onBeforeUnmount, ref } from 'vue';
import type { StreamLine } from '../computation/forecast-answers.ts';
import { usePlan } from '../plan/use-plan.ts';
import { inWords, request } from '../shell/api.ts';
import { useFrame } from '../shell/use-frame.ts';

/** A method for each of the streams from its own history, with the league as the reason. */
const props = defineProps<{ lines: readonly StreamLine[]; overrides: 'keep' | 'drop' }>();
const plan = usePlan();
const { formats } = useFrame();

interface Proposal extends ProposedMethod {
  readonly line: StreamLine;
}
const proposals = ref<Proposal[]>([]);
const chosen = ref<number[]>([]);
const trying = ref(false);
const failure = ref('');
let stopped = false;
onBeforeUnmount(() => (stopped = true));

/** Streams are tried a few at a time, so that the table answers in between. */
const AT_ONCE = 4;
async function propose(): Promise<void> {
  trying.value = true;
  stopped = false;
  failure.value = '';
  proposals.value = [];
  chosen.value = [];
  try {
    for (let start = 0; start < props.lines.length && !stopped; start += AT_ONCE) {
      const some = props.lines.slice(start, start + AT_ONCE);
      const found = await plan.compute().proposeMethods(some.map(({ stream }) => stream.id));
      for (const [place, line] of some.entries()) {
        const proposed = found[place];
        if (!proposed) continue;
        proposals.value.push({ ...proposed, line });
        if (!isSame(proposed, line)) chosen.value.push(line.stream.id);
      }
    }
  } catch (error) {
    failure.value = inWords(error);
  } finally {
    trying.value = false;
  }
}
const isSame = ({ method, settings }: ProposedMethod, { stream }: StreamLine): boolean =>
  method === stream.method && settings.baseline?.kind === stream.settings?.baseline?.kind;

/** Those of one method and kind are set at once. */
const groups = computed(() => {
  const found = new Map<string, Proposal[]>();
  for (const one of proposals.value) {
    if (!chosen.value.includes(one.stream)) continue;
    const { why: _, ...rest } = one.settings;
    const key = JSON.stringify([one.method, rest]);
    found.set(key, [...(found.get(key) ?? []), one]);
  }
  return [...found.values()];
});
async function take(): Promise<void> {
  failure.value = '';
  const count = chosen.value.length;
  try {
    await plan.save(async () => {
      for (const group of groups.value) {
        const [first] = group;
        if (!first) continue;
        const settings = { ...first.settings };
        if (group.length > 1) settings.why = 'Did best over the last twelve closed months';
        await request('PUT', plan.path('/streams/method'), {
          streams: group.map(({ stream }) => stream),
          method: first.method,
          settings,
          overrides: props.overrides,
        });
      }
    });
    plan.said = {
      text: `${count} streams are forecast as proposed; Ctrl+Z takes it back, a method at a time`,
    };
    proposals.value = [];
  } catch (error) {
    plan.saving = 'saved';
    failure.value = inWords(error);
  }
  await plan.inLine(plan.catchUp);
}
const leagueOf = ({ league }: Proposal): string =>
  league
    .map(({ kind, score, why }) =>
      why === ''
        ? `${BASELINES[kind].name} ${formats.value.show(score, 'price')}`
        : `${BASELINES[kind].name}: ${why}`,
    )
    .join('\n');
</script>

<template>
  <section aria-label="Proposals">
    <p>
      <button v-if="!trying" type="button" class="link" @click="propose">
        Propose a method for {{ lines.length === 1 ? 'it' : `each of ${lines.length}` }} from its
        history
      </button>
      <template v-else>
        <span role="status">Tried {{ proposals.length }} of {{ lines.length }}</span>
        {{ ' ' }}
        <button type="button" class="link" @click="stopped = true">stop</button>
      </template>
    </p>
    <p v-if="failure" class="failure" role="alert">{{ failure }}</p>
    <ul v-if="proposals.length > 0" tabindex="0" aria-label="Proposed methods">
      <li v-for="one in proposals" :key="one.stream">
        <label :title="leagueOf(one as Proposal)">
          <input v-model="chosen" type="checkbox" :value="one.stream" />
          <span>{{ one.line.label }}</span>
          <b>{{ METHODS[one.method].name }}</b>
          <span class="quiet why">{{ one.why }}</span>
        </label>
      </li>
    </ul>
    <button
      v-if="proposals.length > 0 && !trying"
      type="button"
      class="plain"
      :disabled="chosen.length === 0"
      @click="take"
    >
      Forecast {{ chosen.length }} as proposed
    </button>
  </section>
</template>

<style scoped>
ul {
  max-height: 190px;
  overflow: auto;
  margin: 4px 0;
  padding: 0;
  list-style: none;
}
label {
  display: grid;
  grid-template-columns: auto 1fr auto;
  gap: 1px 6px;
  padding: 3px 0;
  border-bottom: 1px solid var(--line-soft);
}
.why {
  grid-column: 2 / -1;
}
</style>
