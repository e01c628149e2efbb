<script setup lang="ts">
import { factOperations } from '@dravex/contract';
import { monthText } from '@dravex/core';
import { computed } from 'vue';
import { spanInWords } from '../format/periods.ts';
import { inOrder, useRowOrder } from '../grid/use-order.ts';
import EmptyState from '../kit/EmptyState.vue';
import SheetTable from '../kit/SheetTable.vue';
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
import FactTable from './FactTable.vue';
import { TEXTS } from './texts.ts';

/** What accounts of the ledger came to, by month. */
const plan = usePlan();
const { minor, span, formats, unit } = useFrame();
const { order, turnOrder, arrowOf } = useRowOrder();
const months = computed(() => ({ from: monthText(span.value.from), to: monthText(span.value.to) }));
const { data: ledger, failure } = useAnswer([months, () => plan.tick, () => plan.savedAt], () =>
  plan.ask(factOperations.readLedger, months.value),
);
const columns = computed(() => (ledger.value ? ledgerColumns(ledger.value, arrowOf) : []));
const rows = computed(() => {
  const all = ledger.value ? ledgerRows(ledger.value, formats.value, unit.value, minor.value) : [];
  const ordered = inOrder(all, order.value, (row, column) => valueIn(row, columns.value, column));
  return ordered.map((row) => ({ ...row, folded: false }));
});

const headline = computed(() => {
  const accounts = ledger.value?.accounts ?? [];
  if (accounts.length === 0) return TEXTS.noLedgerHistoryIsImported;
  const revenue = accounts.filter(({ kind }) => kind === 'revenue');
  const total = revenue.reduce((sum, account) => sum + account.total, 0);
  return TEXTS.ledgerHasRevenueOnOf(
    formats.value.inWords(total / minor.value),
    revenue.length,
    accounts.length,
  );
});
const state = computed(() =>
  TEXTS.revenueAndExpenseBothPositive(spanInWords(span.value), formats.value.unitName(unit.value)),
);
const { failure: refusal, write } = useWriting();
const change = (account: string, to: AccountChange) =>
  write(() => plan.ask(factOperations.changeAccount, { account }, to));
</script>

<template>
  <FactTable
    :heading="headline"
    :state="state"
    :failure="failure"
    :shows="['unit']"
    :label="TEXTS.ledger"
    :rows-are="TEXTS.account"
    :columns="columns"
    :rows="rows"
    :findable="rows"
    :meaning="TEXTS.typesOfAccounts"
    :refusal="refusal"
    :width="640"
    @order="turnOrder"
  >
    <template #empty>
      <EmptyState v-if="ledger" :heading="TEXTS.noLedgerHistoryInThis">
        <p>{{ TEXTS.importFileAndChooseThisKind }}</p>
      </EmptyState>
    </template>
    <SheetTable :about="TEXTS.accounts">
      <thead>
        <tr>
          <th scope="col" class="words">{{ TEXTS.account }}</th>
          <th scope="col" class="words">{{ TEXTS.type }}</th>
          <th scope="col" class="words">{{ TEXTS.behaviour }}</th>
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
              :aria-label="TEXTS.typeOf(account.code)"
              @update:model-value="change(account.code, { kind: $event })"
            />
          </td>
          <td class="words">
            <v-select
              :model-value="account.behaviour"
              :items="BEHAVIOURS"
              width="150"
              :aria-label="TEXTS.behaviourOf(account.code)"
              @update:model-value="change(account.code, { behaviour: $event })"
            />
          </td>
        </tr>
      </tbody>
    </SheetTable>
  </FactTable>
</template>
