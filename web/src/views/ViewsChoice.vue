<script setup lang="ts">
import type { View } from '@dravex/contract';
import { computed, ref } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { useSession } from '../people/use-session.ts';
import { usePlan } from '../plan/use-plan.ts';
import { inWords, request } from '../shell/api.ts';

/** Views that are kept under a name: opened, kept, forgotten, and shared by their address. */
const props = defineProps<{ room: View['room'] }>();
const plan = usePlan();
const route = useRoute();
const router = useRouter();
const session = useSession();
const planner = computed(() => session.roleIn(plan.workspaceId) === 'planner');

const views = ref<View[]>([]);
const open = ref(false);
const name = ref('');
const failure = ref('');

/** The part of the address that lays the room out. */
const address = computed(() => {
  const parameters = Object.entries(route.query).flatMap(([key, value]) =>
    typeof value === 'string' ? [[key, value]] : [],
  );
  return new URLSearchParams(parameters).toString();
});
const own = computed(() => views.value.filter(({ room }) => room === props.room));
const current = computed(() => own.value.find((view) => view.address === address.value));

async function trying(work: () => Promise<unknown>): Promise<boolean> {
  failure.value = '';
  try {
    await work();
    return true;
  } catch (error) {
    plan.saving = 'saved';
    failure.value = inWords(error);
    return false;
  }
}
async function read(): Promise<void> {
  await trying(async () => (views.value = await request<View[]>('GET', plan.path('/kept-views'))));
}
const pathOf = (view: string): string => plan.path(`/kept-views/${encodeURIComponent(view)}`);

async function keep(): Promise<void> {
  const wanted = name.value.trim();
  const body = { room: props.room, address: address.value };
  const kept = await trying(() => plan.save(() => request('PUT', pathOf(wanted), body)));
  if (!kept) return;
  plan.said = { text: `Kept the view ${wanted}; its address can be shared` };
  name.value = '';
  await read();
}
async function drop(view: View): Promise<void> {
  const gone = await trying(() => plan.save(() => request('DELETE', pathOf(view.name))));
  if (!gone) return;
  plan.said = { text: `Forgot the view ${view.name}; Ctrl+Z brings it back` };
  await read();
}
async function show(view: View): Promise<void> {
  open.value = false;
  await router.push({ query: Object.fromEntries(new URLSearchParams(view.address)) });
}
async function share(): Promise<void> {
  const { href } = window.location;
  const copied = await trying(() => navigator.clipboard.writeText(href));
  plan.said = { text: copied ? 'Copied the address of this view' : href };
}
</script>

<template>
  <v-menu
    v-model="open"
    location="bottom start"
    :offset="4"
    :close-on-content-click="false"
    @update:model-value="(now: boolean) => now && read()"
  >
    <template #activator="{ props: activator }">
      <button
        v-bind="activator"
        type="button"
        class="chip"
        :aria-label="`Views: ${current?.name ?? 'none in force'}`"
      >
        {{ current?.name ?? 'Views' }} <span class="caret" aria-hidden="true">▾</span>
      </button>
    </template>
    <div class="menu-sheet views" role="group" aria-label="Views">
      <p v-if="own.length === 0" class="quiet">
        No view is kept yet. A view is the measures, rows, columns, scope and window as they stand.
      </p>
      <div v-for="view in own" :key="view.name" class="view">
        <button type="button" class="link" @click="show(view)">{{ view.name }}</button>
        <span class="quiet">{{ view.by }}</span>
        <button
          v-if="planner"
          type="button"
          class="bare"
          :aria-label="`Forget the view ${view.name}`"
          @click="drop(view)"
        >
          ×
        </button>
      </div>
      <form v-if="planner" class="keep" @submit.prevent="keep">
        <input
          v-model="name"
          maxlength="120"
          placeholder="name of this view"
          aria-label="Name of the view"
        />
        <button type="submit" class="plain" :disabled="name.trim() === ''">Keep</button>
      </form>
      <button type="button" class="link" @click="share">Copy its address</button>
      <p v-if="failure" class="failure" role="alert">{{ failure }}</p>
    </div>
  </v-menu>
</template>

<style scoped>
.views {
  padding: 10px 12px;
  width: 290px;
  display: grid;
  gap: 6px;
  justify-items: start;
  font-size: 13px;
}
.view,
.keep {
  display: flex;
  gap: 8px;
  width: 100%;
  align-items: baseline;
}
.view .quiet {
  margin-left: auto;
  font-size: 12px;
}
.keep input {
  flex: 1;
  min-width: 0;
}
.caret {
  color: var(--ink-quiet);
  font-size: 9px;
}
</style>
