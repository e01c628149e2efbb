<script setup lang="ts">
import type { WorkspacePerson } from '@dravex/contract';
import { monthOf } from '@dravex/core';
import { computed, ref } from 'vue';
import { useRouter } from 'vue-router';
import { dayInWords, longMonth } from '../format/periods.ts';
import { useSession } from '../people/use-session.ts';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { ApiProblem, inWords, request } from '../shell/api.ts';
import ScopeBar from '../shell/ScopeBar.vue';
import { useFrame } from '../shell/use-frame.ts';
import SettingsNav from './SettingsNav.vue';
import { chooseTheme, themeChoice, type ThemeChoice } from '../shell/use-theme.ts';

/** The workspace, who may enter, plan files, the look, and what machines can use. */
const plan = usePlan();
const session = useSession();
const router = useRouter();
const { calendar, calendarSpan } = useFrame();

/** The month in which fiscal years start, by its name. */
const fiscalStart = computed(
  () => longMonth(monthOf(2026, calendar.value.fiscalStart)).split(' ')[0],
);

const planner = computed(() => session.roleIn(plan.workspaceId) === 'planner');
const people = useAnswer([() => plan.tick, () => plan.savedAt], () =>
  request<WorkspacePerson[]>('GET', plan.path('/people')),
);
const others = computed(() =>
  (session.session?.workspaces ?? []).filter(({ id }) => id !== plan.workspaceId),
);
const THEMES: readonly { value: ThemeChoice; name: string }[] = [
  { value: 'paper', name: 'Paper' },
  { value: 'ink', name: 'Ink' },
  { value: 'system', name: 'As the system has it' },
];

const person = ref({ name: '', email: '', password: '', role: 'reader' });
const refusal = ref('');
const done = ref('');
async function add(): Promise<void> {
  refusal.value = '';
  done.value = '';
  try {
    await plan.save(() => request('POST', plan.path('/people'), person.value));
    done.value = `${person.value.name} may enter now.`;
    person.value = { name: '', email: '', password: '', role: 'reader' };
  } catch (error) {
    refusal.value = words(error);
  }
}
/** What was wrong, with every field that was. */
function words(error: unknown): string {
  if (error instanceof ApiProblem && error.errors.length > 0) {
    return error.errors
      .slice(0, 5)
      .map(({ path, message }) => (path ? `${path}: ${message}` : message))
      .join('; ');
  }
  return inWords(error);
}

const input = ref<HTMLInputElement>();
const loading = ref('');
const failure = ref('');
async function load(event: Event): Promise<void> {
  const [file] = (event.target as HTMLInputElement).files ?? [];
  if (input.value) input.value.value = '';
  if (!file) return;
  failure.value = '';
  loading.value = `Reading ${file.name}`;
  try {
    const body: unknown = JSON.parse(await file.text());
    if (typeof body !== 'object' || body === null) throw new SyntaxError('no object');
    const { id } = await request<{ id: number }>('POST', '/workspaces/plan-file', body);
    await session.refresh();
    await router.push(`/w/${id}/standing`);
  } catch (error) {
    failure.value =
      error instanceof SyntaxError
        ? `${file.name} is not a plan file: it is no JSON`
        : words(error);
  } finally {
    loading.value = '';
  }
}
</script>

<template>
  <section class="room">
    <ScopeBar />
    <SettingsNav />
    <header class="room-head">
      <h1>{{ plan.workspace?.name }}, and who plans in it</h1>
      <p class="state">
        Fiscal year from {{ fiscalStart }}, {{ plan.workspace?.plan.currency.code }},
        {{ longMonth(calendarSpan.from) }} to {{ longMonth(calendarSpan.to) }}, closed through
        {{ longMonth(plan.closedThrough) }}, read on {{ dayInWords(calendar.asOf) }}
      </p>
    </header>
    <div class="scroll columns" tabindex="0" role="region" aria-label="Settings">
      <section aria-labelledby="people-title">
        <h2 id="people-title">People</h2>
        <table class="sheet-table">
          <thead>
            <tr>
              <th scope="col">Name</th>
              <th scope="col" class="words">E-mail address</th>
              <th scope="col" class="words">Role</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="one in people.data.value ?? []" :key="one.id">
              <td>{{ one.name }}</td>
              <td class="words">{{ one.email }}</td>
              <td class="words">{{ one.role }}</td>
            </tr>
          </tbody>
        </table>
        <form v-if="planner" class="form" @submit.prevent="add">
          <h3>Let somebody in</h3>
          <label for="person-name">Name</label>
          <input id="person-name" v-model="person.name" autocomplete="off" />
          <label for="person-email">E-mail address</label>
          <input id="person-email" v-model="person.email" type="email" autocomplete="off" />
          <label for="person-password">First password, ten characters or more</label>
          <input
            id="person-password"
            v-model="person.password"
            type="password"
            autocomplete="new-password"
          />
          <label for="person-role">Role</label>
          <select id="person-role" v-model="person.role">
            <option value="reader">reader: sees everything, changes nothing</option>
            <option value="planner">planner: plans</option>
          </select>
          <p v-if="refusal" class="failure" role="alert">{{ refusal }}</p>
          <p v-if="done" class="good" role="status">{{ done }}</p>
          <button class="plain" type="submit">Let them in</button>
        </form>
      </section>
      <div class="stack">
        <section aria-labelledby="file-title">
          <h2 id="file-title">Plan file</h2>
          <p>
            Everything this plan rests on in one file, which computes to the same numbers with
            <code>dravex compute</code>.
          </p>
          <p class="controls">
            <a class="chip" :href="`/api${plan.path('/plan-file')}`" download>Save the plan file</a>
            <input
              ref="input"
              type="file"
              accept=".json,application/json"
              class="hidden-but-read"
              tabindex="-1"
              aria-label="Plan file"
              @change="load"
            />
            <button class="chip" type="button" :disabled="loading !== ''" @click="input?.click()">
              Make a workspace from a plan file
            </button>
          </p>
          <p v-if="loading" class="quiet" role="status">{{ loading }} …</p>
          <p v-if="failure" class="failure" role="alert">{{ failure }}</p>
        </section>
        <section aria-labelledby="look-title">
          <h2 id="look-title">Look</h2>
          <div class="controls" role="group" aria-label="Theme">
            <button
              v-for="theme in THEMES"
              :key="theme.value"
              type="button"
              class="chip"
              :aria-pressed="themeChoice === theme.value"
              @click="chooseTheme(theme.value)"
            >
              {{ theme.name }}
            </button>
          </div>
        </section>
        <section aria-labelledby="other-title">
          <h2 id="other-title">Workspaces</h2>
          <p v-for="other in others" :key="other.id">
            <a :href="`/w/${other.id}/standing`">{{ other.name }}</a>
            <span class="quiet"> {{ other.role }}</span>
          </p>
          <p><RouterLink class="chip" to="/start">Start an empty workspace</RouterLink></p>
        </section>
        <section aria-labelledby="machines-title">
          <h2 id="machines-title">For machines</h2>
          <p>
            Everything the browser does, it does by requests:
            <a href="/api/reference/" target="_blank" rel="noopener">read what there is</a>, or take
            the <a href="/api/openapi.json" download>OpenAPI description</a>.
          </p>
        </section>
      </div>
    </div>
  </section>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: minmax(0, 3fr) minmax(0, 2fr);
  gap: 40px;
  align-content: start;
}
.stack {
  display: grid;
  gap: 22px;
  align-content: start;
}
.stack section {
  display: grid;
  gap: 6px;
}
.form {
  display: grid;
  gap: 5px;
  max-width: 360px;
  margin-top: 18px;
  justify-items: stretch;
}
.form button {
  justify-self: start;
  margin-top: 6px;
}
h3 {
  margin: 0;
  font-size: 13px;
  font-weight: 650;
}
@media (max-width: 1100px) {
  .columns {
    grid-template-columns: 1fr;
  }
}
</style>
