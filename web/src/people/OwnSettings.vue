<script setup lang="ts">
import { sessionOperations, type Preferences } from '@dravex/contract';
import { computed, ref } from 'vue';
import { UNITS } from '../format/numbers.ts';
import FormDialog from '../kit/FormDialog.vue';
import { usePlan } from '../plan/use-plan.ts';
import { call } from '../shell/client.ts';
import { ROOMS } from '../shell/rooms.ts';
import { useFrame } from '../shell/use-frame.ts';
import { themeChoice } from '../shell/use-theme.ts';
import { useForm } from '../writing/use-form.ts';
import { useWriting } from '../writing/use-writing.ts';
import { useSession } from './use-session.ts';

/** What a person prefers, on every machine, and their password. */
const plan = usePlan();
const session = useSession();
const { formats } = useFrame();
const THEMES = [
  { value: 'light', name: 'Light' },
  { value: 'dark', name: 'Dark' },
  { value: 'system', name: 'System' },
];
/** Locales whose numbers and dates differ, each with what they look like. */
const LOCALES = ['en-IE', 'en-US', 'de-DE', 'de-CH', 'fr-FR', 'it-IT', 'es-ES', 'nl-NL', 'sv-SE'];
const locales = computed(() => [
  { value: null, name: `As in the workspace (${plan.workspace?.locale ?? ''})` },
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
    plan.said = { text: 'Your password is changed; your other sessions have ended' };
  },
});
</script>

<template>
  <section aria-labelledby="own-title">
    <h2 id="own-title">My preferences</h2>
    <div class="fields">
      <v-select
        label="Theme"
        :model-value="themeChoice"
        :items="THEMES"
        @update:model-value="prefer({ theme: $event })"
      />
      <v-select
        label="Number and date format"
        :model-value="session.preferences.locale ?? null"
        :items="locales"
        @update:model-value="prefer({ locale: $event ?? undefined })"
      />
      <v-select
        label="Unit"
        :model-value="session.preferences.unit ?? plan.workspace?.plan.unit ?? 1000"
        :items="units"
        @update:model-value="prefer({ unit: $event })"
      />
      <v-select
        label="First room"
        :model-value="session.preferences.firstRoom ?? 'standing'"
        :items="rooms"
        @update:model-value="prefer({ firstRoom: $event })"
      />
    </div>
    <p v-if="failure" class="failure" role="alert">{{ failure }}</p>
    <v-btn color="primary" @click="changing = true">Change password</v-btn>
    <FormDialog
      v-model="changing"
      title="Change password"
      action="Change password"
      :width="360"
      v-bind="password.dialog"
    >
      <v-text-field
        v-bind="password.field('password')"
        label="Current password"
        type="password"
        autocomplete="current-password"
      />
      <v-text-field
        v-bind="password.field('next')"
        label="New password, at least 10 characters"
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
