<script setup lang="ts">
import { sessionOperations, type Preferences } from '@dravex/contract';
import { computed, ref } from 'vue';
import { UNITS } from '../format/numbers.ts';
import { WORDS } from '../format/words.ts';
import FormDialog from '../kit/FormDialog.vue';
import { usePlan } from '../plan/use-plan.ts';
import { call } from '../shell/client.ts';
import { ROOMS } from '../shell/rooms.ts';
import { useFrame } from '../shell/use-frame.ts';
import { themeChoice } from '../shell/use-theme.ts';
import { useForm } from '../writing/use-form.ts';
import { useWriting } from '../writing/use-writing.ts';
import { TEXTS } from './texts.ts';
import { useSession } from './use-session.ts';

/** What a person prefers, on every machine, and their password. */
const plan = usePlan();
const session = useSession();
const { formats } = useFrame();
const THEMES = [
  { value: 'light', name: TEXTS.light },
  { value: 'dark', name: TEXTS.dark },
  { value: 'system', name: TEXTS.system },
];
/** Locales whose numbers and dates differ, each with what they look like. */
const LOCALES = ['en-IE', 'en-US', 'de-DE', 'de-CH', 'fr-FR', 'it-IT', 'es-ES', 'nl-NL', 'sv-SE'];
const locales = computed(() => [
  { value: null, name: TEXTS.asInWorkspace(plan.workspace?.locale ?? '') },
  ...LOCALES.map((value) => ({
    value,
    name: `${(1234567.8).toLocaleString(value)}, ${new Date(2026, 9, 12).toLocaleDateString(value)} (${value})`,
  })),
]);
const units = computed(() =>
  UNITS.map((value) => ({ value, name: formats.value.unitName(value) })),
);
const rooms = ROOMS.map(({ key, name }) => ({ value: key, name }));
const { failure, write } = useWriting();
const prefer = (change: Preferences) => write(() => session.prefer(change));

const changing = ref(false);
const password = useForm({
  fresh: () => ({ password: '', next: '' }),
  schema: sessionOperations.changePassword.body,
  send: (body) => call(sessionOperations.changePassword, {}, body),
  done: () => {
    changing.value = false;
    plan.said = { text: TEXTS.yourPasswordIsChangedYour };
  },
});
</script>

<template>
  <section aria-labelledby="own-title">
    <h2 id="own-title">{{ TEXTS.myPreferences }}</h2>
    <div class="fields">
      <v-select
        :label="TEXTS.theme"
        :model-value="themeChoice"
        :items="THEMES"
        @update:model-value="prefer({ theme: $event })"
      />
      <v-select
        :label="TEXTS.numberAndDateFormat"
        :model-value="session.preferences.locale ?? null"
        :items="locales"
        @update:model-value="prefer({ locale: $event ?? undefined })"
      />
      <v-select
        :label="WORDS.unit"
        :model-value="session.preferences.unit ?? plan.workspace?.plan.unit ?? 1000"
        :items="units"
        @update:model-value="prefer({ unit: $event })"
      />
      <v-select
        :label="TEXTS.firstRoom"
        :model-value="session.preferences.firstRoom ?? 'standing'"
        :items="rooms"
        @update:model-value="prefer({ firstRoom: $event })"
      />
    </div>
    <p v-if="failure" class="failure" role="alert">{{ failure }}</p>
    <v-btn color="primary" @click="changing = true">{{ TEXTS.changePassword }}</v-btn>
    <FormDialog
      v-model="changing"
      :title="TEXTS.changePassword"
      :action="TEXTS.changePassword"
      :width="360"
      v-bind="password.dialog"
    >
      <v-text-field
        v-bind="password.field('password')"
        :label="TEXTS.currentPassword"
        type="password"
        autocomplete="current-password"
      />
      <v-text-field
        v-bind="password.field('next')"
        :label="TEXTS.newPasswordAtLeast10"
        type="password"
        autocomplete="new-password"
      />
    </FormDialog>
  </section>
</template>

<style scoped>
section {
  display: grid;
  gap: 6px;
  justify-items: start;
}
.fields {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 0 14px;
  width: 100%;
}
</style>
