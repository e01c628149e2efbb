<script setup lang="ts">
import { computed } from 'vue';
import { useSession } from '../people/use-session.ts';
import { usePlan } from '../plan/use-plan.ts';
import { TEXTS } from './texts.ts';

const plan = usePlan();
const session = useSession();
const [workspace] = session.session?.workspaces ?? [];
const headline = computed(() => {
  if (!workspace) return TEXTS.youDoNotHaveWorkspace;
  return plan.failure || TEXTS.pageNotFound;
});
</script>

<template>
  <main class="nowhere">
    <h1>{{ headline }}</h1>
    <template v-if="workspace">
      <p class="quiet">{{ TEXTS.youMayNotHaveAccess }}</p>
      <RouterLink :to="`/w/${workspace.id}/standing`">{{
        TEXTS.goToOf(workspace.name)
      }}</RouterLink>
    </template>
    <RouterLink v-else to="/start">{{ TEXTS.createWorkspaceFromFileOf }}</RouterLink>
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
