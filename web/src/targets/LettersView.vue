<script setup lang="ts">
import type { TargetNode } from '@dravex/contract';
import type { Month } from '@dravex/core';
import { computed } from 'vue';
import { shortMonth } from '../format/periods.ts';
import { WORDS } from '../format/words.ts';
import { unitInWords } from '../grid/table-rows.ts';
import SheetTable from '../kit/SheetTable.vue';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import type { TargetSize } from './read-part.ts';
import { STATES } from './target-rows.ts';
import { TEXTS } from './texts.ts';

/** A printable page for each person: the target, its months, accounts and products. */
const props = defineProps<{
  nodes: readonly TargetNode[];
  size: TargetSize;
  objective: string;
  fiscalYear: number;
  /** The first month of the fiscal year. */
  start: Month;
}>();
const plan = usePlan();
const { formats } = useFrame();
const people = computed(() =>
  props.nodes
    .filter(({ kind }) => kind === 'person')
    .map((node) => ({
      node,
      team: props.nodes.find(({ id }) => id === node.parent),
      parts: props.nodes.filter(({ parent }) => parent === node.id),
    })),
);
/** A letter names amounts in full: nobody else's unit of display is known to who reads it. */
const shown = (value: number | null): string =>
  formats.value.show(value === null ? null : value / props.size.wholes, props.size.display);
const unit = computed(() => unitInWords(props.size.display, 1, formats.value));
const percent = (share: number | null): string => formats.value.show(share, 'percent');
</script>

<template>
  <p v-if="people.length === 0" class="quiet">{{ TEXTS.nobodyHasTargetYetAdd }}</p>
  <div v-else class="letters" tabindex="0" role="region" :aria-label="TEXTS.letters">
    <article v-for="{ node, team, parts } in people" :key="node.id" class="letter">
      <header>
        <h2>{{ node.name }}</h2>
        <p class="quiet">
          {{
            TEXTS.targetFy(
              plan.workspace?.name ?? '',
              objective.toLowerCase(),
              fiscalYear,
              team ? `, ${team.name}` : '',
              team?.manager,
              STATES[node.state],
            )
          }}
        </p>
      </header>
      <p class="target">
        <b>{{ shown(node.amount) }}</b> {{ unit }}
        <span class="quiet">
          {{ TEXTS.lastYear(shown(node.known ? node.lastYear : null), node.from, node.until) }}
        </span>
      </p>
      <div class="halves">
        <SheetTable v-if="node.months" :about="WORDS.months">
          <thead>
            <tr>
              <th scope="col">{{ WORDS.month }}</th>
              <th scope="col">{{ TEXTS.target }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(value, place) in node.months" :key="place">
              <td>{{ shortMonth(start + place, true) }}</td>
              <td>{{ shown(value) }}</td>
            </tr>
          </tbody>
          <tfoot>
            <tr class="total">
              <td>{{ TEXTS.year }}</td>
              <td>{{ shown(node.amount) }}</td>
            </tr>
          </tfoot>
        </SheetTable>
        <SheetTable v-if="parts.length > 0" :about="TEXTS.accountsAndProducts">
          <thead>
            <tr>
              <th scope="col">{{ TEXTS.accountProduct }}</th>
              <th scope="col">{{ TEXTS.target }}</th>
              <th scope="col">{{ TEXTS.share }}</th>
              <th scope="col">{{ WORDS.lastYear }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="part in parts" :key="part.id">
              <td>{{ part.name }}</td>
              <td>{{ shown(part.amount) }}</td>
              <td>{{ percent(part.share) }}</td>
              <td>{{ shown(part.known ? part.lastYear : null) }}</td>
            </tr>
          </tbody>
          <tfoot v-if="node.unassigned">
            <tr class="total">
              <td>{{ TEXTS.notDivided }}</td>
              <td>{{ shown(node.unassigned) }}</td>
              <td></td>
              <td></td>
            </tr>
          </tfoot>
        </SheetTable>
      </div>
    </article>
  </div>
</template>

<style scoped>
.letters {
  flex: 1;
  overflow: auto;
  min-height: 0;
}
.letter {
  background: var(--surface);
  border: 1px solid var(--line);
  padding: 28px 36px;
  margin-bottom: 16px;
  max-width: 860px;
}
.letter header p,
.target {
  margin: 2px 0 12px;
}
.target b {
  font-size: 20px;
}
.halves {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1.4fr);
  gap: 28px;
  align-items: start;
}
@media print {
  .letters {
    overflow: visible;
  }
  .letter {
    border: 0;
    padding: 0;
    break-after: page;
    max-width: none;
  }
}
</style>
