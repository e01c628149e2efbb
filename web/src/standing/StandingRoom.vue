<script setup lang="ts">
import type { TraceNode } from '@dravex/core';
import { computed } from 'vue';
import { useRoute } from 'vue-router';
import { DASH } from '../format/numbers.ts';
import { longMonth, spanInWords } from '../format/periods.ts';
import { usePlan } from '../plan/use-plan.ts';
import ScopeBar from '../shell/ScopeBar.vue';
import { useFrame } from '../shell/use-frame.ts';
import { differenceOf } from '../trace/nodes.ts';
import TracedFigure from '../trace/TracedFigure.vue';
import { standingHeadline } from './headline.ts';
import StandingBar from './StandingBar.vue';
import {
  offOf,
  useStanding,
  useWaiting,
  type BiggestChange,
  type StandingLine,
} from './use-standing.ts';

/** The first thing in the morning: where we stand, what waits, what moved. */
const plan = usePlan();
const route = useRoute();
const { formats, unit, subjectOf } = useFrame();
const { data, failure } = useStanding();
const waiting = useWaiting();

const headline = computed(() =>
  data.value ? standingHeadline(data.value, subjectOf(data.value.scope), formats.value) : '',
);
const state = computed(() => {
  const found = data.value;
  if (!found) return '';
  return `Revenue, ${formats.value.unitName(unit.value)}, FY ${found.fiscalYear}, in which the window ends; closed through ${longMonth(plan.closedThrough)}; base scenario`;
});
function money(value: number | null): string {
  return formats.value.show(value, 'money', unit.value);
}
function off(line: StandingLine): { text: string; bad: boolean } {
  const share = offOf(line);
  return {
    text: share === null ? DASH : formats.value.signed(share, 'percent'),
    bad: share !== null && share < -0.0005,
  };
}
/** How far off a line is, from its two sides. */
function offNode(line: StandingLine): { node: TraceNode; about: string } {
  const now = { label: line.what, value: line.now, question: line.nowQuestion };
  const should = { label: line.shouldName, value: line.should, question: line.shouldQuestion };
  const about = `Revenue, ${spanInWords(line.span)}`;
  return { node: differenceOf(`Off ${line.shouldName} by`, now, should), about };
}
function changeNode(change: BiggestChange): { node: TraceNode; about: string } {
  const { now, before } = data.value?.moved ?? { now: 0, before: 0 };
  const { question } = change;
  const then =
    question.kind === 'table' ? { ...question, span: { from: before, to: before } } : question;
  return {
    node: differenceOf(
      `${change.label}, ${change.where}`,
      { label: longMonth(now), value: change.now, question },
      { label: longMonth(before), value: change.before, question: then },
    ),
    about: `Revenue, ${longMonth(now)} less ${longMonth(before)}`,
  };
}
</script>

<template>
  <section class="room">
    <ScopeBar :shows="['version', 'unit']" />
    <header class="room-head">
      <h1>{{ headline }}</h1>
      <p class="state">{{ state }}</p>
    </header>
    <p v-if="failure" class="failure" role="alert">{{ failure }}</p>
    <div v-if="data" class="scroll" tabindex="0" role="region" aria-label="Standing">
      <div v-if="data.lines.length === 0" class="empty">
        <h2>Nothing to hold it against</h2>
        <p>
          Keep a budget for this year or set its objective; then you see here how far off it is.
        </p>
        <RouterLink
          class="chip"
          :to="{ path: `/w/${plan.workspaceId}/budget`, query: route.query }"
        >
          Go to Budget
        </RouterLink>
      </div>
      <table v-else class="sheet-table standing" data-table="standing">
        <thead>
          <tr>
            <th scope="col">What</th>
            <th scope="col" class="words">Period</th>
            <th scope="col">Now</th>
            <th scope="col" class="words mark">where it is | where it should be</th>
            <th scope="col">Should be</th>
            <th scope="col" class="words">by</th>
            <th scope="col">Off by</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="line in data.lines" :key="line.key">
            <td>{{ line.what }}</td>
            <td class="words quiet">{{ spanInWords(line.span) }}</td>
            <td class="now">
              <TracedFigure :text="money(line.now)" :question="line.nowQuestion" />
            </td>
            <td class="mark">
              <StandingBar :now="line.now" :should="line.should" :forecast="line.forecast" />
            </td>
            <td>
              <TracedFigure
                v-if="line.shouldQuestion"
                :text="money(line.should)"
                :question="line.shouldQuestion"
              />
              <RouterLink
                v-else
                class="plain-link"
                :to="{ path: `/w/${plan.workspaceId}/targets`, query: route.query }"
                >{{ money(line.should) }}</RouterLink
              >
            </td>
            <td class="words quiet">{{ line.shouldName }}</td>
            <td :class="off(line).bad ? 'bad' : 'good'">
              <span v-if="off(line).bad" class="diamond" role="img" aria-label="bad:">◇</span>
              <TracedFigure :text="off(line).text" :node="() => offNode(line)" />
            </td>
          </tr>
        </tbody>
      </table>
      <div class="halves">
        <section aria-labelledby="waits-title">
          <h2 id="waits-title">What waits</h2>
          <ul v-if="waiting.data.value?.length" class="waiting" data-waiting>
            <li v-for="item in waiting.data.value" :key="item.text">
              <RouterLink
                :to="{
                  path: `/w/${plan.workspaceId}/${item.room}`,
                  query: { ...route.query, ...item.query },
                }"
                >{{ item.text }}</RouterLink
              >
            </li>
          </ul>
          <p v-else-if="waiting.data.value" class="quiet">Nothing waits for anybody.</p>
        </section>
        <section v-if="data.changes.length > 0" aria-labelledby="changes-title">
          <h2 id="changes-title">What moved most</h2>
          <p class="quiet">
            {{ longMonth(data.moved.now) }} against {{ longMonth(data.moved.before) }}
          </p>
          <table class="sheet-table">
            <tbody>
              <tr v-for="change in data.changes" :key="change.key">
                <td>
                  {{ change.label }} <span class="quiet">{{ change.where }}</span>
                </td>
                <td><TracedFigure :text="money(change.now)" :question="change.question" /></td>
                <td :class="change.now < change.before ? 'bad' : 'good'">
                  <span
                    v-if="change.now < change.before"
                    class="diamond"
                    role="img"
                    aria-label="bad:"
                    >◇</span
                  >
                  <TracedFigure
                    :text="formats.signed(change.now - change.before, 'money', unit)"
                    :node="() => changeNode(change)"
                  />
                </td>
              </tr>
            </tbody>
          </table>
        </section>
      </div>
    </div>
  </section>
</template>

<style scoped>
.standing td {
  height: 36px;
}
.now {
  font-weight: 620;
}
.mark {
  width: 280px;
}
.plain-link {
  color: inherit;
  text-decoration: none;
}
.plain-link:hover {
  text-decoration: underline dotted;
}
.halves {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 32px;
  margin-top: 22px;
}
.waiting {
  list-style: none;
  margin: 6px 0 0;
  padding: 0;
  border-top: 1px solid var(--ink);
}
.waiting li {
  padding: 6px 0;
  border-bottom: 1px solid var(--line);
}
.waiting a {
  color: var(--ember-ink);
}
.diamond {
  font-size: 11px;
  margin-right: 2px;
}
@media (max-width: 1100px) {
  .halves {
    grid-template-columns: 1fr;
  }
}
</style>
