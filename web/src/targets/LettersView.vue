<script setup lang="ts">
import type { TargetNode } from '@dravex/contract';
import type { Month } from '@dravex/core';
import { computed } from 'vue';
import { shortMonth } from '../format/periods.ts';
import { unitInWords } from '../grid/table-rows.ts';
import SheetTable from '../kit/SheetTable.vue';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import type { TargetSize } from './read-part.ts';
import { STATES } from './target-rows.ts';

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
  <p v-if="people.length === 0" class="quiet">Nobody has a target yet; add people below a team.</p>
  <div v-else class="letters" tabindex="0" role="region" aria-label="Letters">
    <article v-for="{ node, team, parts } in people" :key="node.id" class="letter">
      <header>
        <h2>{{ node.name }}</h2>
        <p class="quiet">
          {{ plan.workspace?.name }}, {{ objective.toLowerCase() }} target FY {{ fiscalYear
          }}{{ team ? `, ${team.name}` : ''
          }}{{ team?.manager ? `, manager ${team.manager}` : '' }}; {{ STATES[node.state] }}
        </p>
      </header>
      <p class="target">
        <b>{{ shown(node.amount) }}</b> {{ unit }}
        <span class="quiet">
          last year {{ shown(node.known ? node.lastYear : null)
          }}{{ node.from ? `; from ${node.from}` : '' }}{{ node.until ? `; to ${node.until}` : '' }}
        </span>
      </p>
      <div class="halves">
        <SheetTable v-if="node.months" about="Months">
          <thead>
            <tr>
              <th scope="col">Month</th>
              <th scope="col">Target</th>
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
              <td>Year</td>
              <td>{{ shown(node.amount) }}</td>
            </tr>
          </tfoot>
        </SheetTable>
        <SheetTable v-if="parts.length > 0" about="Accounts and products">
          <thead>
            <tr>
              <th scope="col">Account, product</th>
              <th scope="col">Target</th>
              <th scope="col">Share</th>
              <th scope="col">Last year</th>
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
              <td>Not divided</td>
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
