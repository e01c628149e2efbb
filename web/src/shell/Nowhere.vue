<script setup lang="ts">
import { computed } from 'vue';
import { useSession } from '../people/use-session.ts';
import { usePlan } from '../plan/use-plan.ts';

const plan = usePlan();
const session = useSession();
const [workspace] = session.session?.workspaces ?? [];
const headline = computed(() => {
  if (!workspace) return 'You do not have a workspace yet';
  return plan.failure || 'Page not found';
});
</script>

<template>
  <main class="nowhere">
    <h1>{{ headline }}</h1>
    <template v-if="workspace">
      <p class="quiet">You may not have access to the workspace, or the address is incomplete.</p>
      <RouterLink :to="`/w/${workspace.id}/standing`">Go to {{ workspace.name }}</RouterLink>
    </template>
    <RouterLink v-else to="/start">Create a workspace from a file of sales lines</RouterLink>
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
