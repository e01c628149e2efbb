<script setup lang="ts">
import { computed } from 'vue';
import DialogSheet from '../kit/DialogSheet.vue';
import { useForm } from '../writing/use-form.ts';
import { TEXTS } from './texts.ts';
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
  <DialogSheet v-model="shown" :title="TEXTS.yourSessionHasEnded" :width="360" persistent>
    <form @submit.prevent="submit">
      <p>{{ TEXTS.nothingYouTypedIsLost(session.person?.name ?? '') }}</p>
      <v-text-field
        v-bind="field('password')"
        :label="TEXTS.password"
        type="password"
        autocomplete="current-password"
      />
      <v-text-field
        v-if="needsCode"
        v-bind="field('code')"
        :label="TEXTS.codeFromYourAuthenticatorOr"
        autocomplete="one-time-code"
      />
      <p v-if="failure" class="failure" role="alert">{{ failure }}</p>
      <div class="buttons">
        <v-btn color="primary" variant="flat" type="submit" :loading="busy">{{
          TEXTS.signIn
        }}</v-btn>
        <v-btn color="primary" @click="shown = false">{{ TEXTS.discardMyChanges }}</v-btn>
      </div>
    </form>
  </DialogSheet>
</template>
