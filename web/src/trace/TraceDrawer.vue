<script setup lang="ts">
import { mdiArrowLeft } from '@mdi/js';
import { monthFrom, type TraceNode } from '@dravex/core';
import { computed, ref, watch } from 'vue';
import { useRoute } from 'vue-router';
import { whenInWords } from '../format/moments.ts';
import { longMonth } from '../format/periods.ts';
import Drawer from '../kit/Drawer.vue';
import { loadRecorded } from '../forecast/load-known.ts';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import TraceAssumptions from './TraceAssumptions.vue';
import TraceEntries from './TraceEntries.vue';
import TraceMissing from './TraceMissing.vue';
import TraceMovers from './TraceMovers.vue';
import TraceSales from './TraceSales.vue';
import { TEXTS } from './texts.ts';
import { useTrace } from './use-trace.ts';
import { numberInWords, operatorOf, questionInWords, shapeInWords } from './words.ts';

/** How a number came about, one step a line, down to where each input is set. */
const plan = usePlan();
const trace = useTrace();
const route = useRoute();
const { formats, addressOf } = useFrame();

const { data, failure } = useAnswer([() => trace.asked, () => plan.tick], async () => {
  const { asked } = trace;
  if (!asked) return undefined;
  if (asked.kind === 'node') return { node: asked.node, asked };
  const { question } = asked;
  if (question.kind === 'variance') await plan.loadSource(question.against);
  if (question.kind === 'table' || question.kind === 'measured') {
    await plan.loadSource(question.source);
    if (question.kind === 'measured') {
      await loadRecorded(plan, question.source, [question.measure]);
    }
  }
  return { node: await plan.compute().explain(question), asked };
});

const heading = computed(() => {
  const answer = data.value;
  if (!answer) return { title: '', about: '' };
  if (answer.asked.kind === 'node') {
    return { title: answer.node.label, about: answer.asked.about };
  }
  return questionInWords(answer.asked.question, {
    tree: plan.tree,
    drivers: plan.workspace?.plan.drivers ?? [],
    whole: plan.workspace?.name ?? '',
    versionName: (id) => plan.versions.find((version) => version.id === id)?.name ?? 'plan',
  });
});

interface Step {
  readonly node: TraceNode;
  readonly operator: string;
  readonly level: number;
}

/** A sum that can be asked for itself is not laid open here: it may have many parts. */
function isLaidOpen({ shape, question }: TraceNode): boolean {
  return shape === 'product' || shape === 'oneMinus' || (shape === 'sum' && question === undefined);
}
/** The parts of a number; of products their own parts too, so that a price is seen with its discount. */
const steps = computed<Step[]>(() => {
  const list: Step[] = [];
  const visit = (parent: TraceNode, level: number): void => {
    parent.parts.forEach((node, place) => {
      list.push({ node, operator: operatorOf(parent, place), level });
      if (isLaidOpen(node)) visit(node, level + 1);
    });
  };
  if (data.value) visit(data.value.node, 0);
  return list;
});

/** Products and differences have a sign before their parts; sums do without. */
const signed = computed(() => steps.value.some(({ operator }) => operator !== ''));

const SHOWN = 14;
const all = ref(false);
watch(
  () => trace.asked,
  () => (all.value = false),
);
const visible = computed(() => (all.value ? steps.value : steps.value.slice(0, SHOWN)));

const table = computed(() => {
  const question = data.value?.asked.kind === 'question' ? data.value.asked.question : undefined;
  return question?.kind === 'table' ? question : undefined;
});
const driver = computed(() => {
  const question = data.value?.asked.kind === 'question' ? data.value.asked.question : undefined;
  return question?.kind === 'driver' ? question : undefined;
});
const sales = computed(() => {
  const source = data.value?.node.source;
  if (source?.kind !== 'sales') return undefined;
  const { kind: _, ...which } = source;
  return which;
});
/** Entries of a version, of one cell or of all below a total. */
const version = computed(() => {
  const { question } = data.value?.asked.kind === 'question' ? data.value.asked : {};
  const asked = question?.kind === 'measured' ? question : table.value;
  return asked?.source.kind === 'version'
    ? { ...asked, version: asked.source.id, at: asked.source.at }
    : undefined;
});

function goDeeper(node: TraceNode): void {
  if (node.question && JSON.stringify(node.question) !== JSON.stringify(table.value)) {
    trace.deeper({ kind: 'question', question: node.question });
  } else if (node.source?.kind === 'sales' || node.parts.length > 0) {
    trace.deeper({ kind: 'node', node, about: heading.value.about });
  }
}
/** What was computed where something is typed over it. */
function showReplaced(node: TraceNode): void {
  trace.deeper({ kind: 'node', node, about: heading.value.about });
}
function canGo(node: TraceNode): boolean {
  const folded = node.parts.length > 0 && !isLaidOpen(node);
  return node.question !== undefined || node.source?.kind === 'sales' || folded;
}

/** A number of the forecast with an open month in it is moved by drivers. */
const moving = computed(() => {
  const question = table.value;
  if (question?.source.kind !== 'forecast' || question.span.to <= plan.closedThrough)
    return undefined;
  // Drivers move months; how a month lies in its weeks they do not.
  if (question.span.days) return undefined;
  return question.measure === 'units' || question.measure === 'revenue' ? question : undefined;
});

/** Who typed something, and when, where that is known. */
function typedBy({ by, at }: { readonly by: string; readonly at?: string | undefined }): string {
  if (by === '') return '';
  return TEXTS.by(by, at ? `, ${whenInWords(at, plan.locale)}` : '');
}
/** What a leaf rests on, in a few words below its name. */
function rests({ source }: TraceNode): string {
  switch (source?.kind) {
    case 'assumption': {
      const row = plan.assumptions.get(source.id);
      if (!row) return TEXTS.beingSaved;
      const where = row.scope.length > 0 ? plan.tree.label(row.scope) : 'everything';
      return TEXTS.inputFor(where, typedBy(row), row.note ? `, “${row.note}”` : '');
    }
    case 'adjustment': {
      const row = plan.adjustments.get(source.id);
      if (!row) return TEXTS.beingSaved;
      const where = row.scope.length > 0 ? plan.tree.label(row.scope) : 'everything';
      return TEXTS.changedFor(where, typedBy(row), row.note ? `, “${row.note}”` : '');
    }
    case 'default':
      return TEXTS.noInputDefaultValue;
    case 'missing':
      return 'missing';
    case 'measured':
      return TEXTS.measuredAs(source.measure);
    case 'typed':
      return `entered${typedBy(source)}`;
    case 'objective':
      return TEXTS.setInTargets;
    case 'keptForecast':
      return TEXTS.forecastWhenWasClosed(longMonth(monthFrom(source.month)));
    case 'cohorts':
      return TEXTS.fromCohortsOfSubscribers;
    case 'calendar':
      return TEXTS.daysOfCalendar;
    case 'written':
      return TEXTS.numberInFormula;
    case 'setting':
      return TEXTS.setWithMethod;
    case 'override':
      return TEXTS.manualOverride(typedBy(source), source.why ? `, “${source.why}”` : '');
    default:
      return '';
  }
}
/** Where what a leaf rests on is set, as an address; undefined where there is no such place. */
function placeOf({ source, question }: TraceNode): object | undefined {
  const to = (room: string, members: readonly number[], more: Record<string, string>): object => ({
    path: `/w/${plan.workspaceId}/${room}`,
    query: { ...route.query, ...addressOf(members), ...more },
  });
  const here = table.value?.scope ?? driver.value?.scope ?? [];
  switch (source?.kind) {
    case 'assumption': {
      const row = plan.assumptions.get(source.id);
      return row && to('drivers', row.scope, { driver: row.driver });
    }
    case 'adjustment': {
      const row = plan.adjustments.get(source.id);
      return row && to('drivers', row.scope, { driver: row.driver });
    }
    case 'default':
    case 'missing':
    case 'formula':
      return to('drivers', question?.scope ?? here, { driver: source.driver });
    case 'setting':
      return to('forecast', here, { panel: 'methods' });
    case 'override':
      return to('forecast', here, { panel: 'typed' });
    case 'objective':
      return to('targets', [], {});
    case 'measured':
      return to('actuals', source.scope, { view: 'facts' });
    default:
      return undefined;
  }
}
/** Money bears its currency, once, beside the number that is explained. */
const unit = computed(() => {
  const node = data.value?.node;
  return node?.display === 'money' && node.value !== null ? `\u00a0${formats.value.currency}` : '';
});
const missing = computed(() => data.value?.node.source?.kind === 'missing');
const firstMonth = computed(() =>
  driver.value ? monthFrom(driver.value.month) : (table.value?.span.from ?? 0),
);
</script>

<template>
  <Drawer :heading="TEXTS.trace" @close="trace.close()">
    <template #before>
      <v-btn
        v-if="trace.way.length > 1"
        variant="text"
        :icon="mdiArrowLeft"
        :aria-label="TEXTS.back"
        :title="TEXTS.back"
        @click="trace.back()"
      />
    </template>
    <header>
      <template v-if="data">
        <h3>{{ heading.title }}</h3>
        <p class="quiet">{{ heading.about }}</p>
        <p class="value figures" data-trace-value>
          {{ numberInWords(data.node, formats) }}<span class="unit">{{ unit }}</span>
        </p>
        <p v-if="data.node.replaces" class="quiet">
          {{ TEXTS.withoutThem(rests(data.node) || TEXTS.includesManualOverrides) }}
          <v-btn variant="plain" @click="showReplaced(data.node.replaces)">
            {{ numberInWords(data.node.replaces, formats) }}
          </v-btn>
        </p>
        <p v-else-if="data.node.parts.length === 0 && rests(data.node)" class="quiet">
          <RouterLink v-if="placeOf(data.node)" :to="placeOf(data.node) ?? ''">{{
            rests(data.node)
          }}</RouterLink>
          <template v-else>{{ rests(data.node) }}</template>
        </p>
        <TraceMissing
          v-if="data.node.incomplete && table"
          :scope="table.scope"
          :span="table.span"
        />
        <p v-else-if="data.node.incomplete" class="waits">
          {{ TEXTS.incompleteInputBelowIsMissing }}
        </p>
        <p v-if="missing" class="waits">{{ TEXTS.noInputIsSetHereSo }}</p>
      </template>
    </header>
    <p v-if="failure" class="failure" role="alert">{{ failure }}</p>
    <template v-if="data">
      <p v-if="shapeInWords(data.node)" class="quiet shape">{{ shapeInWords(data.node) }}</p>
      <!-- Its own list for every number: a click on a step never meets another one in its place. -->
      <ol v-if="steps.length > 0" :key="heading.title" class="steps">
        <li
          v-for="(step, index) in visible"
          :key="index"
          :class="{ deep: step.level > 0 }"
          :style="{ paddingLeft: `${step.level * 12}px` }"
        >
          <span v-if="signed" class="operator" aria-hidden="true">{{ step.operator }}</span>
          <span class="what">
            <v-btn v-if="canGo(step.node)" variant="plain" @click="goDeeper(step.node)">
              {{ step.node.label }}
            </v-btn>
            <template v-else>{{ step.node.label }}</template>
            <RouterLink
              v-if="placeOf(step.node)"
              class="rests"
              :to="placeOf(step.node) ?? ''"
              :aria-label="TEXTS.whereIsSet(rests(step.node) || TEXTS.setHere, step.node.label)"
              >{{ rests(step.node) || TEXTS.whereItIsSet }}</RouterLink
            >
            <span v-else-if="rests(step.node)" class="quiet rests">{{ rests(step.node) }}</span>
          </span>
          <span class="figures" :class="{ waits: step.node.value === null }">
            {{ numberInWords(step.node, formats) }}
          </span>
        </li>
      </ol>
      <v-btn v-if="steps.length > visible.length" variant="plain" @click="all = true">
        {{ TEXTS.more(steps.length - visible.length) }}
      </v-btn>
      <TraceAssumptions
        v-if="driver"
        :driver="driver.driver"
        :scope="driver.scope"
        :month="firstMonth"
      />
      <TraceEntries
        v-if="version"
        :version="version.version"
        :at="version.at"
        :scope="version.scope"
        :span="version.span"
        :measure="version.measure"
      />
      <TraceMovers v-if="moving" :question="moving" />
      <TraceSales v-if="sales" v-bind="sales" />
      <p v-if="data.node.source?.kind === 'nothing'" class="quiet">
        {{ TEXTS.noSalesPlanOrForecast }}
      </p>
    </template>
  </Drawer>
</template>

<style scoped>
.value {
  margin: 6px 0 4px;
  font-size: 21px;
  font-weight: 650;
  line-height: 1.15;
}
.unit {
  font-size: 14px;
}
.shape {
  margin: 6px 0 4px;
}
.steps li {
  display: flex;
  gap: 8px;
  align-items: baseline;
}
.steps li.deep {
  color: var(--ink-quiet);
}
.operator {
  flex: none;
  width: 20px;
  color: var(--ink-quiet);
}
.what {
  flex: 1;
  min-width: 0;
}
.rests {
  display: block;
  font-size: 11.5px;
}
</style>
