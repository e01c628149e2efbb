<script setup lang="ts">
import { mdiClose, mdiMenuDown } from '@mdi/js';
import { viewOperations, type View } from '@dravex/contract';
import { computed, ref } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { usePlanner } from '../people/use-planner.ts';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useForm } from '../writing/use-form.ts';
import { useWriting } from '../writing/use-writing.ts';
import { TEXTS } from './texts.ts';

/** Views that are saved under a name: opened, saved, deleted, and shared by their address. */
const props = defineProps<{ room: View['room'] }>();
const plan = usePlan();
const route = useRoute();
const router = useRouter();
const planner = usePlanner();

const open = ref(false);
/** The part of the address that lays the room out. */
const address = computed(() => {
  const parameters = Object.entries(route.query).flatMap(([key, value]) =>
    typeof value === 'string' ? [[key, value]] : [],
  );
  return new URLSearchParams(parameters).toString();
});
const { data, failure: unread } = useAnswer(
  [open, () => plan.tick, () => plan.savedAt],
  async () => (open.value ? plan.ask(viewOperations.readKeptViews, {}) : []),
);
const own = computed(() => (data.value ?? []).filter(({ room }) => room === props.room));
const current = computed(() => own.value.find((view) => view.address === address.value));

const { form, field, submit, busy, failure } = useForm({
  fresh: () => ({ name: '' }),
  send: ({ name }) =>
    plan.ask(
      viewOperations.keepView,
      { view: name.trim() },
      { room: props.room, address: address.value },
    ),
  done: ({ name }) => {
    plan.said = { text: TEXTS.savedViewItsAddressCan(name.trim()) };
  },
});
const dropping = useWriting();
const drop = ({ name }: View) =>
  dropping.write(
    () => plan.ask(viewOperations.dropView, { view: name }),
    () => (plan.said = { text: TEXTS.deletedTheView(name), undo: 'workspace' }),
  );
async function show(view: View): Promise<void> {
  open.value = false;
  await router.push({ query: Object.fromEntries(new URLSearchParams(view.address)) });
}
async function share(): Promise<void> {
  const { href } = window.location;
  const copied = await navigator.clipboard.writeText(href).then(
    () => true,
    () => false,
  );
  plan.said = { text: copied ? TEXTS.copiedAddressOfThisView : href };
}
</script>

<template>
  <v-menu v-model="open" :close-on-content-click="false">
    <template #activator="{ props: activator }">
      <v-btn
        v-bind="activator"
        :append-icon="mdiMenuDown"
        :aria-label="TEXTS.viewsOf(current?.name ?? TEXTS.noneChosen)"
      >
        {{ current?.name ?? TEXTS.views }}
      </v-btn>
    </template>
    <div class="menu-sheet views" role="group" :aria-label="TEXTS.views">
      <p v-if="own.length === 0" class="quiet">
        {{ TEXTS.noSavedViewsYetView }}
      </p>
      <div v-for="view in own" :key="view.name" class="view">
        <v-btn variant="plain" @click="show(view)">{{ view.name }}</v-btn>
        <span class="quiet">{{ view.by }}</span>
        <v-btn
          v-if="planner"
          variant="text"
          :icon="mdiClose"
          :aria-label="TEXTS.deleteTheView(view.name)"
          @click="drop(view)"
        />
      </div>
      <form v-if="planner" class="keep" @submit.prevent="submit">
        <v-text-field
          v-bind="field('name')"
          maxlength="120"
          :placeholder="TEXTS.nameOfThisView"
          :aria-label="TEXTS.nameOfView"
        />
        <v-btn color="primary" type="submit" :loading="busy" :disabled="form.name.trim() === ''">
          {{ TEXTS.saveView }}
        </v-btn>
      </form>
      <v-btn variant="plain" @click="share">{{ TEXTS.copyLink }}</v-btn>
      <p v-if="failure || unread || dropping.failure.value" class="failure" role="alert">
        {{ failure || unread || dropping.failure.value }}
      </p>
    </div>
  </v-menu>
</template>

<style scoped>
.views {
  padding: 10px 12px;
  width: 300px;
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
  align-items: center;
}
.view .quiet {
  margin-left: auto;
  font-size: 12px;
}
.keep .v-input {
  flex: 1;
}
</style>
