<script setup lang="ts">
import type { AccessToken, MadeToken, SavedView, ViewQuery } from '@dravex/contract';
import { computed, ref } from 'vue';
import { whenInWords } from '../format/moments.ts';
import { useSession } from '../people/use-session.ts';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import SettingsNav from '../settings/SettingsNav.vue';
import { inWords, request } from '../shell/api.ts';
import ScopeBar from '../shell/ScopeBar.vue';

/** What reporting tools and other pages may read: access tokens, and saved views to stand elsewhere. */
const plan = usePlan();
const session = useSession();
const planner = computed(() => session.roleIn(plan.workspaceId) === 'planner');
const again = ref(0);
const tokens = useAnswer([again, () => plan.tick], () =>
  request<AccessToken[]>('GET', plan.path('/tokens')),
);
const views = useAnswer([again, () => plan.tick], () =>
  request<SavedView[]>('GET', plan.path('/views')),
);
const when = (moment: string): string => whenInWords(moment, plan.workspace?.locale);

const problem = ref('');
const made = ref<{ what: string; secret: string }>();
async function doing(work: () => Promise<void>): Promise<void> {
  problem.value = '';
  made.value = undefined;
  try {
    await plan.save(work);
    again.value += 1;
  } catch (error) {
    problem.value = inWords(error);
  }
}
const tokenName = ref('');
function makeToken(): Promise<void> {
  return doing(async () => {
    const name = tokenName.value;
    const { token } = await request<MadeToken>('POST', plan.path('/tokens'), { name });
    made.value = { what: `The token ${name}`, secret: token };
    tokenName.value = '';
  });
}
const withdrawToken = (id: number): Promise<void> =>
  doing(() => request('DELETE', plan.path(`/tokens/${id}`)));
const withdrawView = (id: number): Promise<void> =>
  doing(() => request('DELETE', plan.path(`/views/${id}`)));

const ROOMS = {
  forecast: 'Forecast',
  sales: 'Actuals, summary',
  comparison: 'Comparison',
} as const;
const windowOf = ({ window }: ViewQuery): string =>
  typeof window === 'string' ? window : `${window.from} to ${window.to}`;
const headline = computed(() => {
  const count = tokens.data.value?.length ?? 0;
  const shown = views.data.value?.length ?? 0;
  return `${count} ${count === 1 ? 'token reads' : 'tokens read'} in your name, ${shown} ${shown === 1 ? 'view stands' : 'views stand'} in other pages`;
});
const example = computed(
  () =>
    `curl -H "Authorization: Bearer drx_…" "${window.location.origin}/api/reporting/actuals?from=2026-04&format=csv"`,
);
const TABLES = 'actuals, sales-lines, forecast, plan-cells, comparison, targets, supply';
</script>

<template>
  <section class="room">
    <ScopeBar :shows="[]" />
    <SettingsNav />
    <header class="room-head">
      <h1>{{ headline }}</h1>
      <p class="state">
        Both only read, and can be withdrawn at any time. A secret is shown once; only its hash is
        kept.
      </p>
    </header>
    <p v-if="problem" class="failure" role="alert">{{ problem }}</p>
    <div v-if="made" class="made" role="status">
      <p>{{ made.what }}. Copy it now, it is not shown again:</p>
      <code>{{ made.secret }}</code>
    </div>
    <div class="columns">
      <section aria-labelledby="tokens-title">
        <h2 id="tokens-title">Tokens for reporting tools</h2>
        <p class="quiet">Tables: {{ TABLES }}; by the page, as JSON or CSV.</p>
        <code class="example">{{ example }}</code>
        <form class="controls" @submit.prevent="makeToken">
          <input
            v-model="tokenName"
            required
            maxlength="120"
            placeholder="what it is for"
            aria-label="What the token is for"
          />
          <button class="plain" type="submit">Make a token</button>
        </form>
        <table v-if="(tokens.data.value ?? []).length > 0" class="sheet-table" aria-label="Tokens">
          <thead>
            <tr>
              <th scope="col" class="words">For</th>
              <th scope="col" class="words">Starts with</th>
              <th scope="col" class="words">Last used</th>
              <th scope="col"><span class="hidden-but-read">Withdraw</span></th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="token in tokens.data.value" :key="token.id">
              <td class="words">{{ token.name }}</td>
              <td class="words quiet">{{ token.start }}…</td>
              <td class="words quiet">{{ token.lastUsedAt ? when(token.lastUsedAt) : 'never' }}</td>
              <td>
                <button
                  type="button"
                  class="link"
                  :aria-label="`Withdraw ${token.name}`"
                  @click="withdrawToken(token.id)"
                >
                  Withdraw
                </button>
              </td>
            </tr>
          </tbody>
        </table>
      </section>
      <section aria-labelledby="views-title">
        <h2 id="views-title">Views for other pages</h2>
        <p class="quiet">
          A table or chart at an address of its own, for a frame in another page from 400 by 300 on.
          Set it as it shall be in
          <RouterLink :to="`/w/${plan.workspaceId}/forecast`">Forecast</RouterLink>,
          <RouterLink :to="`/w/${plan.workspaceId}/comparison`">Comparison</RouterLink> or the
          summary of
          <RouterLink :to="`/w/${plan.workspaceId}/actuals?view=summary`">Actuals</RouterLink>, and
          let it stand in another page from there.
        </p>
        <table v-if="(views.data.value ?? []).length > 0" class="sheet-table" aria-label="Views">
          <thead>
            <tr>
              <th scope="col" class="words">View</th>
              <th scope="col" class="words">Saved</th>
              <th scope="col"><span class="hidden-but-read">Withdraw</span></th>
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
                <button
                  v-if="planner"
                  type="button"
                  class="link"
                  :aria-label="`Withdraw ${view.name}`"
                  @click="withdrawView(view.id)"
                >
                  Withdraw
                </button>
              </td>
            </tr>
          </tbody>
        </table>
      </section>
    </div>
  </section>
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
