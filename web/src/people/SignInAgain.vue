<script setup lang="ts">
import { computed } from 'vue';
import DialogSheet from '../kit/DialogSheet.vue';
import { useForm } from '../writing/use-form.ts';
import { useCode } from './use-code.ts';
import { useSession } from './use-session.ts';

/** A session that ended under somebody's hands: they sign in, and what they typed goes on. */
const session = useSession();
const shown = computed({
  get: () => session.ended,
  set: (open) => {
    if (!open) session.resume(false);
  },
});
const { needsCode, asking } = useCode();
const { field, submit, busy, failure } = useForm({
  fresh: () => ({ password: '', code: '' }),
  send: async ({ password, code }) => {
    await asking(() => session.signIn(session.person?.email ?? '', password, code));
    // What waits in line goes on; everything else is behind it.
    session.resume(true);
  },
});
</script>

<template>
  <DialogSheet v-model="shown" title="Your session has ended" :width="360" persistent>
    <form @submit.prevent="submit">
      <p>Nothing you typed is lost. Sign in as {{ session.person?.name }} and it will be saved.</p>
      <v-text-field
        v-bind="field('password')"
        label="Password"
        type="password"
        autocomplete="current-password"
      />
      <v-text-field
        v-if="needsCode"
        v-bind="field('code')"
        label="Code from your authenticator, or a recovery code"
        autocomplete="one-time-code"
      />
      <p v-if="failure" class="failure" role="alert">{{ failure }}</p>
      <div class="buttons">
        <v-btn color="primary" variant="flat" type="submit" :loading="busy">Sign in</v-btn>
        <v-btn color="primary" @click="shown = false">Discard my changes</v-btn>
      </div>
    </form>
  </DialogSheet>
</template>
