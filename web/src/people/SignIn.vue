<script setup lang="ts">
import { signInSchema } from '@dravex/contract';
import { useRoute, useRouter } from 'vue-router';
import { useForm } from '../writing/use-form.ts';
import EntrySheet from './EntrySheet.vue';
import { TEXTS } from './texts.ts';
import { useCode } from './use-code.ts';
import { useSession } from './use-session.ts';
import { useFirstFocus } from '../kit/use-first-focus.ts';

const session = useSession();
const router = useRouter();
const route = useRoute();
const { needsCode, asking } = useCode();
const { field, submit, busy, failure } = useForm({
  fresh: () => ({ email: '', password: '', code: '' }),
  schema: signInSchema,
  send: ({ email, password, code }) => asking(() => session.signIn(email, password, code)),
  done: () => {
    const { next } = route.query;
    return router.replace(typeof next === 'string' && next.startsWith('/') ? next : '/');
  },
});
useFirstFocus('firstField');
</script>

<template>
  <EntrySheet :about="TEXTS.whatWeWillSellWho" @submit="submit">
    <v-text-field
      v-bind="field('email')"
      ref="firstField"
      :label="TEXTS.eMailAddress"
      type="email"
      autocomplete="username"
    />
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
      autofocus
    />
    <p v-if="failure" class="failure" role="alert">{{ failure }}</p>
    <v-btn color="primary" variant="flat" type="submit" :loading="busy">{{ TEXTS.signIn }}</v-btn>
  </EntrySheet>
</template>
