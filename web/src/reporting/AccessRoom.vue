<script setup lang="ts">
import { reportingOperations, type ViewQuery } from '@dravex/contract';
import { computed, ref } from 'vue';
import { whenInWords } from '../format/moments.ts';
import { WORDS } from '../format/words.ts';
import SheetTable from '../kit/SheetTable.vue';
import { usePlanner } from '../people/use-planner.ts';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import SettingsNav from '../settings/SettingsNav.vue';
import RoomPage from '../shell/RoomPage.vue';
import { useForm } from '../writing/use-form.ts';
import { useWriting } from '../writing/use-writing.ts';
import { TEXTS } from './texts.ts';

/** What reporting tools and other pages may read: access tokens, and embedded views. */
const plan = usePlan();
const planner = usePlanner();
const changed = [() => plan.tick, () => plan.savedAt];
const tokens = useAnswer(changed, () => plan.ask(reportingOperations.listTokens, {}));
const views = useAnswer(changed, () => plan.ask(reportingOperations.listViews, {}));
const when = (moment: string): string => whenInWords(moment, plan.locale);

const made = ref<{ name: string; secret: string }>();
const { field, submit, busy, failure } = useForm({
  fresh: () => ({ name: '' }),
  schema: reportingOperations.makeToken.body,
  send: async (body) => {
    const { token } = await plan.ask(reportingOperations.makeToken, {}, body);
    made.value = { name: body.name, secret: token };
  },
});
const withdrawing = useWriting();
const withdrawToken = (tokenId: number) =>
  withdrawing.write(() => plan.ask(reportingOperations.withdrawToken, { tokenId }));
const withdrawView = (viewId: number) =>
  withdrawing.write(() => plan.ask(reportingOperations.withdrawView, { viewId }));

const ROOMS = {
  forecast: WORDS.forecast,
  sales: TEXTS.actualsSummary,
  comparison: WORDS.comparison,
} as const;
const windowOf = ({ window }: ViewQuery): string =>
  typeof window === 'string' ? window : TEXTS.to(window.from, window.to);
const headline = computed(() => {
  const count = tokens.data.value?.length ?? 0;
  const shown = views.data.value?.length ?? 0;
  return TEXTS.accessTokensOfYoursEmbedded(count, shown);
});
const example = computed(
  () =>
    `curl -H "Authorization: Bearer drx_…" "${window.location.origin}/api/reporting/actuals?from=2026-04&format=csv"`,
);
const TABLES = 'actuals, sales-lines, forecast, plan-cells, comparison, targets, supply';
</script>

<template>
  <RoomPage
    :heading="headline"
    :state="TEXTS.bothCanOnlyReadAnd"
    :failure="failure || withdrawing.failure.value"
  >
    <template #above><SettingsNav /></template>
    <div v-if="made" class="made" role="status">
      <p>{{ TEXTS.tokenCopyItNowIt(made.name) }}</p>
      <code>{{ made.secret }}</code>
    </div>
    <div class="columns">
      <section aria-labelledby="tokens-title">
        <h2 id="tokens-title">{{ TEXTS.accessTokensForReportingTools }}</h2>
        <p class="quiet">{{ TEXTS.tablesByPageAsJson(TABLES) }}</p>
        <code class="example">{{ example }}</code>
        <form class="controls" novalidate @submit.prevent="submit">
          <v-text-field v-bind="field('name')" :label="TEXTS.whatTokenIsFor" width="220" />
          <v-btn color="primary" type="submit" :loading="busy">{{ TEXTS.createToken }}</v-btn>
        </form>
        <SheetTable v-if="(tokens.data.value ?? []).length > 0" :about="TEXTS.tokens">
          <thead>
            <tr>
              <th scope="col" class="words">{{ TEXTS.for }}</th>
              <th scope="col" class="words">{{ TEXTS.startsWith }}</th>
              <th scope="col" class="words">{{ TEXTS.lastUsed }}</th>
              <th scope="col">
                <span class="hidden-but-read">{{ TEXTS.withdraw }}</span>
              </th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="token in tokens.data.value" :key="token.id">
              <td class="words">{{ token.name }}</td>
              <td class="words quiet">{{ token.start }}…</td>
              <td class="words quiet">
                {{ token.lastUsedAt ? when(token.lastUsedAt) : TEXTS.never }}
              </td>
              <td>
                <v-btn
                  variant="plain"
                  :aria-label="TEXTS.withdrawOf(token.name)"
                  @click="withdrawToken(token.id)"
                >
                  {{ TEXTS.withdraw }}
                </v-btn>
              </td>
            </tr>
          </tbody>
        </SheetTable>
      </section>
      <section aria-labelledby="views-title">
        <h2 id="views-title">{{ TEXTS.embeddedViews }}</h2>
        <p class="quiet">
          {{ TEXTS.tableOrChartWithAddress }}
          <RouterLink :to="`/w/${plan.workspaceId}/forecast`">{{ WORDS.forecast }}</RouterLink>,
          <RouterLink :to="`/w/${plan.workspaceId}/comparison`">{{ WORDS.comparison }}</RouterLink>
          {{ TEXTS.orSummaryOf }}
          <RouterLink :to="`/w/${plan.workspaceId}/actuals?view=summary`">{{
            WORDS.actuals
          }}</RouterLink>.
        </p>
        <SheetTable v-if="(views.data.value ?? []).length > 0" :about="TEXTS.views">
          <thead>
            <tr>
              <th scope="col" class="words">{{ TEXTS.view }}</th>
              <th scope="col" class="words">{{ TEXTS.created }}</th>
              <th scope="col">
                <span class="hidden-but-read">{{ TEXTS.withdraw }}</span>
              </th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="view in views.data.value" :key="view.id">
              <td class="words">
                {{ view.name }}
                <span class="quiet"
                  >{{ ROOMS[view.query.of] }}, {{ view.query.kind }},
                  {{ windowOf(view.query) }}</span
                >
              </td>
              <td class="words quiet">{{ view.createdBy }}, {{ when(view.createdAt) }}</td>
              <td>
                <v-btn
                  v-if="planner"
                  variant="plain"
                  :aria-label="TEXTS.withdrawOf(view.name)"
                  @click="withdrawView(view.id)"
                >
                  {{ TEXTS.withdraw }}
                </v-btn>
              </td>
            </tr>
          </tbody>
        </SheetTable>
      </section>
    </div>
  </RoomPage>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 40px;
  align-items: start;
  overflow: auto;
}
.columns section {
  min-width: 0;
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 8px;
  justify-items: start;
}
.sheet-table {
  width: 100%;
}
.sheet-table td.words {
  white-space: normal;
}
.controls {
  align-items: flex-end;
}
.made {
  background: var(--surface);
  border: 1px solid var(--line);
  padding: 8px 12px;
  display: grid;
  gap: 4px;
}
code {
  font-size: 11.5px;
  overflow-wrap: anywhere;
}
.example {
  color: var(--ink-quiet);
}
</style>
