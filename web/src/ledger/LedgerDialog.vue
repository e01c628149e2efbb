<script setup lang="ts">
import {
  accountScopesSchema,
  ledgerBudgetOperations,
  MOST_ACCOUNT_SCOPES,
  type LedgerBudget,
  type Version,
} from '@dravex/contract';
import { inAll, monthFrom, monthText } from '@dravex/core';
import { mdiClose } from '@mdi/js';
import { computed, watch } from 'vue';
import { DASH } from '../format/numbers.ts';
import { spanInWords } from '../format/periods.ts';
import { WORDS } from '../format/words.ts';
import FormDialog from '../kit/FormDialog.vue';
import SheetTable from '../kit/SheetTable.vue';
import { useAnswer } from '../plan/use-answer.ts';
import { useMembers } from '../plan/use-members.ts';
import { usePlan } from '../plan/use-plan.ts';
import { addressOf } from '../shell/client.ts';
import { useFrame } from '../shell/use-frame.ts';
import { useForm } from '../writing/use-form.ts';
import { useSaving } from '../writing/use-saving.ts';
import { TEXTS } from './texts.ts';

/** On which accounts sales are booked, and the version by account beside the books. */
const shown = defineModel<boolean>({ required: true });
const props = defineProps<{ version: Version; editable: boolean }>();
const plan = usePlan();
const members = useMembers();
const { span, unit, minor, formats } = useFrame();

const months = computed(() => {
  const own = { from: monthFrom(props.version.from), to: monthFrom(props.version.to) };
  return inAll([span.value, own]) ?? own;
});
const window = computed(() => ({
  from: monthText(months.value.from),
  to: monthText(months.value.to),
}));
const watched = [shown, window, () => props.version.lastEntry, () => plan.savedAt];
const { data: kept } = useAnswer(watched, () =>
  shown.value ? plan.ask(ledgerBudgetOperations.readAccountScopes, {}) : Promise.resolve(undefined),
);
const { data: budget, failure: unread } = useAnswer(watched, () =>
  shown.value
    ? plan.ask(ledgerBudgetOperations.readLedgerBudget, {
        versionId: props.version.id,
        ...window.value,
      })
    : Promise.resolve(undefined),
);
const { form, wrong, submit, begin, busy, failure } = useForm({
  of: () => String(shown.value),
  fresh: () => ({
    accounts: (kept.value?.accounts ?? []).map(({ scope, account }) => ({
      scope: [...scope],
      account,
    })),
  }),
  schema: accountScopesSchema,
  send: async (body) => {
    await plan.ask(ledgerBudgetOperations.putAccountScopes, {}, body);
    plan.said = { text: TEXTS.accountsOfSalesAreSaved, undo: 'budget' };
  },
});
watch(shown, (open) => open && begin());
const money = (value: number | null): string =>
  value === null ? DASH : formats.value.show(value / minor.value, 'money', unit.value);
const sumOf = (values: readonly (number | null)[]): number | null =>
  values.every((value) => value === null)
    ? null
    : values.reduce<number>((sum, value) => sum + (value ?? 0), 0);
/** Of the months that the books have: what is compared. */
const booked = (values: readonly (number | null)[]): (number | null)[] =>
  values.filter((_, at) => budget.value?.booked[at]);
const STATES = {
  both: '',
  budgetOnly: TEXTS.notInBooks,
  booksOnly: TEXTS.notInBudget,
} as const;
const rows = computed(() =>
  (budget.value?.accounts ?? []).map(({ account, name, budget: planned, books, ...one }) => ({
    ...{ account, name: name === account ? '' : name },
    year: money(sumOf(planned)),
    planned: money(sumOf(booked(planned))),
    books: money(sumOf(booked(books))),
    difference: budget.value?.booked.some(Boolean)
      ? formats.value.signed(one.difference / minor.value, 'money', unit.value)
      : DASH,
    state: STATES[one.state],
  })),
);
const restInWords = (
  { total, lines, members: first }: LedgerBudget['without'],
  what: string,
): string =>
  lines === 0
    ? ''
    : TEXTS.inLinesAreOn(
        formats.value.inWords(total / minor.value),
        lines,
        what,
        first
          .slice(0, 3)
          .map((ids) => plan.tree.label(ids))
          .join('; '),
      );
const rest = computed(() => {
  const { without, unclear } = budget.value ?? {};
  return [
    ...(without ? [restInWords(without, TEXTS.noAccount)] : []),
    ...(unclear ? [restInWords(unclear, TEXTS.twoAccountsAddOneFor)] : []),
  ].filter((text) => text !== '');
});
const bookedInWords = computed(() => {
  const has = budget.value?.booked.filter(Boolean).length ?? 0;
  if (has === 0) return TEXTS.booksHaveNoneOfThese;
  return TEXTS.booksAndDifferenceAreOf(has);
});
const save = useSaving();
const FILES = [
  { format: 'csv', name: WORDS.saveAsCsv },
  { format: 'xlsx', name: WORDS.saveAsWorkbook },
] as const;
const fileAs = (format: 'csv' | 'xlsx'): string =>
  `/api${addressOf(ledgerBudgetOperations.saveLedgerBudget, {
    ...{ workspaceId: plan.workspaceId, versionId: props.version.id, format },
    ...window.value,
  })}`;
</script>

<template>
  <FormDialog
    v-model="shown"
    :title="TEXTS.budgetByLedgerAccount"
    :action="editable ? TEXTS.saveAccounts : WORDS.close"
    :busy="busy"
    :failure="failure || unread"
    :width="760"
    @submit="editable ? submit() : (shown = false)"
  >
    <p class="quiet">{{ TEXTS.revenue(version.name, spanInWords(months)) }}</p>
    <div v-for="(one, place) in form.accounts" :key="place" class="rule">
      <v-autocomplete
        v-model="one.scope"
        :label="TEXTS.salesOfEmptyEverything(place + 1)"
        :items="members"
        item-value="id"
        multiple
        chips
        closable-chips
        :readonly="!editable"
        :error-messages="wrong(`accounts.${place}.scope`)"
      />
      <v-text-field
        v-model="one.account"
        :label="TEXTS.accountOf(place + 1)"
        autocomplete="off"
        :readonly="!editable"
        :error-messages="wrong(`accounts.${place}.account`)"
      />
      <v-btn
        v-if="editable"
        variant="text"
        :icon="mdiClose"
        :aria-label="TEXTS.removeAccount(place + 1)"
        @click="form.accounts.splice(place, 1)"
      />
    </div>
    <p v-if="form.accounts.length === 0" class="quiet">
      {{ TEXTS.noAccountIsSetHere }}
    </p>
    <v-btn
      v-if="editable && form.accounts.length < MOST_ACCOUNT_SCOPES"
      variant="plain"
      @click="form.accounts.push({ scope: [], account: '' })"
    >
      {{ TEXTS.addAnAccount }}
    </v-btn>
    <SheetTable v-if="rows.length > 0" class="dense">
      <thead>
        <tr>
          <th scope="col">{{ TEXTS.account }}</th>
          <th scope="col" class="figure">{{ WORDS.budget }}</th>
          <th scope="col" class="figure">{{ TEXTS.budgetSoFar }}</th>
          <th scope="col" class="figure">{{ TEXTS.books }}</th>
          <th scope="col" class="figure">{{ WORDS.difference }}</th>
          <th scope="col"></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row.account">
          <th scope="row">
            {{ row.account }} <span class="quiet">{{ row.name }}</span>
          </th>
          <td class="figure">{{ row.year }}</td>
          <td class="figure">{{ row.planned }}</td>
          <td class="figure">{{ row.books }}</td>
          <td class="figure">{{ row.difference }}</td>
          <td class="quiet">{{ row.state }}</td>
        </tr>
      </tbody>
    </SheetTable>
    <p v-for="text in rest" :key="text" class="waits">{{ text }}</p>
    <p v-if="budget" class="quiet foot">
      <span>{{ bookedInWords }}</span>
      <v-btn
        v-for="{ format, name } in FILES"
        :key="format"
        variant="plain"
        @click="void save(name, fileAs(format))"
      >
        {{ name }}
      </v-btn>
    </p>
  </FormDialog>
</template>

<style scoped>
.rule {
  display: grid;
  grid-template-columns: 1fr 200px 36px;
  gap: 12px;
  align-items: start;
}
.foot {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
}
</style>
