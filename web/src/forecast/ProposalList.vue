<script setup lang="ts">
import { forecastOperations } from '@dravex/contract';
import { BASELINES, METHODS, type ProposedMethod } from '@dravex/core';
import { computed, onBeforeUnmount, ref } from 'vue';
import type { StreamLine } from '../computation/forecast-answers.ts';
import { usePlan } from '../plan/use-plan.ts';
import { inWords } from '../shell/api.ts';
import { useFrame } from '../shell/use-frame.ts';
import { useWork } from '../writing/use-work.ts';
import { useWriting } from '../writing/use-writing.ts';
import { TEXTS } from './texts.ts';

/** A method for each of the streams from its own history, with the league as the reason. */
const props = defineProps<{ lines: readonly StreamLine[]; overrides: 'keep' | 'drop' }>();
const plan = usePlan();
const work = useWork();
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
    await work.during(TEXTS.tryingForecastMethods, async (said) => {
      said.stop = () => (stopped = true);
      for (let start = 0; start < props.lines.length && !stopped; start += AT_ONCE) {
        said.share = start / props.lines.length;
        const some = props.lines.slice(start, start + AT_ONCE);
        const found = await plan.compute().proposeMethods(some.map(({ stream }) => stream.id));
        for (const [place, line] of some.entries()) {
          const proposed = found[place];
          if (!proposed) continue;
          proposals.value.push({ ...proposed, line });
          if (!isSame(proposed, line)) chosen.value.push(line.stream.id);
        }
      }
    });
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
const { busy, failure: refused, write } = useWriting();
async function take(): Promise<void> {
  const count = chosen.value.length;
  await write(
    async () => {
      for (const group of groups.value) {
        const [first] = group;
        if (!first) continue;
        const settings = { ...first.settings };
        if (group.length > 1) settings.why = TEXTS.mostAccurateOverLastTwelve;
        await plan.ask(
          forecastOperations.setMethod,
          {},
          {
            streams: group.map(({ stream }) => stream),
            method: first.method,
            settings,
            overrides: props.overrides,
          },
        );
      }
    },
    () => {
      plan.said = { text: TEXTS.setProposedMethodOfForecast(count), undo: 'forecast' };
      proposals.value = [];
    },
  );
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
  <section :aria-label="TEXTS.proposals">
    <p>
      <v-btn v-if="!trying" variant="plain" @click="propose">
        {{ TEXTS.proposeMethodForFromIts(lines.length) }}
      </v-btn>
      <span v-else role="status">{{ TEXTS.triedOf(proposals.length, lines.length) }}</span>
    </p>
    <p v-if="failure || refused" class="failure" role="alert">{{ failure || refused }}</p>
    <ul v-if="proposals.length > 0" tabindex="0" :aria-label="TEXTS.proposedMethods">
      <li v-for="one in proposals" :key="one.stream" :title="leagueOf(one as Proposal)">
        <v-checkbox v-model="chosen" :value="one.stream">
          <template #label>
            {{ one.line.label }}:&nbsp;<b>{{ METHODS[one.method].name }}</b>
          </template>
        </v-checkbox>
        <p class="quiet">{{ one.why }}</p>
      </li>
    </ul>
    <v-btn
      v-if="proposals.length > 0 && !trying"
      color="primary"
      :disabled="chosen.length === 0"
      :loading="busy"
      @click="take"
    >
      {{ TEXTS.useProposals(chosen.length) }}
    </v-btn>
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
li {
  padding: 3px 0;
  border-bottom: 1px solid var(--line-soft);
}
li .quiet {
  padding-left: 28px;
}
</style>
