<script setup lang="ts">
import { ref } from 'vue';
import { inWords } from '../shell/api.ts';
import { useSession } from './use-session.ts';

/** A session that ended under somebody's hands: they sign in, and what they typed goes on. */
const session = useSession();
const password = ref('');
const failure = ref('');
const busy = ref(false);

async function submit(): Promise<void> {
  const email = session.person?.email ?? '';
  busy.value = true;
  failure.value = '';
  try {
    await session.signIn(email, password.value);
    password.value = '';
    session.resume(true);
  } catch (error) {
    failure.value = inWords(error);
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <v-dialog :model-value="session.ended" persistent max-width="360">
    <form class="dialog-sheet" aria-labelledby="again-title" @submit.prevent="submit">
      <h2 id="again-title">Your session has ended</h2>
      <p>What you typed is still here. Sign in as {{ session.person?.name }} and it is saved.</p>
      <label for="again-password">Password</label>
      <input
        id="again-password"
        v-model="password"
        type="password"
        autocomplete="current-password"
        autofocus
        required
      />
      <p v-if="failure" class="failure" role="alert">{{ failure }}</p>
      <div class="buttons">
        <button class="primary" type="submit" :disabled="busy">Sign in and go on</button>
        <button class="plain" type="button" @click="session.resume(false)">Give it up</button>
      </div>
    </form>
  </v-dialog>
</template>
