<script setup lang="ts">
import type { Assignment, DimensionDetail } from '@dravex/contract';
import { computed, ref } from 'vue';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { request } from '../shell/api.ts';

/** Which customer belongs to which member, from a day on; files that do not say it follow this. */
const props = defineProps<{
  dimension: DimensionDetail;
  planner: boolean;
  busy: boolean;
  saving: (work: () => Promise<string>) => Promise<boolean>;
}>();
const plan = usePlan();
const path = computed(() => plan.path(`/dimensions/${props.dimension.code}/assignments`));
const { data } = useAnswer([() => plan.tick, () => plan.savedAt], () =>
  request<Assignment[]>('GET', path.value),
);
const SHOWN = 200;
const form = ref({ customer: '', member: '', from: '' });
const leaves = computed(() => {
  const parents = new Set(props.dimension.members.map(({ parent }) => parent));
  return props.dimension.members.filter(({ id }) => !parents.has(id));
});
const nameOf = (code: string): string =>
  props.dimension.members.find((member) => member.code === code)?.name ?? code;
async function assign(): Promise<void> {
  const { customer, member, from } = form.value;
  // Several at once: a list from a spreadsheet, one customer a line.
  const customers = customer
    .split(/[\n,;\t]+/)
    .map((text) => text.trim())
    .filter((text) => text !== '');
  const saved = await props.saving(async () => {
    await request('PUT', path.value, {
      assignments: customers.map((one) => ({ customer: one, member, from })),
    });
    return `${customers.join(', ')} belongs to ${nameOf(member)} from ${from}.`;
  });
  // What was typed on meanwhile stays.
  if (saved && form.value.customer === customer) form.value = { customer: '', member, from };
}
</script>

<template>
  <aside class="panel" aria-label="Customers">
    <h2>Customers</h2>
    <p class="quiet">
      Choose a member to change it. A customer can belong to a member from a day on: a file without
      a column for {{ dimension.name.toLowerCase() }} follows that.
    </p>
    <form v-if="planner" class="controls wrap" @submit.prevent="assign">
      <input v-model="form.customer" required placeholder="customer code" aria-label="Customer" />
      <select v-model="form.member" required aria-label="Belongs to">
        <option value="" disabled>belongs to …</option>
        <option v-for="member in leaves" :key="member.id" :value="member.code">
          {{ member.name }}
        </option>
      </select>
      <label class="inline">from <input v-model="form.from" type="date" required /></label>
      <button class="plain" type="submit" :disabled="busy">Assign</button>
    </form>
    <p v-if="data && data.length === 0" class="quiet">No customer is assigned yet.</p>
    <div v-else-if="data" class="scroll" tabindex="0">
      <table class="sheet-table" aria-label="Assigned customers">
        <thead>
          <tr>
            <th scope="col" class="words">Customer</th>
            <th scope="col" class="words">Belongs to</th>
            <th scope="col" class="words">From</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in data.slice(0, SHOWN)" :key="`${row.customer} ${row.from}`">
            <td class="words">{{ row.customer }}</td>
            <td class="words">{{ nameOf(row.member) }}</td>
            <td class="words">{{ row.from }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-if="data && data.length > SHOWN" class="quiet">The first {{ SHOWN }} are shown.</p>
  </aside>
</template>

<style scoped>
.panel {
  display: flex;
  flex-direction: column;
  gap: 8px;
  min-height: 0;
  padding-left: 20px;
  border-left: 1px solid var(--line);
}
.wrap {
  flex-wrap: wrap;
}
.inline {
  display: inline-flex;
  gap: 5px;
  align-items: center;
}
.scroll {
  overflow: auto;
}
</style>
