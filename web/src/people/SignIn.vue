<script setup lang="ts">
import { signInSchema } from '@dravex/contract';
import { useRoute, useRouter } from 'vue-router';
import { useForm } from '../writing/use-form.ts';
import EntrySheet from './EntrySheet.vue';
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
  <EntrySheet about="What we will sell, who sells it, how we did." @submit="submit">
    <v-text-field
      v-bind="field('email')"
      ref="firstField"
      label="E-mail address"
      type="email"
      autocomplete="username"
    />
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
      autofocus
    />
    <p v-if="failure" class="failure" role="alert">{{ failure }}</p>
    <v-btn color="primary" variant="flat" type="submit" :loading="busy">Sign in</v-btn>
  </EntrySheet>
</template>
