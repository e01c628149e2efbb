<script setup lang="ts">
import type { Facts, Ledger, Subscribers } from '@dravex/contract';
import { monthFrom, monthText, type Nature } from '@dravex/core';
import { computed, ref } from 'vue';
import { longMonth, shortMonth, spanInWords } from '../format/periods.ts';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { inWords, request } from '../shell/api.ts';
import { useFrame } from '../shell/use-frame.ts';

/** What happened besides sales: measured facts, subscribers, the ledger's history. */
const props = defineProps<{ kind: 'facts' | 'subscribers' | 'ledger'; planner: boolean }>();
const plan = usePlan();
const { span, formats, unit } = useFrame();
const address = computed(() => `from=${monthText(span.value.from)}&to=${monthText(span.value.to)}`);
const sources = [() => props.kind, address, () => plan.tick, () => plan.savedAt];
const facts = useAnswer(sources, async () =>
  props.kind === 'facts' ? request<Facts>('GET', plan.path(`/facts?${address.value}`)) : undefined,
);
const ledger = useAnswer(sources, async () =>
  props.kind === 'ledger'
    ? request<Ledger>('GET', plan.path(`/ledger?${address.value}`))
    : undefined,
);
const subscribers = useAnswer(sources, async () =>
  props.kind === 'subscribers'
    ? request<Subscribers>('GET', plan.path(`/subscribers?${address.value}`))
    : undefined,
);
const failure = computed(
  () => facts.failure.value || ledger.failure.value || subscribers.failure.value,
);
const minor = computed(() => 10 ** (plan.workspace?.plan.currency.minorDigits ?? 2));
const head = (month: string): string => shortMonth(monthFrom(month));
const number = (value: number | null): string =>
  value === null ? '–' : value.toLocaleString(plan.workspace?.locale, { maximumFractionDigits: 2 });
const money = (cents: number): string =>
  formats.value.show(cents / minor.value, 'money', unit.value);
const scopeOf = (members: readonly number[]): string => plan.tree.label(members);

const NATURES: readonly { value: Nature; name: string }[] = [
  { value: 'flow', name: 'adds up' },
  { value: 'stock', name: 'stands, the last month holds' },
  { value: 'ratio', name: 'is a ratio, never added' },
  { value: 'level', name: 'is set, never added' },
];
const headline = computed(() => {
  if (props.kind === 'facts') {
    const count = facts.data.value?.rows.length ?? 0;
    const measures = new Set(facts.data.value?.rows.map(({ measure }) => measure)).size;
    return count === 0
      ? 'Nothing besides sales was measured in this window'
      : `${measures} ${measures === 1 ? 'measure' : 'measures'} besides sales, for ${count} ${count === 1 ? 'scope' : 'scopes'}`;
  }
  if (props.kind === 'subscribers') {
    const found = subscribers.data.value;
    if (!found || found.known === 0) return 'No subscriber is known yet';
    const last = found.months.at(-1);
    const first = found.months[0];
    const change = (last?.closing ?? 0) - (first?.opening ?? 0);
    return `${number(last?.closing ?? 0)} subscribers at the end of ${last ? longMonth(monthFrom(last.month)) : ''}, ${number(Math.abs(change))} ${change >= 0 ? 'more' : 'less'} than before ${first ? longMonth(monthFrom(first.month)) : ''}`;
  }
  const accounts = ledger.data.value?.accounts ?? [];
  if (accounts.length === 0) return 'No ledger history is taken in yet';
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

const refusal = ref('');
async function change(path: string, body: object): Promise<void> {
  refusal.value = '';
  try {
    await plan.save(() => request('PATCH', plan.path(path), body));
  } catch (error) {
    refusal.value = inWords(error);
  }
}
const natureOf = (code: string): Nature =>
  facts.data.value?.measures.find((measure) => measure.code === code)?.nature ?? 'flow';
const picked = (event: Event): string => (event.target as HTMLSelectElement).value;
</script>

<template>
  <header class="room-head">
    <h1>{{ headline }}</h1>
    <p class="state">{{ state }}</p>
  </header>
  <p v-if="failure || refusal" class="failure" role="alert">{{ failure || refusal }}</p>
  <div class="scroll" tabindex="0">
    <table
      v-if="kind === 'facts' && facts.data.value && facts.data.value.rows.length > 0"
      class="sheet-table"
      aria-label="Measured facts"
    >
      <thead>
        <tr>
          <th scope="col" class="words">Measure</th>
          <th scope="col" class="words">Of</th>
          <th v-for="month in facts.data.value.months" :key="month" scope="col">
            {{ head(month) }}
          </th>
          <th scope="col">Over the window</th>
          <th scope="col" class="words">Over time it</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in facts.data.value.rows" :key="`${row.measure} ${row.members.join()}`">
          <td class="words">{{ row.measure }}</td>
          <td class="words quiet">{{ scopeOf(row.members) }}</td>
          <td v-for="(value, place) in row.values" :key="place">{{ number(value) }}</td>
          <td>
            <b>{{ number(row.total) }}</b>
          </td>
          <td class="words">
            <select
              v-if="planner"
              :value="natureOf(row.measure)"
              :aria-label="`How ${row.measure} rolls up`"
              @change="
                change(`/facts/${encodeURIComponent(row.measure)}`, { nature: picked($event) })
              "
            >
              <option v-for="nature in NATURES" :key="nature.value" :value="nature.value">
                {{ nature.name }}
              </option>
            </select>
            <template v-else>{{
              NATURES.find(({ value }) => value === natureOf(row.measure))?.name
            }}</template>
          </td>
        </tr>
      </tbody>
    </table>
    <table
      v-else-if="
        kind === 'subscribers' && subscribers.data.value && subscribers.data.value.known > 0
      "
      class="sheet-table"
      aria-label="Subscribers by month"
    >
      <thead>
        <tr>
          <th scope="col" class="words">Month</th>
          <th scope="col">Opening</th>
          <th scope="col">New</th>
          <th scope="col">Lost</th>
          <th scope="col">Closing</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="month in subscribers.data.value.months" :key="month.month">
          <td class="words">{{ longMonth(monthFrom(month.month)) }}</td>
          <td>{{ number(month.opening) }}</td>
          <td>{{ number(month.added) }}</td>
          <td>{{ number(month.lost) }}</td>
          <td>
            <b>{{ number(month.closing) }}</b>
          </td>
        </tr>
      </tbody>
    </table>
    <table
      v-else-if="kind === 'ledger' && ledger.data.value && ledger.data.value.accounts.length > 0"
      class="sheet-table"
      aria-label="Accounts"
    >
      <thead>
        <tr>
          <th scope="col" class="words">Account</th>
          <th scope="col" class="words">Is</th>
          <th v-for="month in ledger.data.value.months" :key="month" scope="col">
            {{ head(month) }}
          </th>
          <th scope="col">Together</th>
          <th scope="col">Of revenue</th>
          <th scope="col" class="words">Moves</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="account in ledger.data.value.accounts" :key="account.code">
          <td class="words">
            {{ account.code }} <span class="quiet">{{ account.name }}</span>
          </td>
          <td class="words">
            <select
              :value="account.kind"
              :disabled="!planner"
              :aria-label="`What ${account.code} is`"
              @change="
                change(`/ledger/${encodeURIComponent(account.code)}`, { kind: picked($event) })
              "
            >
              <option value="revenue">revenue</option>
              <option value="expense">expense</option>
            </select>
          </td>
          <td v-for="(value, place) in account.values" :key="place">{{ money(value) }}</td>
          <td>
            <b>{{ money(account.total) }}</b>
          </td>
          <td>{{ formats.show(account.share, 'percent') }}</td>
          <td class="words">
            <select
              :value="account.behaviour ?? ''"
              :disabled="!planner"
              :aria-label="`How ${account.code} moves`"
              @change="
                change(`/ledger/${encodeURIComponent(account.code)}`, {
                  behaviour: picked($event) || null,
                })
              "
            >
              <option value="">not said yet</option>
              <option value="fixed">fixed</option>
              <option value="variable">with revenue</option>
            </select>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-else class="quiet note">
      Take in a file, choose what it is taken in as, and it stands here:
      {{
        kind === 'facts'
          ? 'market size, visits, quiz counts, scores, each by month and scope'
          : kind === 'subscribers'
            ? 'a code, a plan, a start and an end'
            : 'an account, a month, an amount'
      }}.
    </p>
  </div>
</template>

<style scoped>
.scroll {
  overflow: auto;
  flex: 1;
  min-height: 0;
}
.note {
  padding: 16px 0;
}
select {
  font-size: 12px;
}
</style>
