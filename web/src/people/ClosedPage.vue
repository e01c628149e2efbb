<script setup lang="ts">
import { computed } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import EntrySheet from './EntrySheet.vue';
import SecondFactor from './SecondFactor.vue';
import { TEXTS } from './texts.ts';
import { useSession } from './use-session.ts';

/** In place of a workspace that asks for a second factor, for whoever has none yet. */
const session = useSession();
const route = useRoute();
const router = useRouter();
const id = computed(() => Number(route.params['id']));
const name = computed(
  () => session.session?.workspaces.find((one) => one.id === id.value)?.name ?? '',
);
const open = computed(() => session.session?.secondFactor ?? false);
const enter = (): Promise<unknown> => router.push(`/w/${id.value}/standing`);
async function leave(): Promise<void> {
  await session.signOut();
  await router.push('/sign-in');
}
</script>

<template>
  <EntrySheet :about="TEXTS.asksForSecondFactor(name)" @submit="enter">
    <SecondFactor />
    <v-btn v-if="open" type="submit" color="primary" variant="flat">{{ TEXTS.goTo(name) }}</v-btn>
    <v-btn color="primary" @click="leave">{{ TEXTS.signOut }}</v-btn>
  </EntrySheet>
</template>
