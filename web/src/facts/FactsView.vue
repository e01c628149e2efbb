<script setup lang="ts">
import { factOperations, type BodyOf } from '@dravex/contract';
import { monthFrom, monthText, type Nature } from '@dravex/core';
import { computed } from 'vue';
import { DASH } from '../format/numbers.ts';
import { shortMonth, spanInWords } from '../format/periods.ts';
import SheetTable from '../kit/SheetTable.vue';
import ActualsPage from '../actuals/ActualsPage.vue';
import { usePlanner } from '../people/use-planner.ts';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { useWriting } from '../writing/use-writing.ts';

/** What happened besides sales: measured facts, and the ledger's history. */
const props = defineProps<{ kind: 'facts' | 'ledger' }>();
const planner = usePlanner();
const plan = usePlan();
const { minor, span, formats, unit } = useFrame();
const months = computed(() => ({ from: monthText(span.value.from), to: monthText(span.value.to) }));
const sources = [() => props.kind, months, () => plan.tick, () => plan.savedAt];
const facts = useAnswer(sources, async () =>
  props.kind === 'facts' ? plan.ask(factOperations.readFacts, months.value) : undefined,
);
const ledger = useAnswer(sources, async () =>
  props.kind === 'ledger' ? plan.ask(factOperations.readLedger, months.value) : undefined,
);
const { failure: refusal, write } = useWriting();
const failure = computed(() => refusal.value || facts.failure.value || ledger.failure.value);
const head = (month: string): string => shortMonth(monthFrom(month));
const number = (value: number | null): string =>
  value === null ? DASH : value.toLocaleString(plan.locale, { maximumFractionDigits: 2 });
const money = (cents: number): string =>
  formats.value.show(cents / minor.value, 'money', unit.value);

const NATURES: readonly { value: Nature; name: string }[] = [
  { value: 'flow', name: 'is added up' },
  { value: 'stock', name: 'takes the last month' },
  { value: 'ratio', name: 'is a ratio, never added' },
  { value: 'level', name: 'is set, never added' },
];
const KINDS = [
  { value: 'revenue', name: 'Revenue' },
  { value: 'expense', name: 'Expense' },
] as const;
const BEHAVIOURS = [
  { value: null, name: 'not set' },
  { value: 'fixed', name: 'fixed' },
  { value: 'variable', name: 'with revenue' },
] as const;
const NOTHING = {
  facts: 'market size, visits, quiz counts, scores, each by month',
  ledger: 'an account, a month, an amount',
} as const;

const headline = computed(() => {
  if (props.kind === 'facts') {
    const count = facts.data.value?.rows.length ?? 0;
    const measures = new Set(facts.data.value?.rows.map(({ measure }) => measure)).size;
    return count === 0
      ? 'No measures besides sales in this period'
      : `${measures} ${measures === 1 ? 'measure' : 'measures'} besides sales, in ${count} ${count === 1 ? 'row' : 'rows'}`;
  }
  const accounts = ledger.data.value?.accounts ?? [];
  if (accounts.length === 0) return 'No ledger history is imported yet';
  const revenue = accounts.filter(({ kind }) => kind === 'revenue');
  const total = revenue.reduce((sum, account) => sum + account.total, 0);
  return `The ledger has ${formats.value.inWords(total / minor.value)} revenue on ${revenue.length} of ${accounts.length} accounts`;
});
const state = computed(() => {
  const window = spanInWords(span.value);
  return props.kind === 'ledger'
    ? `${window}, ${formats.value.unitName(unit.value)}; revenue and expense both positive, shares of revenue`
    : window;
});

const natureOf = (code: string): Nature =>
  facts.data.value?.measures.find((measure) => measure.code === code)?.nature ?? 'flow';
const changeMeasure = (measure: string, nature: Nature) =>
  write(() => plan.ask(factOperations.changeMeasure, { measure }, { nature }));
const changeAccount = (account: string, change: BodyOf<typeof factOperations.changeAccount>) =>
  write(() => plan.ask(factOperations.changeAccount, { account }, change));
</script>

<template>
  <ActualsPage :heading="headline" :state="state" :failure="failure" :shows="['unit']">
    <div class="scroll" tabindex="0">
      <SheetTable
        v-if="kind === 'facts' && facts.data.value && facts.data.value.rows.length > 0"
        about="Measured facts"
      >
        <thead>
          <tr>
            <th scope="col" class="words">Measure</th>
            <th scope="col" class="words">For</th>
            <th v-for="month in facts.data.value.months" :key="month" scope="col">
              {{ head(month) }}
            </th>
            <th scope="col">Period</th>
            <th scope="col" class="words">Over time it</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in facts.data.value.rows" :key="`${row.measure} ${row.members.join()}`">
            <td class="words">{{ row.measure }}</td>
            <td class="words quiet">{{ plan.tree.label(row.members) }}</td>
            <td v-for="(value, place) in row.values" :key="place">{{ number(value) }}</td>
            <td>
              <b>{{ number(row.total) }}</b>
            </td>
            <td class="words">
              <v-select
                :model-value="natureOf(row.measure)"
                :items="NATURES"
                width="190"
                :disabled="!planner"
                :aria-label="`How ${row.measure} rolls up`"
                @update:model-value="changeMeasure(row.measure, $event)"
              />
            </td>
          </tr>
        </tbody>
      </SheetTable>
      <SheetTable
        v-else-if="kind === 'ledger' && ledger.data.value && ledger.data.value.accounts.length > 0"
        about="Accounts"
      >
        <thead>
          <tr>
            <th scope="col" class="words">Account</th>
            <th scope="col" class="words">Type</th>
            <th v-for="month in ledger.data.value.months" :key="month" scope="col">
              {{ head(month) }}
            </th>
            <th scope="col">Total</th>
            <th scope="col">Of revenue</th>
            <th scope="col" class="words">Behaviour</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="account in ledger.data.value.accounts" :key="account.code">
            <td class="words">
              {{ account.code }} <span class="quiet">{{ account.name }}</span>
            </td>
            <td class="words">
              <v-select
                :model-value="account.kind"
                :items="KINDS"
                width="110"
                :disabled="!planner"
                :aria-label="`Type of ${account.code}`"
                @update:model-value="changeAccount(account.code, { kind: $event })"
              />
            </td>
            <td v-for="(value, place) in account.values" :key="place">{{ money(value) }}</td>
            <td>
              <b>{{ money(account.total) }}</b>
            </td>
            <td>{{ formats.show(account.share, 'percent') }}</td>
            <td class="words">
              <v-select
                :model-value="account.behaviour"
                :items="BEHAVIOURS"
                width="130"
                :disabled="!planner"
                :aria-label="`Behaviour of ${account.code}`"
                @update:model-value="changeAccount(account.code, { behaviour: $event })"
              />
            </td>
          </tr>
        </tbody>
      </SheetTable>
      <p v-else class="quiet note">
        Import a file and choose this kind of data; it is shown here: {{ NOTHING[kind] }}.
      </p>
    </div>
  </ActualsPage>
</template>

<style scoped>
.scroll {
  flex: 1;
}
.note {
  padding: 16px 0;
}
</style>
