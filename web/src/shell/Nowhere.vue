<script setup lang="ts">
import { usePlan } from '../plan/use-plan.ts';

const plan = usePlan();
</script>

<template>
  <main class="nowhere">
    <h1>{{ plan.failure || 'There is nothing at this address' }}</h1>
    <p class="quiet">The workspace may be somebody else’s, or the address was cut short.</p>
    <RouterLink to="/">Go to your first workspace</RouterLink>
  </main>
</template>

<style scoped>
.nowhere {
  padding: 20vh 12vw;
  display: grid;
  gap: 10px;
  justify-items: start;
}
</style>
