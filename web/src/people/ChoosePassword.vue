<script setup lang="ts">
import { sessionOperations } from '@dravex/contract';
import { computed } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { useAnswer } from '../plan/use-answer.ts';
import { call } from '../shell/client.ts';
import { useForm } from '../writing/use-form.ts';
import EntrySheet from './EntrySheet.vue';
import { TEXTS } from './texts.ts';
import { useSession } from './use-session.ts';
import { useFirstFocus } from '../kit/use-first-focus.ts';

/** Where the link of an invitation or a reset leads: somebody chooses their own password. */
const route = useRoute();
const router = useRouter();
const session = useSession();
const token = computed(() => String(route.params['token']));
const { data: person, failure: unknown } = useAnswer([token], () =>
  call(sessionOperations.readPasswordLink, {}, { token: token.value }),
);
const { form, field, submit, busy, failure } = useForm({
  fresh: () => ({ password: '', again: '' }),
  schema: sessionOperations.choosePassword.body,
  body: ({ password }) => ({ token: token.value, password }),
  send: async (body) => {
    await call(sessionOperations.choosePassword, {}, body);
    // Whoever has a second factor signs in with it.
    await session.signIn(person.value?.email ?? '', body.password).catch(() => undefined);
  },
  done: () => router.replace(session.person ? '/' : '/sign-in'),
});
const same = computed(() => form.value.password === form.value.again);
useFirstFocus('firstField');
</script>

<template>
  <EntrySheet
    :about="person ? TEXTS.choosePasswordFor(person.name, person.email) : ''"
    @submit="same && submit()"
  >
    <p v-if="unknown" class="failure" role="alert">{{ unknown }}</p>
    <template v-else-if="person">
      <p class="quiet">{{ TEXTS.ifYouHaveSignedIn }}</p>
      <v-text-field
        v-bind="field('password')"
        ref="firstField"
        :label="TEXTS.passwordAtLeast10Characters"
        type="password"
        autocomplete="new-password"
      />
      <v-text-field
        v-bind="field('again')"
        :label="TEXTS.passwordAgain"
        type="password"
        autocomplete="new-password"
        :error-messages="form.again !== '' && !same ? [TEXTS.twoPasswordsDiffer] : []"
      />
      <p v-if="failure" class="failure" role="alert">{{ failure }}</p>
      <v-btn color="primary" variant="flat" type="submit" :loading="busy" :disabled="!same">
        {{ TEXTS.savePassword }}
      </v-btn>
    </template>
    <RouterLink to="/sign-in">{{ TEXTS.goToSignIn }}</RouterLink>
  </EntrySheet>
</template>
