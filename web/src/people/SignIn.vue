<script setup lang="ts">
import { ref } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { inWords } from '../shell/api.ts';
import { useSession } from './use-session.ts';

const session = useSession();
const router = useRouter();
const route = useRoute();

const email = ref('');
const password = ref('');
const failure = ref('');
const busy = ref(false);

async function submit(): Promise<void> {
  busy.value = true;
  failure.value = '';
  try {
    await session.signIn(email.value, password.value);
    const { next } = route.query;
    await router.replace(typeof next === 'string' && next.startsWith('/') ? next : '/');
  } catch (error) {
    failure.value = inWords(error);
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <main class="sign-in">
    <form class="sheet" @submit.prevent="submit">
      <div class="name">
        <svg viewBox="0 0 64 24" aria-hidden="true">
          <path d="M0 14h38" class="bar" />
          <path d="M48 2v20" class="tick" />
        </svg>
        <h1>Dravex</h1>
      </div>
      <p class="quiet">What we will sell, who brings it, how we did.</p>
      <label for="email">E-mail address</label>
      <input id="email" v-model="email" type="email" autocomplete="username" required autofocus />
      <label for="password">Password</label>
      <input
        id="password"
        v-model="password"
        type="password"
        autocomplete="current-password"
        required
      />
      <p v-if="failure" class="failure" role="alert">{{ failure }}</p>
      <button class="primary" type="submit" :disabled="busy">Sign in</button>
    </form>
  </main>
</template>

<style scoped>
.sign-in {
  min-height: 100vh;
  display: grid;
  place-items: center;
  background: var(--paper);
}
.sheet {
  width: 340px;
  display: grid;
  gap: 6px;
  padding: 32px 32px 36px;
  background: var(--surface);
  border-top: 2px solid var(--ink);
}
.name {
  display: flex;
  align-items: center;
  gap: 12px;
}
h1 {
  font-size: 26px;
}
svg {
  width: 48px;
}
.bar {
  stroke: var(--harbour);
  stroke-width: 9;
}
.tick {
  stroke: var(--ember);
  stroke-width: 4;
}
.quiet {
  margin-bottom: 14px;
}
input {
  margin-bottom: 8px;
}
.primary {
  margin-top: 10px;
  justify-self: start;
}
</style>
