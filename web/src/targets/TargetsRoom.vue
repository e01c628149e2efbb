<script setup lang="ts">
import type { TargetNode } from '@dravex/contract';
import { fiscalYearSpan, type TraceNode } from '@dravex/core';
import { computed, ref } from 'vue';
import { DASH } from '../format/numbers.ts';
import { longMonth } from '../format/periods.ts';
import { useSession } from '../people/use-session.ts';
import { usePlan } from '../plan/use-plan.ts';
import ScopeBar from '../shell/ScopeBar.vue';
import { useFrame } from '../shell/use-frame.ts';
import TracedFigure from '../trace/TracedFigure.vue';
import { useTrace } from '../trace/use-trace.ts';
import AddPart from './AddPart.vue';
import FigureInput from './FigureInput.vue';
import {
  explainActual,
  explainAttained,
  explainLastYear,
  explainNode,
  explainOutlook,
  type TargetTreeView,
} from './explain.ts';
import { readPart } from './read-part.ts';
import TargetBar from './TargetBar.vue';
import { useTargets } from './use-targets.ts';

const plan = usePlan();
const session = useSession();
const trace = useTrace();
const { formats, unit, scope, setScope, calendar } = useFrame();
const { tree, failure, fiscalYear, setObjective, setPart, add, remove } = useTargets();

const planner = computed(() => session.roleIn(plan.workspaceId) === 'planner');
const minor = computed(() => 10 ** (plan.workspace?.plan.currency.minorDigits ?? 2));
const nodes = computed(() => tree.value?.nodes ?? []);
const top = computed(() => nodes.value[0]);
const refusal = ref('');
const objective = ref('');
const addingTo = ref<TargetNode>();

const unassigned = computed(() =>
  nodes.value.reduce((sum, node) => sum + (node.unassigned ?? 0), 0),
);
const over = computed(() => nodes.value.reduce((sum, node) => sum + (node.overAssigned ?? 0), 0));

function money(cents: number | null): string {
  return cents === null ? DASH : formats.value.show(cents / minor.value, 'money', unit.value);
}
function words(cents: number): string {
  return formats.value.inWords(cents / minor.value);
}

const headline = computed(() => {
  const node = top.value;
  if (!node) return `FY ${fiscalYear.value} has no objective yet`;
  if (over.value > 0)
    return `${words(over.value)} more than the target of ${words(node.amount)} is handed out`;
  if (unassigned.value === 0) return `All of ${words(node.amount)} is with somebody`;
  return `${words(unassigned.value)} of ${words(node.amount)} are with nobody`;
});
const state = computed(
  () =>
    `Revenue target of FY ${fiscalYear.value}, in which the window ends, ${formats.value.unitName(unit.value)}; attainment to ${longMonth(plan.closedThrough)}, the tick is where the season says it should be`,
);

/** What follows a node in the table: what its parts leave or exceed, after its last descendant. */
const lines = computed(() => {
  const list: ({ node: TargetNode } | { of: TargetNode; unassigned: number; over: number })[] = [];
  const pending: TargetNode[] = [];
  const close = (level: number): void => {
    for (let last = pending.at(-1); last && last.level >= level; last = pending.at(-1)) {
      pending.pop();
      const left = last.unassigned ?? 0;
      const much = last.overAssigned ?? 0;
      if (left > 0 || much > 0) list.push({ of: last, unassigned: left, over: much });
    }
  };
  for (const node of nodes.value) {
    close(node.level);
    list.push({ node });
    if (node.unassigned !== null) pending.push(node);
  }
  close(0);
  return list;
});

async function take(node: TargetNode, text: string, asPercent: boolean): Promise<void> {
  const read = readPart(
    asPercent && !text.includes('%') ? `${text}%` : text,
    formats.value,
    minor.value,
  );
  if ('reason' in read) {
    refusal.value = `${node.name}: ${read.reason}. The old value stays.`;
    return;
  }
  refusal.value = '';
  if (node.parent === null) {
    if (read.part.kind === 'amount') await setPart(node, read.part);
    else refusal.value = 'The objective at the top is an amount. The old value stays.';
  } else await setPart(node, read.part);
}

async function begin(): Promise<void> {
  const read = readPart(objective.value, formats.value, minor.value);
  if ('reason' in read) refusal.value = read.reason;
  else if (read.part.kind === 'percent') refusal.value = 'The objective at the top is an amount';
  else {
    refusal.value = '';
    await setObjective(read.part.amount);
  }
}

function typedAmount(node: TargetNode): string {
  return formats.value.typed(node.amount / minor.value, false);
}
function typedPercent(node: TargetNode): string {
  if (node.part.kind === 'percent') return formats.value.typed(node.part.percent, false);
  return node.share === null
    ? ''
    : formats.value.typed(Number((node.share * 100).toFixed(4)), false);
}
const view = computed<TargetTreeView>(() => {
  const { fiscalStart } = calendar.value;
  const year = fiscalYearSpan(fiscalYear.value, fiscalStart);
  return {
    nodes: nodes.value,
    minor: minor.value,
    year,
    closed: { from: year.from, to: Math.min(year.to, plan.closedThrough) },
    before: fiscalYearSpan(fiscalYear.value - 1, fiscalStart),
  };
});
function told(node: TraceNode): { node: TraceNode; about: string } {
  return { node, about: `Revenue, ${formats.value.currency}, FY ${fiscalYear.value}` };
}
function show(node: TraceNode): void {
  trace.show(node, told(node).about);
}
</script>

<template>
  <section class="room">
    <ScopeBar :shows="['unit']" />
    <header class="room-head">
      <h1>{{ headline }}</h1>
      <p class="state">{{ state }}</p>
    </header>
    <p v-if="scope.length > 0" class="quiet">
      Targets follow the sales organisation, so the scope does not narrow them.
      <button class="link" type="button" @click="setScope([])">Lift the scope</button>
    </p>
    <p v-if="refusal || failure" class="failure" role="alert">{{ refusal || failure }}</p>
    <div v-if="tree && !top" class="empty">
      <h2>What shall FY {{ fiscalYear }} bring?</h2>
      <p>
        Set the year’s revenue objective in {{ formats.currency }}; then divide it to areas and
        people.
      </p>
      <form v-if="planner" class="controls" @submit.prevent="begin">
        <label for="objective">Objective</label>
        <input id="objective" v-model="objective" autocomplete="off" />
        <button class="primary" type="submit">Set it</button>
      </form>
      <p v-else class="quiet">Planners set it.</p>
    </div>
    <div
      v-else-if="tree"
      class="scroll"
      data-table="targets"
      tabindex="0"
      role="region"
      aria-label="Targets"
    >
      <table class="sheet-table">
        <thead>
          <tr>
            <th scope="col">Who</th>
            <th scope="col">Target</th>
            <th scope="col">Share</th>
            <th scope="col">Last year</th>
            <th scope="col">Forecast</th>
            <th scope="col">Actual</th>
            <th scope="col" colspan="2" class="attained">Attained</th>
            <th class="actions"><span class="hidden-but-read">Change</span></th>
          </tr>
        </thead>
        <tbody>
          <template
            v-for="line in lines"
            :key="'node' in line ? line.node.id : `rest ${line.of.id}`"
          >
            <tr
              v-if="'node' in line"
              :class="{ outer: line.node.level < 2, person: line.node.kind === 'person' }"
            >
              <td :style="{ paddingLeft: `${8 + line.node.level * 16}px` }">
                {{ line.node.name }}
              </td>
              <td>
                <FigureInput
                  :label="`Target of ${line.node.name}`"
                  :shown="money(line.node.amount)"
                  :typed="typedAmount(line.node)"
                  :own="line.node.part.kind === 'amount'"
                  :editable="planner"
                  @take="take(line.node, $event, false)"
                  @explain="show(explainNode(view, line.node))"
                />
              </td>
              <td>
                <FigureInput
                  v-if="line.node.parent !== null"
                  :label="`Share of ${line.node.name}`"
                  :shown="formats.show(line.node.share, 'percent')"
                  :typed="typedPercent(line.node)"
                  :own="line.node.part.kind === 'percent'"
                  :editable="planner"
                  @take="take(line.node, $event, true)"
                  @explain="show(explainNode(view, line.node))"
                />
              </td>
              <td class="quiet">
                <TracedFigure
                  :text="money(line.node.lastYear)"
                  :node="() => told(explainLastYear(view, line.node))"
                />
              </td>
              <td>
                <TracedFigure
                  :text="money(line.node.outlook)"
                  :node="() => told(explainOutlook(view, line.node))"
                />
              </td>
              <td>
                <TracedFigure
                  :text="money(line.node.actual)"
                  :node="() => told(explainActual(view, line.node))"
                />
              </td>
              <td class="bar"><TargetBar :attained="line.node.attained" :due="tree.due" /></td>
              <td>
                <TracedFigure
                  :text="formats.show(line.node.attained, 'percent')"
                  :node="() => told(explainAttained(view, line.node))"
                />
              </td>
              <td class="actions no-print">
                <template v-if="planner">
                  <button
                    v-if="line.node.kind !== 'person'"
                    type="button"
                    class="bare small"
                    :aria-label="`Add below ${line.node.name}`"
                    @click="addingTo = line.node"
                  >
                    + part
                  </button>
                  <button
                    v-if="line.node.parent !== null && line.node.unassigned === null"
                    type="button"
                    class="bare small"
                    :aria-label="`Take out ${line.node.name}`"
                    @click="remove(line.node)"
                  >
                    ×
                  </button>
                </template>
              </td>
            </tr>
            <tr v-else class="rest waits">
              <td :style="{ paddingLeft: `${24 + line.of.level * 16}px` }">
                {{ line.over > 0 ? 'Over-assigned' : 'Unassigned' }}
                <template v-if="line.of.percentsBelow > 100"
                  >: the percents add up to
                  {{ formats.show(line.of.percentsBelow / 100, 'percent') }}</template
                >
              </td>
              <td>{{ money(line.over > 0 ? line.over : line.unassigned) }}</td>
              <td>
                {{
                  line.of.amount > 0
                    ? formats.show(
                        (line.over > 0 ? line.over : line.unassigned) / line.of.amount,
                        'percent',
                      )
                    : DASH
                }}
              </td>
              <td colspan="6" />
            </tr>
          </template>
        </tbody>
      </table>
    </div>
    <AddPart v-model="addingTo" :formats="formats" :minor="minor" @add="add" />
  </section>
</template>

<style scoped>
.attained {
  text-align: left !important;
  padding-left: 20px;
}
.bar {
  width: 152px;
  padding-left: 20px !important;
}
.actions {
  width: 76px;
}
.small {
  font-size: 11.5px;
  color: var(--ink-quiet);
  min-width: 24px;
  min-height: 24px;
  padding: 0 4px;
}
.small:hover {
  color: var(--harbour);
}
tr.rest td {
  font-weight: 550;
}
form.controls {
  gap: 10px;
}
</style>
