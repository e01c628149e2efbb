<script setup lang="ts">
import { factOperations } from '@dravex/contract';
import { monthText } from '@dravex/core';
import { computed, ref } from 'vue';
import ActualsPage from '../actuals/ActualsPage.vue';
import { spanInWords } from '../format/periods.ts';
import PlanGrid from '../grid/PlanGrid.vue';
import { inOrder, useRowOrder } from '../grid/use-order.ts';
import DialogSheet from '../kit/DialogSheet.vue';
import EmptyState from '../kit/EmptyState.vue';
import SheetTable from '../kit/SheetTable.vue';
import { usePlanner } from '../people/use-planner.ts';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { useWriting } from '../writing/use-writing.ts';
import {
  BEHAVIOURS,
  KINDS,
  ledgerColumns,
  ledgerRows,
  valueIn,
  type AccountChange,
} from './fact-rows.ts';

/** What accounts of the ledger came to, by month. */
const planner = usePlanner();
const plan = usePlan();
const { minor, span, formats, unit } = useFrame();
const { order, turnOrder, arrowOf } = useRowOrder();
const months = computed(() => ({ from: monthText(span.value.from), to: monthText(span.value.to) }));
const { data: ledger, failure } = useAnswer([months, () => plan.tick, () => plan.savedAt], () =>
  plan.ask(factOperations.readLedger, months.value),
);
const columns = computed(() =>
  ledger.value
    ? ledgerColumns(ledger.value).map((column) => ({ ...column, ...arrowOf(column.key) }))
    : [],
);
const rows = computed(() => {
  const all = ledger.value ? ledgerRows(ledger.value, formats.value, unit.value, minor.value) : [];
  const ordered = inOrder(all, order.value, (row, column) => valueIn(row, columns.value, column));
  return ordered.map((row) => ({ ...row, folded: false }));
});

const headline = computed(() => {
  const accounts = ledger.value?.accounts ?? [];
  if (accounts.length === 0) return 'No ledger history is imported yet';
  const revenue = accounts.filter(({ kind }) => kind === 'revenue');
  const total = revenue.reduce((sum, account) => sum + account.total, 0);
  return `The ledger has ${formats.value.inWords(total / minor.value)} revenue on ${revenue.length} of ${accounts.length} accounts`;
});
const state = computed(
  () =>
    `${spanInWords(span.value)}, ${formats.value.unitName(unit.value)}; revenue and expense both positive, shares of revenue`,
);

const choosing = ref(false);
const { failure: refusal, write } = useWriting();
const change = (account: string, to: AccountChange) =>
  write(() => plan.ask(factOperations.changeAccount, { account }, to));
const actions = computed(() =>
  planner.value ? [{ name: 'Types of accounts', act: () => (choosing.value = true) }] : [],
);
</script>

<template>
  <ActualsPage :heading="headline" :state="state" :failure="failure" :shows="['unit']">
    <template #menu>
      <v-list-item
        v-if="planner && rows.length > 0"
        role="menuitem"
        title="Types of accounts"
        @click="choosing = true"
      />
    </template>
    <div v-if="rows.length > 0" class="grid-place" data-grid="ledger">
      <PlanGrid
        label="Ledger"
        heading="Account"
        :about="state"
        :columns="columns"
        :rows="rows"
        :row-actions="() => actions"
        sortable
        untraced
        saves
        @order="turnOrder"
      />
    </div>
    <EmptyState v-else-if="ledger" heading="No ledger history in this period">
      <p>Import a file and choose this kind of data: an account, a month, an amount.</p>
    </EmptyState>
    <DialogSheet v-model="choosing" title="Types of accounts" :width="640">
      <SheetTable about="Accounts">
        <thead>
          <tr>
            <th scope="col" class="words">Account</th>
            <th scope="col" class="words">Type</th>
            <th scope="col" class="words">Behaviour</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="account in ledger?.accounts" :key="account.code">
            <th scope="row" class="words">
              {{ account.code }} <span class="quiet">{{ account.name }}</span>
            </th>
            <td class="words">
              <v-select
                :model-value="account.kind"
                :items="KINDS"
                width="130"
                :aria-label="`Type of ${account.code}`"
                @update:model-value="change(account.code, { kind: $event })"
              />
            </td>
            <td class="words">
              <v-select
                :model-value="account.behaviour"
                :items="BEHAVIOURS"
                width="150"
                :aria-label="`Behaviour of ${account.code}`"
                @update:model-value="change(account.code, { behaviour: $event })"
              />
            </td>
          </tr>
        </tbody>
      </SheetTable>
      <p v-if="refusal" class="failure" role="alert">{{ refusal }}</p>
      <template #actions>
        <v-btn color="primary" @click="choosing = false">Close</v-btn>
      </template>
    </DialogSheet>
  </ActualsPage>
</template>

<style scoped>
.grid-place {
  flex: 1;
  min-width: 0;
  min-height: 0;
}
</style>
